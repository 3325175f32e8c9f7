// Which way is up in a panorama: from how the camera was held, and from things that stand upright.
import type { Plane } from '../image';
import { frameRay, type LensView, type Matrix3 } from '../image';
import { cross, directionAcross, dot, transposed, turn, unit, type Vector3 } from './rotations';

/** A frame as it looks for upright edges. */
export interface UprightFrame {
  /** Luma, some hundred px long. */
  readonly luma: Plane;
  /** Full-size px per px of the luma. */
  readonly unit: number;
  readonly lens: LensView;
  readonly focalPx: number;
  /** World → camera. */
  readonly rotation: Matrix3;
}

export interface Upright {
  /** World direction that points down. */
  readonly down: Vector3;
  /** Share of the steep edges that stand upright within half a degree; 0 where the camera's attitude alone decided. */
  readonly support: number;
}

/** Edges within this of upright vote in the end. */
const NARROW = Math.sin((0.6 * Math.PI) / 180);
const WIDE = Math.sin((15 * Math.PI) / 180);
/** Upright edges must be this share of the steep ones to be believed. */
const LEAST_SUPPORT = 0.12;
const EDGES_PER_FRAME = 2500;
/** Pitches that are tried when the camera was not turned about the upright axis. */
const PITCHES_DEG = [-40, -30, -20, -10, 0, 10, 20, 30, 40];

/**
 * Finds the upright direction. Cameras turned about the upright axis have their horizontal axes in one plane (Brown and Lowe 2007);
 * edges of masts, walls and trunks lie in planes through the upright direction, which sharpens it (and decides, where the camera was
 * not turned sideways).
 * @param frames at least one
 * Cost: about 50 ns per px of the luma, and 30 passes over some thousand edges per frame.
 */
export function findUpright(frames: readonly UprightFrame[]): Upright {
  const xAxes = frames.map((f) => turn(transposed(f.rotation), [1, 0, 0]));
  const mean = unit(sum(frames.map((f) => turn(transposed(f.rotation), [0, 1, 0]))));
  const spread = Math.max(...xAxes.map((x) => Math.acos(Math.min(1, Math.abs(dot(x, xAxes[0]!))))));
  const turnedSideways = spread > (8 * Math.PI) / 180;
  const across = directionAcross(
    xAxes,
    xAxes.map(() => 1),
  );
  const held = turnedSideways ? (dot(across, mean) < 0 ? negated(across) : across) : mean;
  const edges = frames.flatMap(steepEdges);
  const starts = turnedSideways ? [held] : PITCHES_DEG.map((deg) => pitched(held, xAxes[0]!, (deg * Math.PI) / 180));
  let best: Upright = { down: held, support: 0 };
  for (const start of starts) {
    const found = settle(edges, start);
    if (found.support > best.support) best = found;
  }
  return best.support >= LEAST_SUPPORT ? best : { down: held, support: 0 };
}

interface Edge {
  /** Normal of the plane through the camera and the edge, world. */
  readonly normal: Vector3;
  readonly weight: number;
}

function settle(edges: readonly Edge[], start: Vector3): Upright {
  let down = start;
  for (let width = WIDE; ; width = Math.max(NARROW, width * 0.72)) {
    const weights = edges.map(({ normal, weight }) => {
      const q = dot(normal, down) / width;
      return q * q >= 1 ? 0 : weight * (1 - q * q) ** 2;
    });
    if (!weights.some((w) => w > 0)) return { down: start, support: 0 };
    const next = directionAcross(
      edges.map((e) => e.normal),
      weights,
    );
    down = dot(next, down) < 0 ? negated(next) : next;
    if (width === NARROW) break;
  }
  const steep = edges.filter((e) => Math.abs(dot(e.normal, down)) < WIDE);
  const total = steep.reduce((s, e) => s + e.weight, 0);
  const upright = steep.reduce((s, e) => s + (Math.abs(dot(e.normal, down)) < NARROW ? e.weight : 0), 0);
  // Edges at random would fill the narrow part by chance.
  const chance = NARROW / WIDE;
  return { down, support: total > 0 ? Math.max(0, (upright / total - chance) / (1 - chance)) : 0 };
}

/** Edge points whose edge runs within 45° of the frame's own vertical, the strongest ones, as planes in the world. */
function steepEdges(frame: UprightFrame): Edge[] {
  const { luma, unit: px, lens, focalPx, rotation } = frame;
  const { width, height, data } = luma;
  const found: { x: number; y: number; gx: number; gy: number; strength: number }[] = [];
  for (let y = 2; y < height - 2; y++) {
    for (let x = 2; x < width - 2; x++) {
      const i = y * width + x;
      const gx =
        data[i + 1]! -
        data[i - 1]! +
        0.5 * (data[i + 1 - width]! - data[i - 1 - width]! + data[i + 1 + width]! - data[i - 1 + width]!);
      const gy =
        data[i + width]! -
        data[i - width]! +
        0.5 * (data[i + width - 1]! - data[i - width - 1]! + data[i + width + 1]! - data[i - width + 1]!);
      if (Math.abs(gy) > Math.abs(gx)) continue;
      const strength = gx * gx + gy * gy;
      if (strength > 4e-3) found.push({ x: x + 0.5, y: y + 0.5, gx, gy, strength });
    }
  }
  found.sort((a, b) => b.strength - a.strength);
  const back = transposed(rotation);
  return found.slice(0, EDGES_PER_FRAME).map(({ x, y, gx, gy, strength }) => {
    const ray = (u: number, v: number): Vector3 => {
      const [a, b] = frameRay(lens, u * px, v * px);
      return [a, b, focalPx];
    };
    const length = Math.sqrt(strength);
    const normal = cross(
      ray(x - (2 * gy) / length, y + (2 * gx) / length),
      ray(x + (2 * gy) / length, y - (2 * gx) / length),
    );
    return { normal: turn(back, unit(normal)), weight: Math.min(1, length) };
  });
}

function pitched(down: Vector3, axis: Vector3, angle: number): Vector3 {
  const across = cross(axis, down);
  return unit([0, 1, 2].map((k) => Math.cos(angle) * down[k]! + Math.sin(angle) * across[k]!) as unknown as Vector3);
}

function sum(vectors: readonly Vector3[]): Vector3 {
  return vectors.reduce<Vector3>((s, v) => [s[0] + v[0], s[1] + v[1], s[2] + v[2]], [0, 0, 0]);
}

function negated(v: Vector3): Vector3 {
  return [-v[0], -v[1], -v[2]];
}
