// Whether a dark spot stays on the sensor or moves with the scene: the same thing told by double differences between frames.
import { frameToMerge, mergeToFrame, type FrameGeometry } from '../../frame';
import { STEPS, dipsOfDisc, type DipMap } from './dipMaps';

/** All frames as maps of one radius, and where they lie. */
export interface PlacedDips {
  readonly maps: readonly DipMap[];
  readonly geometries: readonly FrameGeometry[];
  /** Full-size px per px that the maps were made of. */
  readonly unitPx: number;
}

/** What stays on the sensor at a place, with the scene taken out. */
export interface Staying {
  /** Share of light that is missing in its middle. */
  readonly depth: number;
  /** Standard deviation of that share; infinite where no frames tell, as when nothing moved. */
  readonly deviation: number;
}

/** Half the side of the window that is compared, in radii. */
const WINDOW = 2;
/** Frames that differ by less than this share of a radius tell nothing. */
const LEAST_MOVED = 0.1;
/** Places that are compared lie about so many radii apart. */
const EVERY_RADII = 0.5;
/** Places closer than this, in radii, share most of what they average: they count as one. */
const SHARED_RADII = 1.22;
/** No pair of frames agrees better than this, as a share of light: rounding and what interpolation leaves. */
const LEAST_MISFIT = 0.006;
const ROUNDS = 3;

/**
 * Fits `D_k(u) = A t(u) + S(u moved with the scene)` by least squares over pairs of frames, D being how dark frame k is around u and t what a disc
 * would show; S falls out of the difference of two frames at one place of the scene, which leaves `A (t(u) - t(u + move))`. A scene's own
 * dot gives A = 0 however dark it is.
 * @param x, y place on the sensor, full-size px
 * @param isQuick whether each frame is compared with the next one only; default all with all
 */
export function stayingAt({ maps, geometries, unitPx }: PlacedDips, x: number, y: number, isQuick = false): Staying {
  const { everyPx, radiusPx } = maps[0]!;
  const toMap = (v: number): number => (v / unitPx - 0.5) / everyPx;
  const radius = radiusPx / everyPx;
  // A place of the map itself: its own px, not that of what it was rounded from.
  const [cx, cy] = [Math.round(toMap(x)), Math.round(toMap(y))];
  const toPx = (cell: number): number => (cell * everyPx + 0.5) * unitPx;
  const stride = Math.max(1, Math.round(EVERY_RADII * radius));
  const window: Window = {
    x: cx,
    y: cy,
    radius,
    stride,
    steps: Math.round((WINDOW * radius) / stride),
  };
  const pairs: Pair[] = [];
  maps.forEach((a, k) => {
    const corners = cornersOf(geometries[k]!, toPx(cx), toPx(cy), radiusPx * unitPx);
    if (!corners) return;
    const [from, to] = isQuick ? [k + 1, Math.min(k + 2, maps.length)] : [0, maps.length];
    for (let l = from; l < to; l++) {
      const move = l === k ? null : moveBetween(corners, geometries[l]!, toMap);
      const pair = move && comparePair(a, maps[l]!, window, move);
      if (pair) pairs.push(pair);
    }
  });
  return solve(pairs, maps.length, (SHARED_RADII * radius) / stride);
}

/** Places of a map that are compared: (2 steps + 1)² of them, so many places apart. */
interface Window {
  readonly x: number;
  readonly y: number;
  /** Radius of the disc, places of the map. */
  readonly radius: number;
  readonly stride: number;
  readonly steps: number;
}

interface Pair {
  /** Differences of the two frames at one place of the scene, as shares of light. */
  readonly differences: Float32Array;
  /** What a disc of depth 1 would leave there. */
  readonly expected: Float32Array;
}

type Corner = readonly [number, number];

/** A place and two beside it, in the merge. */
function cornersOf(geometry: FrameGeometry, x: number, y: number, step: number): [Corner, Corner, Corner] | null {
  const at = frameToMerge(geometry, x, y);
  const right = frameToMerge(geometry, x + step, y);
  const below = frameToMerge(geometry, x, y + step);
  return at && right && below ? [at, right, below] : null;
}

/** Where the scene that one frame shows around a place lies in another: places of the map, per place of the first. */
interface Move {
  readonly middle: Corner;
  readonly right: Corner;
  readonly below: Corner;
}

function moveBetween(
  corners: readonly [Corner, Corner, Corner],
  geometry: FrameGeometry,
  toMap: (v: number) => number,
): Move | null {
  const [middle, right, below] = corners.map(([u, v]): Corner | null => {
    const at = mergeToFrame(geometry, u, v);
    return at && [toMap(at[0]), toMap(at[1])];
  });
  return middle && right && below ? { middle, right, below } : null;
}

/** Null where they are not both seen, or have hardly moved. */
function comparePair(a: DipMap, b: DipMap, window: Window, { middle, right, below }: Move): Pair | null {
  const { x, y, radius, stride, steps } = window;
  if (Math.hypot(middle[0] - x, middle[1] - y) < LEAST_MOVED * radius) return null;
  const side = 2 * steps + 1;
  const differences = new Float32Array(side * side);
  const expected = new Float32Array(side * side);
  for (let j = -steps, n = 0; j <= steps; j++) {
    for (let i = -steps; i <= steps; i++, n++) {
      const [dx, dy] = [i * stride, j * stride];
      const [along, down] = [dx / radius, dy / radius];
      const u = middle[0] + along * (right[0] - middle[0]) + down * (below[0] - middle[0]);
      const v = middle[1] + along * (right[1] - middle[1]) + down * (below[1] - middle[1]);
      const here = valueAt(a, x + dx, y + dy);
      const there = valueAt(b, u, v);
      if (Number.isNaN(there) || Number.isNaN(here)) return null;
      differences[n] = (here - there) / STEPS;
      expected[n] = dipsOfDisc(Math.hypot(dx, dy) / radius) - dipsOfDisc(Math.hypot(u - x, v - y) / radius);
    }
  }
  return { differences, expected };
}

/** A map between its places; NaN outside it. */
function valueAt({ width, height, dips }: DipMap, x: number, y: number): number {
  const [x0, y0] = [Math.floor(x), Math.floor(y)];
  if (!(x0 >= 0 && y0 >= 0 && x0 < width - 1 && y0 < height - 1)) return NaN;
  const [fx, fy] = [x - x0, y - y0];
  const i = y0 * width + x0;
  const above = dips[i]! + fx * (dips[i + 1]! - dips[i]!);
  const beneath = dips[i + width]! + fx * (dips[i + width + 1]! - dips[i + width]!);
  return above + fy * (beneath - above);
}

/**
 * Pairs that agree well count most: a place out of focus in one frame and sharp in the other tells little.
 * @param shared side of the square, in places that are compared, of those that count as one
 */
function solve(pairs: readonly Pair[], frames: number, shared: number): Staying {
  let depth = 0;
  let weight = 0;
  let weights = pairs.map(() => 1);
  for (let round = 0; round < ROUNDS; round++) {
    let sum = 0;
    weight = 0;
    pairs.forEach(({ differences, expected }, p) => {
      for (let i = 0; i < expected.length; i++) {
        sum += weights[p]! * differences[i]! * expected[i]!;
        weight += weights[p]! * expected[i]! * expected[i]!;
      }
    });
    if (weight === 0) return { depth: 0, deviation: Infinity };
    depth = sum / weight;
    weights = pairs.map(({ differences, expected }) => {
      let rest = 0;
      for (let i = 0; i < expected.length; i++) rest += (differences[i]! - depth * expected[i]!) ** 2;
      return 1 / Math.max(LEAST_MISFIT * LEAST_MISFIT, rest / expected.length);
    });
  }
  // n frames are n - 1 differences, however often they are paired.
  const repeated = Math.max(1, shared * shared) * Math.max(1, pairs.length / (frames - 1));
  return { depth, deviation: Math.sqrt(repeated / weight) };
}
