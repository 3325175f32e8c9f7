// The patch probe: two places, one around either end of a segment across a seam: tone, grain and sharpness compared, in the merge and in each frame.
import { colourDifference, robustDeviation, type Rgb } from '../image';
import { segmentLength, SEGMENT_PX, type Segment, type Strip } from './sampleStrip';

/** One of the two places in one picture. */
export interface PatchMeasure {
  /** Mean colour, encoded. */
  readonly colour: Rgb;
  /** Standard deviation of the finest structure, encoded: grain, where the place is even. */
  readonly grain: number;
  /** RMS of structure some px wide, encoded. */
  readonly detail: number;
}

export interface PatchPair {
  readonly from: PatchMeasure;
  readonly to: PatchMeasure;
  /** ΔE00 between the two places. */
  readonly difference: number;
}

export interface PatchReading {
  /** Side of the places, px. */
  readonly sidePx: number;
  readonly merge: PatchPair;
  /** Null for frames that do not cover both. */
  readonly frames: readonly (PatchPair | null)[];
  /** ΔE00 of the step that the merge has and the frame does not, per frame. */
  readonly ownStep: readonly (number | null)[];
}

/** One picture at both places. */
export type Places = readonly [from: Strip, to: Strip];

const SIDE_PX = { least: SEGMENT_PX.least + 1, most: 63 } as const;

/**
 * The squares that a segment's ends are compared by: upright and on whole px, so that no grain is lost to resampling.
 * @returns their middle rows, and half their side in px
 */
export function patchSquares(segment: Segment): {
  readonly rows: readonly [Segment, Segment];
  readonly halfPx: number;
} {
  const side = Math.min(SIDE_PX.most, Math.max(SIDE_PX.least, Math.round(0.5 * segmentLength(segment))));
  const halfPx = (side - 1) >> 1;
  const row = ([x, y]: Segment['from']): Segment => {
    const [cx, cy] = [Math.floor(x) + 0.5, Math.floor(y) + 0.5];
    return { from: [cx - halfPx, cy], to: [cx + halfPx, cy] };
  };
  return { rows: [row(segment.from), row(segment.to)], halfPx };
}

/**
 * Compares both ends of a segment.
 * @param merge its squares, as strips
 * @param frames likewise; null for frames that do not reach them
 */
export function patchProbe(merge: Places, frames: readonly (Places | null)[]): PatchReading {
  const own = pairOf(merge);
  const pairs = frames.map((f) => (f?.every(({ valid }) => !valid.includes(0)) ? pairOf(f) : null));
  const ownStep = pairs.map((pair) => {
    if (!pair) return null;
    // What the far place would be, were its step that of the frame.
    const wanted = (c: 0 | 1 | 2): number => own.from.colour[c] + pair.to.colour[c] - pair.from.colour[c];
    return colourDifference(own.to.colour, [wanted(0), wanted(1), wanted(2)]);
  });
  return { sidePx: merge[0].across, merge: own, frames: pairs, ownStep };
}

function pairOf([first, second]: Places): PatchPair {
  const [from, to] = [measure(first), measure(second)];
  return { from, to, difference: colourDifference(from.colour, to.colour) };
}

function measure({ colour, luma, length, across }: Strip): PatchMeasure {
  const mean = (plane: Float32Array): number => plane.reduce((sum, v) => sum + v, 0) / plane.length;
  const fine: number[] = [];
  let detail = 0;
  for (let r = 1; r < across - 1; r++) {
    for (let s = 1; s < length - 1; s++) {
      const i = r * length + s;
      const cross = (luma[i - 1]! + luma[i + 1]! + luma[i - length]! + luma[i + length]!) / 4;
      fine.push(luma[i]! - cross);
      detail += (luma[i + 1]! - luma[i - 1]!) ** 2 + (luma[i + length]! - luma[i - length]!) ** 2;
    }
  }
  return {
    colour: [mean(colour[0]), mean(colour[1]), mean(colour[2])],
    // A px less the mean of its four neighbours has 1 + 1/4 of its variance.
    grain: robustDeviation(fine) / Math.sqrt(1.25),
    detail: Math.sqrt(detail / (4 * fine.length)),
  };
}
