// Which way is up in a panorama: from how the camera was held, and from things that stand upright.
import { median, type Plane } from '../image';
import { cross, directionAcross, dot, transposed, turn, unit, type Vector3 } from './rotations';
import { frameRay, type LensView, type Matrix3 } from '../frame';

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
  /** Share of all steep edges that stand upright within half a degree, beyond chance; 0 where the camera's attitude alone decided. */
  readonly support: number;
}

/** Edges within this of upright count, falling off. */
const NARROW = Math.sin((0.6 * Math.PI) / 180);
/** Upright edges must be this share of the steep ones, beyond chance, to be believed. */
const LEAST_SUPPORT = 0.03;
const EDGES_PER_FRAME = 2000;
/** How far the direction may lie from how the camera was held, degrees: pitch (about its x axis) and roll. */
const REACH = { turned: { pitch: 5, roll: 5 }, tilted: { pitch: 45, roll: 8 } } as const;
const COARSE_DEG = 0.6;
const FINE_DEG = 0.06;
/** Standard deviation of how far a set's middle is tilted. */
const LIKELY_DEG = 14;

/**
 * Finds the upright direction. Cameras turned about the upright axis have their horizontal axes in one plane (Brown and Lowe 2007);
 * edges of masts, walls and trunks lie in planes through the upright direction, which sharpens it (and decides, where the camera was
 * not turned sideways).
 * @param frames at least one
 * Cost: about 50 ns per px of the luma, and some thousand passes over some thousand edges per frame: a second or two.
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
  const reach = turnedSideways ? REACH.turned : REACH.tilted;
  const coarse = searchTilt(edges, held, xAxes[0]!, [0, 0], reach.pitch, reach.roll, COARSE_DEG);
  const fine = searchTilt(edges, held, xAxes[0]!, coarse.tilt, COARSE_DEG, COARSE_DEG, FINE_DEG);
  const total = edges.reduce((s, e) => s + e.weight, 0);
  const support = total > 0 ? Math.max(0, (fine.score - coarse.usual) / total) : 0;
  return support >= LEAST_SUPPORT ? { down: tilted(held, xAxes[0]!, fine.tilt), support } : { down: held, support: 0 };
}

interface Edge {
  /** Normal of the plane through the camera and the edge, world. */
  readonly normal: Vector3;
  readonly weight: number;
}

type Tilt = readonly [pitchDeg: number, rollDeg: number];

/** The tilt by which most edges stand upright; `usual` is what a tilt at random gets. */
function searchTilt(
  edges: readonly Edge[],
  held: Vector3,
  axis: Vector3,
  [pitch0, roll0]: Tilt,
  pitchReach: number,
  rollReach: number,
  stepDeg: number,
): { tilt: Tilt; score: number; usual: number } {
  const scores: number[] = [];
  const tilts: Tilt[] = [];
  for (let p = -pitchReach; p <= pitchReach + 1e-9; p += stepDeg) {
    for (let r = -rollReach; r <= rollReach + 1e-9; r += stepDeg) {
      const tilt = [pitch0 + p, roll0 + r] as const;
      const score = uprightWeight(edges, tilted(held, axis, tilt));
      scores.push(score);
      tilts.push(tilt);
    }
  }
  const usual = median(scores);
  let best: { tilt: Tilt; score: number } = { tilt: [pitch0, roll0], score: -1 };
  // Towers taper and trunks lean: the farther from how the camera was held, the more edges must agree.
  tilts.forEach((tilt, n) => {
    const likely = Math.exp(-(tilt[0] ** 2 + tilt[1] ** 2) / (2 * LIKELY_DEG ** 2));
    const score = usual + likely * (scores[n]! - usual);
    if (score > best.score) best = { tilt, score };
  });
  return { ...best, usual };
}

function uprightWeight(edges: readonly Edge[], [x, y, z]: Vector3): number {
  let sum = 0;
  for (const { normal, weight } of edges) {
    const q = (normal[0] * x + normal[1] * y + normal[2] * z) / NARROW;
    if (q < 1 && q > -1) sum += weight * (1 - q * q);
  }
  return sum;
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

/** A direction tilted about the camera's x axis, then across it. */
function tilted(down: Vector3, axis: Vector3, [pitchDeg, rollDeg]: Tilt): Vector3 {
  const [p, r] = [(pitchDeg * Math.PI) / 180, (rollDeg * Math.PI) / 180];
  const across = cross(axis, down);
  const along = (k: 0 | 1 | 2): number =>
    Math.cos(p) * Math.cos(r) * down[k] + Math.sin(p) * across[k] + Math.sin(r) * axis[k];
  return unit([along(0), along(1), along(2)]);
}

function sum(vectors: readonly Vector3[]): Vector3 {
  return vectors.reduce<Vector3>((s, v) => [s[0] + v[0], s[1] + v[1], s[2] + v[2]], [0, 0, 0]);
}

function negated(v: Vector3): Vector3 {
  return [-v[0], -v[1], -v[2]];
}
