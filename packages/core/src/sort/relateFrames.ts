// How one frame's view lies to another's: the same view, a neighbouring one that overlaps, or another scene.
import { boxSmooth } from '../image';
import type { FrameSummary } from './frameSummary';

export interface Relation {
  /** Where the second frame's view lies from the first's, as shares of the first's width and height; y down. */
  readonly dx: number;
  readonly dy: number;
  /** Likeness of what both show, −1..1. */
  readonly correlation: number;
  /** Share of the frame that both show. */
  readonly overlap: number;
}

/** Frames that overlap by less than this cannot be told from strangers. */
const LEAST_OVERLAP = 0.1;
const CANDIDATES = 6;
const FINALISTS = 2;

interface Level {
  readonly width: number;
  readonly height: number;
  /** Light without its slow part, and whether it counts. */
  readonly data: Float32Array;
  readonly valid: Uint8Array;
}

/** Levels of a frame, small to large; made once per frame. */
export type Pyramid = readonly Level[];

/**
 * Prepares a frame for being related to others.
 * @param focal focal length as a share of the frame's longer side: the view is laid on a cylinder, on which turning the camera
 * only shifts it; null leaves it flat
 */
export function makePyramid(summary: FrameSummary, focal: number | null = null): Pyramid {
  const known = PYRAMIDS.get(summary) ?? new Map<number | null, Pyramid>();
  PYRAMIDS.set(summary, known);
  const pyramid = known.get(focal) ?? buildPyramid(summary, focal);
  known.set(focal, pyramid);
  return pyramid;
}

// Grouping and several checks ask the same of the same frames: what was found once is kept as long as the summary itself.
const PYRAMIDS = new WeakMap<FrameSummary, Map<number | null, Pyramid>>();
const RELATIONS = new WeakMap<Pyramid, WeakMap<Pyramid, Relation>>();

function buildPyramid(summary: FrameSummary, focal: number | null): Pyramid {
  const { width, height } = summary;
  const { light, valid } = focal === null ? summary : ontoCylinder(summary, focal);
  const top = { width, height, data: flatten(light, valid, width, height), valid };
  const middle = halve(top);
  return [halve(middle), middle, top];
}

/**
 * Finds how the second frame lies to the first, by the likeness of their light without slow changes: exposure, light drift
 * and vignetting do not matter, focus little.
 * @returns the best placement; its correlation tells whether it means anything
 */
export function relateFrames(a: Pyramid, b: Pyramid): Relation {
  const known = RELATIONS.get(a) ?? new WeakMap<Pyramid, Relation>();
  RELATIONS.set(a, known);
  const relation = known.get(b) ?? findRelation(a, b);
  known.set(b, relation);
  return relation;
}

function findRelation(a: Pyramid, b: Pyramid): Relation {
  const { width, height } = a[1]!;
  const tried = candidates(a[0]!, b[0]!)
    .map(([x, y]) => {
      const [mx, my, correlation] = climb(a[1]!, b[1]!, 2 * x, 2 * y, 2);
      return { mx, my, correlation, score: scoreOf(correlation, overlapOf(width, height, b[1]!, mx, my)) };
    })
    .sort((p, q) => q.score - p.score)
    .slice(0, FINALISTS);
  let best: Relation = { dx: 0, dy: 0, correlation: -1, overlap: 1 };
  for (const { mx, my, correlation: middle } of tried) {
    const top = a[2]!;
    const [fx, fy, fine] = climb(top, b[2]!, 2 * mx, 2 * my, 1);
    const overlap = overlapOf(top.width, top.height, b[2]!, fx, fy);
    // Defocus takes the finest scale away first: the better of two scales counts.
    const correlation = Math.max(fine, middle);
    if (scoreOf(correlation, overlap) > scoreOf(best.correlation, best.overlap))
      best = { dx: fx / top.width, dy: fy / top.height, correlation, overlap };
  }
  return best;
}

/**
 * Likeness of two frames of one view where a mask leaves them, moved by a little at most.
 * @param mask of the small view; marked places do not count
 */
export function likenessOutside(a: Pyramid, b: Pyramid, mask: Uint8Array): number {
  const top = a[2]!;
  const open = { ...top, valid: top.valid.map((v, i) => (v && !mask[i] ? 1 : 0)) };
  return climb(halve(open), b[1]!, 0, 0, 4)[2];
}

/** Likeness counts for more where more is shared. */
function scoreOf(correlation: number, overlap: number): number {
  return correlation * overlap ** 0.25;
}

/** Nearest samples of the view on a cylinder about the vertical axis, in the middle as large as before. */
function ontoCylinder(
  { width, height, light, valid }: FrameSummary,
  focal: number,
): Pick<FrameSummary, 'light' | 'valid'> {
  const f = focal * Math.max(width, height);
  const out = new Float32Array(width * height);
  const mask = new Uint8Array(width * height);
  for (let x = 0; x < width; x++) {
    const angle = (x + 0.5 - width / 2) / f;
    const sx = Math.floor(width / 2 + f * Math.tan(angle));
    if (Math.abs(angle) > 1.4 || sx < 0 || sx >= width) continue;
    for (let y = 0; y < height; y++) {
      const sy = Math.floor(height / 2 + (y + 0.5 - height / 2) / Math.cos(angle));
      if (sy < 0 || sy >= height) continue;
      out[y * width + x] = light[sy * width + sx]!;
      mask[y * width + x] = valid[sy * width + sx]!;
    }
  }
  return { light: out, valid: mask };
}

/** Promising placements at the smallest level, all of them tried. */
function candidates(a: Level, b: Level): (readonly [number, number])[] {
  const found: { x: number; y: number; score: number }[] = [];
  for (let y = -a.height + 2; y < a.height - 1; y++) {
    for (let x = -a.width + 2; x < a.width - 1; x++) {
      const overlap = overlapOf(a.width, a.height, b, x, y);
      if (overlap < LEAST_OVERLAP) continue;
      // Few pixels are alike by chance: their likeness counts for less.
      found.push({ x, y, score: correlate(a, b, x, y) * Math.sqrt(overlap) });
    }
  }
  found.sort((p, q) => q.score - p.score);
  const kept: { x: number; y: number }[] = [{ x: 0, y: 0 }];
  for (const { x, y } of found) {
    if (kept.length > CANDIDATES) break;
    if (kept.every((k) => Math.abs(k.x - x) + Math.abs(k.y - y) > 2)) kept.push({ x, y });
  }
  return kept.map(({ x, y }) => [x, y] as const);
}

/** Best placement within a few px of a start. */
function climb(a: Level, b: Level, x0: number, y0: number, reach: number): readonly [number, number, number] {
  let best: readonly [number, number, number] = [x0, y0, -1];
  for (let y = y0 - reach; y <= y0 + reach; y++) {
    for (let x = x0 - reach; x <= x0 + reach; x++) {
      const c = correlate(a, b, x, y);
      if (c > best[2]) best = [x, y, c];
    }
  }
  return best;
}

function overlapOf(width: number, height: number, b: { width: number; height: number }, x: number, y: number): number {
  const w = Math.min(width, b.width + x) - Math.max(0, x);
  const h = Math.min(height, b.height + y) - Math.max(0, y);
  return w <= 0 || h <= 0 ? 0 : (w * h) / (width * height);
}

/** Correlation of what both show when b's origin lies at (x, y) of a; −1 when they share too little. */
function correlate(a: Level, b: Level, x: number, y: number): number {
  const x0 = Math.max(0, x);
  const x1 = Math.min(a.width, b.width + x);
  const y0 = Math.max(0, y);
  const y1 = Math.min(a.height, b.height + y);
  let n = 0;
  let [sa, sb, saa, sbb, sab] = [0, 0, 0, 0, 0];
  for (let j = y0; j < y1; j++) {
    let i = j * a.width + x0;
    let k = (j - y) * b.width + x0 - x;
    for (let c = x0; c < x1; c++, i++, k++) {
      if (!(a.valid[i]! & b.valid[k]!)) continue;
      const va = a.data[i]!;
      const vb = b.data[k]!;
      n += 1;
      sa += va;
      sb += vb;
      saa += va * va;
      sbb += vb * vb;
      sab += va * vb;
    }
  }
  if (n < 0.04 * a.width * a.height) return -1;
  const va = saa - (sa * sa) / n;
  const vb = sbb - (sb * sb) / n;
  return va <= 1e-9 || vb <= 1e-9 ? -1 : (sab - (sa * sb) / n) / Math.sqrt(va * vb);
}

/** Takes the slow part away: what lies within a frame, not how bright a side of it is. */
function flatten(light: Float32Array, valid: Uint8Array, width: number, height: number): Float32Array {
  const weight = Float32Array.from(valid);
  const radius = Math.max(2, Math.round(width / 10));
  const weighted = light.map((v, i) => v * weight[i]!);
  const sum = boxSmooth({ width, height, data: weighted }, radius).data;
  const total = boxSmooth({ width, height, data: weight }, radius).data;
  return light.map((v, i) => (total[i]! > 0 ? v - sum[i]! / total[i]! : 0));
}

function halve({ width, height, data, valid }: Level): Level {
  const w = width >> 1;
  const h = height >> 1;
  const out = new Float32Array(w * h);
  const mask = new Uint8Array(w * h);
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      let n = 0;
      let sum = 0;
      for (const i of [0, 1, width, width + 1]) {
        const at = 2 * y * width + 2 * x + i;
        if (!valid[at]!) continue;
        n += 1;
        sum += data[at]!;
      }
      out[y * w + x] = n > 0 ? sum / n : 0;
      mask[y * w + x] = n >= 2 ? 1 : 0;
    }
  }
  return { width: w, height: h, data: out, valid: mask };
}
