// Evidence maps: what the detectors share, reduced over the frames, one value per 4 × 4 px cell.
import type { Region } from '../image';
import { CELL_PX } from '../kernels';
import { cellTent, sharpestFrames, SIGNIFICANT_OVER_NOISE, type CellStack } from '../cells';
import {
  makeSpillFinder,
  voteNearSide,
  type FocusAxis,
  type SpillFinder,
  type NearSide,
  type NearSideVotes,
} from '../defocus';
import { inferLabels } from '../provenance';
import { focusFlanks } from './focusFlanks';
import { detailAt, foreignShare, greatestDetail } from './foreignShare';

/** Maps of one region or of the whole picture; all have width × height cells. */
export interface EvidenceMaps {
  readonly width: number;
  readonly height: number;
  /** Sharpest frame. */
  readonly best: Uint8Array;
  /** 1 where the sharpest frame's detail is above noise. */
  readonly significant: Uint8Array;
  /** log2 of the sharpest frame's detail over the merge's: 0 as sharp, 1 half the detail energy … */
  readonly softness: Float32Array;
  /** Detail energy the sharpest frame has beyond the merge. */
  readonly detailLost: Float32Array;
  /** Frame the merge shows, 255 for none of them. */
  readonly label: Uint8Array;
  readonly labelConfidence: Float32Array;
  /** Frame closest to the merge even if it does not explain it. */
  readonly closest: Uint8Array;
  /** What of the merge no frame explains: 0 nothing, about 2 for unrelated pictures (see foreignShare). */
  readonly foreign: Float32Array;
  /** Middle of the two sharpest neighbouring frames on the focus axis, and half the slope of σ² between them, px² per step. */
  readonly axisMiddle: Float32Array;
  readonly axisSlope: Float32Array;
  /** 1 where both are known. */
  readonly axisWeight: Float32Array;
  /** Blur of the sharpest frame, σ² in px², the texture's own softness included (negative for very fine texture). */
  readonly bestVariance: Float32Array;
  /** Half the second difference of σ² over the three sharpest neighbours, px² per step²; 0 where a flank is missing. */
  readonly axisCurvature: Float32Array;
  /** Squared error that spread light adds over the best alternative, assuming the first (the last) frame is nearest. */
  readonly spillFirst: Float32Array;
  readonly spillLast: Float32Array;
}

/** What calibration needs from each region. */
export interface CalibrationSamples {
  /** Quadratic coefficients of σ² over the focus axis, px² per step². */
  readonly curvatures: readonly number[];
  readonly votes: NearSideVotes;
  /** log2 sharpness ratios between the merge and the frame it shows, where provenance is sure. */
  readonly ratios: readonly number[];
  /** Blur of the sharpest frame, σ² in px². */
  readonly variances: readonly number[];
}

const PEAK_OVER_NOISE = 8;
// Spread light must grow by this share per frame step: ten times what 12 px means of texture change by when focus moves a step.
const SPILL_GROWTH = 0.005;

/** While it is not known which end of the series is focused nearest. */
export const BOTH_SIDES: readonly NearSide[] = ['first', 'last'];

/** Maps with nothing in them. */
export function emptyEvidence(width: number, height: number): EvidenceMaps {
  const n = width * height;
  const bytes = (): Uint8Array => new Uint8Array(n);
  const floats = (): Float32Array => new Float32Array(n);
  return {
    width,
    height,
    best: bytes(),
    significant: bytes(),
    softness: floats(),
    detailLost: floats(),
    label: bytes(),
    labelConfidence: floats(),
    closest: bytes(),
    foreign: floats(),
    axisMiddle: floats(),
    axisSlope: floats(),
    axisWeight: floats(),
    bestVariance: floats(),
    axisCurvature: floats(),
    spillFirst: floats(),
    spillLast: floats(),
  };
}

/**
 * Reduces a region's cells to evidence.
 * @param stack cells of the merge and all frames
 * @param axis the frames' positions on the focus axis
 * @param sides ends of the series that may be the near one; spread light is only looked for on these
 * Cost: about 1 µs per cell and 0.1 µs per cell and frame.
 */
export function reduceEvidence(
  stack: CellStack,
  axis: FocusAxis,
  sides: readonly NearSide[] = BOTH_SIDES,
): { maps: EvidenceMaps; samples: CalibrationSamples } {
  const maps = emptyEvidence(stack.width, stack.height);
  const { merge, frames, noiseMiddle } = stack;
  if (!merge) return { maps, samples: { curvatures: [], votes: { first: 0, last: 0 }, ratios: [], variances: [] } };
  const best = sharpestFrames(stack);
  maps.best.set(best);
  const inferred = inferLabels(stack);
  maps.label.set(inferred.labels);
  maps.closest.set(inferred.closest);
  maps.labelConfidence.set(inferred.confidence);
  const spill = makeSpillFinder(stack, best);
  const tent = cellTent(stack.width, stack.height);
  const greatest = greatestDetail(stack);
  const mergeDetail = strongestAround(merge.middle, stack.width, stack.height);
  const topDetail = strongestAround(
    Float32Array.from(best, (k, i) => frames[k]!.middle[i]!),
    stack.width,
    stack.height,
  );
  const curvatures: number[] = [];
  const ratios: number[] = [];
  const variances: number[] = [];
  for (let i = 0; i < best.length; i++) {
    const top = frames[best[i]!]!.middle[i]!;
    const floor = noiseMiddle[i]!;
    if (!merge.valid[i]) continue;
    if (top > SIGNIFICANT_OVER_NOISE * floor) {
      maps.significant[i] = 1;
      const own = (top + floor) / (merge.middle[i]! + floor);
      const around = (topDetail[i]! + floor) / (mergeDetail[i]! + floor);
      maps.softness[i] = Math.log2(Math.min(own, around));
      maps.detailLost[i] = Math.max(0, detailAt(frames[best[i]!]!, i) - detailAt(merge, i));
    }
    if (top > PEAK_OVER_NOISE * floor) {
      const flank = focusFlanks(stack, axis, i, best[i]!);
      if (flank) {
        maps.axisMiddle[i] = flank.middle;
        maps.axisSlope[i] = flank.slope;
        maps.axisWeight[i] = 1;
        maps.bestVariance[i] = flank.variance;
        if (i % 4 === 0) variances.push(flank.variance);
        if (flank.curvature > 0) maps.axisCurvature[i] = flank.curvature;
        if (flank.curvature > 0 && i % 2 === 0) curvatures.push(flank.curvature);
      }
      const label = inferred.labels[i]!;
      if (label === best[i] && inferred.confidence[i]! > 0.5 && i % 4 === 0) ratios.push(maps.softness[i]!);
    }
    maps.foreign[i] = foreignShare(stack, tent, greatest[i]!, inferred.closest[i]!, i);
    noteSpill(maps, spill, sides, i);
  }
  return { maps, samples: { curvatures, votes: voteNearSide(stack, best), ratios, variances } };
}

/**
 * Largest value within two cells. The energies are smoothed over about that reach, so a sharp edge lends energy to its
 * neighbours, in one frame more than in another: merge and frames are compared by the strongest edge in reach too, and the smaller difference counts.
 */
function strongestAround(data: Float32Array, width: number, height: number): Float32Array {
  const rows = new Float32Array(data.length);
  const out = new Float32Array(data.length);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      let m = 0;
      for (let xx = Math.max(0, x - 2); xx <= Math.min(width - 1, x + 2); xx++) m = Math.max(m, data[y * width + xx]!);
      rows[y * width + x] = m;
    }
  }
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      let m = 0;
      for (let yy = Math.max(0, y - 2); yy <= Math.min(height - 1, y + 2); yy++) m = Math.max(m, rows[yy * width + x]!);
      out[y * width + x] = m;
    }
  }
  return out;
}

function noteSpill(maps: EvidenceMaps, finder: SpillFinder, sides: readonly NearSide[], i: number): void {
  for (const side of sides) {
    const spill = finder.inMerge(i, side);
    if (!spill || spill.share < 0.05 || spill.share > 0.95 || spill.growth < SPILL_GROWTH) continue;
    const excess = Math.max(0, spill.squaredError - spill.leastError);
    (side === 'first' ? maps.spillFirst : maps.spillLast)[i] = excess;
  }
}

/** Copies the inner part of a region's maps into the whole picture's. */
export function placeEvidence(whole: EvidenceMaps, part: EvidenceMaps, partRegion: Region, inner: Region): void {
  const x0 = inner.x / CELL_PX;
  const y0 = inner.y / CELL_PX;
  const w = inner.width / CELL_PX;
  const dx = (inner.x - partRegion.x) / CELL_PX;
  const dy = (inner.y - partRegion.y) / CELL_PX;
  for (const key of MAP_KEYS) {
    const to = whole[key];
    const from = part[key];
    for (let y = 0; y < inner.height / CELL_PX; y++) {
      const start = (dy + y) * part.width + dx;
      to.set(from.subarray(start, start + w), (y0 + y) * whole.width + x0);
    }
  }
}

/** Names of the maps, for storage and transfer. */
export const MAP_KEYS = [
  'best',
  'significant',
  'softness',
  'detailLost',
  'label',
  'labelConfidence',
  'closest',
  'foreign',
  'axisMiddle',
  'axisSlope',
  'axisWeight',
  'bestVariance',
  'axisCurvature',
  'spillFirst',
  'spillLast',
] as const satisfies readonly (keyof EvidenceMaps)[];
