// What moved between the frames of a bracket, so that each moving thing can come from one frame.
import { badParameter } from '../checks';
import { dilate, median, robustDeviation, tentSmooth, type Plane } from '../image';

/** One frame of a bracket, small and in place. */
export interface MotionFrame {
  /** Encoded luma 0..1; negative where the frame has no picture. */
  readonly luma: Plane;
  /** Exposure against the reference, EV. */
  readonly ev: number;
  /** Standard deviation of the noise in the small plane, encoded. */
  readonly noise: number;
}

export interface MotionMasks {
  /** Per frame its share 0..1 by cell: 1 wherever nothing moved, else 1 for the frame that a place comes from and 0 for others. */
  readonly shares: readonly Plane[];
  /** Share of the picture in which something moved. */
  readonly moving: number;
}

/** Brightness is told apart in so many steps. */
const BINS = 48;
const FEWEST_IN_BIN = 24;
/** A change of encoded value smaller than this is flicker. */
const LEAST_CHANGE = 0.022;
const SPREAD_TIMES = 4;
/** Where more than this is usual in a band of brightness, much of it has moved. */
const MOST_SPREAD = 0.06;
/** What surrounds a change belongs to it: the thing's soft rim. */
const RIM_CELLS = 3;
const FEATHER_CELLS = 1;
const [SHADOW_CLIPPED, HIGHLIGHT_CLIPPED] = [0.03, 0.95];

/**
 * Leaves a frame out wherever it contradicts the reference, and of two frames that contradict each other the one that is exposed worse.
 * How one frame's values follow from another's is learnt from the pictures themselves, so that no tone curve need be known
 * (M. D. Grossberg and S. K. Nayar, IEEE PAMI 25(11), 2003); a place where they do not follow has changed.
 * @param frames equal sizes
 * @param reference index of the frame whose moment the merge shows
 * @throws ParameterError when sizes differ
 * Cost: some 100 ns per cell and pair of frames.
 */
export function findMotion(frames: readonly MotionFrame[], reference: number): MotionMasks {
  const { width, height } = frames[0]!.luma;
  const odd = frames.findIndex((f) => f.luma.width !== width || f.luma.height !== height);
  if (odd >= 0) throw badParameter(`findMotion.frames.${odd}.luma`, `${width} × ${height} cells`, [odd]);
  const size = width * height;
  const shares = frames.map(() => new Float32Array(size).fill(1));
  const moved = new Uint8Array(size);
  const leaveOut = (k: number, mask: Uint8Array, unless: (cell: number) => boolean): void => {
    for (let i = 0; i < size; i++) {
      if (!mask[i] || unless(i)) continue;
      shares[k]![i] = 0;
      moved[i] = 1;
    }
  };
  frames.forEach((f, k) => {
    if (k !== reference) leaveOut(k, whole(changesBetween(f, frames[reference]!), width, height), () => false);
  });
  const order = frames.map((_, k) => k).sort((a, b) => frames[a]!.ev - frames[b]!.ev);
  for (let n = 1; n < order.length; n++) {
    const [a, b] = [order[n - 1]!, order[n]!];
    if (a === reference || b === reference) continue;
    const mask = whole(changesBetween(frames[a]!, frames[b]!), width, height);
    const worse = (k: number, than: number, i: number): boolean =>
      poorness(frames[k]!.luma.data[i]!) > poorness(frames[than]!.luma.data[i]!);
    leaveOut(a, mask, (i) => shares[b]![i] === 0 || !worse(a, b, i));
    leaveOut(b, mask, (i) => shares[a]![i] === 0 || worse(a, b, i));
  }
  const moving = moved.reduce((s, v) => s + v, 0);
  return {
    shares: shares.map((data) => {
      const plane = { width, height, data };
      return moving === 0 ? plane : tentSmooth(plane, FEATHER_CELLS);
    }),
    moving: moving / size,
  };
}

/** Changes as things: single cells are noise or an edge that lies a fraction of a pixel off; what is left gets its rim. */
function whole(data: Uint8Array, width: number, height: number): Uint8Array {
  return dilate(dilate({ width, height, data }, -1), 1 + RIM_CELLS).data;
}

/** How badly exposed a value is. */
function poorness(v: number): number {
  return (v - 0.5) ** 2 + (v > HIGHLIGHT_CLIPPED || v < SHADOW_CLIPPED ? 1 : 0);
}

/** 1 where the brighter frame's value does not follow from the darker one's. */
function changesBetween(a: MotionFrame, b: MotionFrame): Uint8Array {
  const [darker, brighter] = a.ev <= b.ev ? [a, b] : [b, a];
  const p = darker.luma.data;
  const q = brighter.luma.data;
  const binOf = (v: number): number => Math.min(BINS - 1, Math.floor(v * BINS));
  const gather = (value: (i: number) => number): number[][] => {
    const bins = Array.from({ length: BINS }, (): number[] => []);
    for (let i = 0; i < p.length; i++) if (p[i]! >= 0 && q[i]! >= 0) bins[binOf(p[i]!)]!.push(value(i));
    return bins;
  };
  const middle = gather((i) => q[i]!).map((values) => (values.length >= FEWEST_IN_BIN ? median(values) : NaN));
  const expected = (v: number): number => {
    const at = Math.min(BINS - 1.001, Math.max(0, v * BINS - 0.5));
    const n = Math.floor(at);
    const [low, high] = [middle[n]!, middle[n + 1]!];
    return Number.isNaN(low) ? high : Number.isNaN(high) ? low : low + (at - n) * (high - low);
  };
  // What is left within a bin is noise, of both frames, and edges that lie a fraction of a pixel off.
  const spread = gather((i) => q[i]! - expected(p[i]!)).map((values) =>
    values.length >= FEWEST_IN_BIN ? robustDeviation(values) : 0,
  );
  const out = new Uint8Array(p.length);
  for (let i = 0; i < p.length; i++) {
    if (p[i]! < 0 || q[i]! < 0) continue;
    const usual = Math.max(brighter.noise, Math.min(MOST_SPREAD, spread[binOf(p[i]!)] || 0));
    // Comparing with what is not known (NaN) is false.
    if (Math.abs(q[i]! - expected(p[i]!)) > LEAST_CHANGE + SPREAD_TIMES * usual) out[i] = 1;
  }
  return out;
}
