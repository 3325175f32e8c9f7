// The edge probe: a segment drawn across an edge, and the merge's profile there against each frame's.
import { median } from '../image';
import type { Strip } from './sampleStrip';

/** A profile across an edge, encoded luma per px. */
export interface EdgeShape {
  /** Levels before and after the edge, encoded. */
  readonly before: number;
  readonly after: number;
  /** Distance over which it goes from a tenth to nine tenths of the step, px. */
  readonly widthPx: number;
  /** Where it is half way, px from the segment's beginning. */
  readonly at: number;
}

/** A band beside the edge that is lighter or darker in the merge than in the sharpest frame. */
export interface HaloBand {
  readonly side: 'before' | 'after';
  /** Most of it, in % of the edge's step; above 0 lighter. */
  readonly heightPercent: number;
  /** Length over which it is more than half of that, px. */
  readonly widthPx: number;
}

export interface EdgeReading {
  /** Mean luma along the segment, of the merge and of each frame; null for a frame that does not cover it. */
  readonly merge: Float32Array;
  readonly frames: readonly (Float32Array | null)[];
  readonly shape: EdgeShape;
  readonly frameShapes: readonly (EdgeShape | null)[];
  /** The frame with the steepest edge; null where none shows it. */
  readonly sharpest: number | null;
  readonly bands: readonly HaloBand[];
}

/** Share of a profile at either end that tells its level. */
const LEVEL_SHARE = 0.2;
/** Steps that are smaller are no edge, encoded. */
const LEAST_STEP = 0.02;
/** A frame whose step is less than this share of the merge's shows another thing, or is clipped there. */
const LEAST_SHARE_OF_STEP = 0.3;
/** Bands that are fainter are what resampling and noise leave, % of the step. */
const LEAST_BAND = 3;

/**
 * Reads an edge.
 * @param merge strip along a segment across the edge
 * @param frames likewise; null for frames that do not reach it
 * @returns null where the merge shows no edge along the segment
 */
export function edgeProbe(merge: Strip, frames: readonly (Strip | null)[]): EdgeReading | null {
  const own = profileOf(merge);
  const shape = shapeOf(own);
  if (!shape) return null;
  const profiles = frames.map((f) => (f && !f.valid.includes(0) ? profileOf(f) : null));
  const frameShapes = profiles.map((p) => {
    const found = p && shapeOf(p);
    return found && isSameEdge(found, shape) ? found : null;
  });
  const sharpest = frameShapes.reduce<number | null>(
    (best, s, k) => (s && (best === null || s.widthPx < frameShapes[best]!.widthPx) ? k : best),
    null,
  );
  return {
    merge: own,
    frames: profiles,
    shape,
    frameShapes,
    sharpest,
    bands: sharpest === null ? [] : bandsBeside(own, shape, profiles[sharpest]!, frameShapes[sharpest]!),
  };
}

/** Mean over the width of a strip. */
function profileOf({ luma, length, across }: Strip): Float32Array {
  const out = new Float32Array(length);
  for (let r = 0; r < across; r++) for (let s = 0; s < length; s++) out[s]! += luma[r * length + s]! / across;
  return out;
}

function shapeOf(profile: Float32Array): EdgeShape | null {
  const n = Math.max(2, Math.round(LEVEL_SHARE * profile.length));
  const before = median(profile.subarray(0, n));
  const after = median(profile.subarray(profile.length - n));
  const step = after - before;
  if (Math.abs(step) < LEAST_STEP) return null;
  const rising = profile.map((v) => (v - before) / step);
  // From the steepest place outwards, so that texture beside the edge does not count.
  let steepest = 1;
  for (let s = 1; s < rising.length; s++)
    if (rising[s]! - rising[s - 1]! > rising[steepest]! - rising[steepest - 1]!) steepest = s;
  const low = crossing(rising, steepest, -1, 0.1);
  const high = crossing(rising, steepest - 1, 1, 0.9);
  const middle = rising[steepest]! >= 0.5 ? crossing(rising, steepest, -1, 0.5) : crossing(rising, steepest, 1, 0.5);
  return { before, after, widthPx: high - low, at: middle };
}

/** Where a rising profile passes a level, walking from a place; the end of the profile where it does not. */
function crossing(rising: Float32Array, from: number, by: 1 | -1, level: number): number {
  for (let s = from; s + by >= 0 && s + by < rising.length; s += by) {
    const [a, b] = [rising[s]!, rising[s + by]!];
    if (by > 0 ? b >= level : b <= level) {
      if (by > 0 ? a >= level : a <= level) return s;
      return s + (by * (level - a)) / (b - a);
    }
  }
  return by > 0 ? rising.length - 1 : 0;
}

function isSameEdge(frame: EdgeShape, merge: EdgeShape): boolean {
  const share = (frame.after - frame.before) / (merge.after - merge.before);
  return share >= LEAST_SHARE_OF_STEP;
}

/** What is left of the merge once the sharpest frame, brought to the merge's levels, is taken away: the strongest band on each side. */
function bandsBeside(own: Float32Array, shape: EdgeShape, frame: Float32Array, frameShape: EdgeShape): HaloBand[] {
  const gain = (shape.after - shape.before) / (frameShape.after - frameShape.before);
  const step = Math.abs(shape.after - shape.before);
  const rest = own.map((v, s) => (100 * (v - shape.before - gain * (frame[s]! - frameShape.before))) / step);
  const middle = Math.round(frameShape.at);
  const sides = [
    ['before', 0, middle],
    ['after', middle, own.length],
  ] as const;
  return sides.flatMap(([side, start, end]): HaloBand[] => {
    let top = start;
    for (let s = start; s < end; s++) if (Math.abs(rest[s]!) > Math.abs(rest[top]!)) top = s;
    const heightPercent = rest[top] ?? 0;
    if (Math.abs(heightPercent) < LEAST_BAND) return [];
    let [first, last] = [top, top];
    const holds = (s: number): boolean => s >= start && s < end && rest[s]! / heightPercent > 0.5;
    while (holds(first - 1)) first--;
    while (holds(last + 1)) last++;
    return [{ side, heightPercent, widthPx: last - first + 1 }];
  });
}
