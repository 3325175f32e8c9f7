// Measures the grain that a merge has of its own, by how it differs from its frames where they are even.
import { median, noiseAt, quantile, type NoiseCurve } from '../image';
import type { CellFrame, CellStack } from './gatherCells';
import type { Grain } from './grain';

/** A cell of the merge against the frame closest to it: differences that grain would make, and the most detail that any frame has there. */
export interface GrainSample {
  readonly luma: number;
  readonly detail: number;
  /** Squared difference per px, less what noise of the frames and resampling make of it. */
  readonly pixel: number;
  /** What the merge's fine, middle and coarse energies are beyond the frame's. */
  readonly bands: readonly [number, number, number];
}

const BINS = 8;
/** Of each brightness the evenest part tells: what is wrong with texture or edges is not in it. */
const EVENEST = 0.25;
/** Of the evenest brightness, others may have this many times the detail. */
const AS_EVEN = 6;
/** Brightnesses of fewer cells than this say nothing. */
const LEAST_SAMPLES = 40;
/** Share of the detail that resampling and compression may take or add. */
const RESAMPLING = 0.1;
/** Grain of less than this share of the frames' own noise is within what their estimate leaves open. */
const LEAST_OVER_NOISE = 1;
/** Share of the brightnesses that must have it. */
const ALL_OVER = 0.7;
/** The bands hold a third of white noise at least. */
const IN_BANDS = 3;
/** Beyond these grain is cut off at the ends of the scale. */
const ENDS = [0.02, 0.98] as const;

/** What each cell of a stack with a merge says of the merge's grain. */
export function grainSamples({ merge, frames, noise, unexplained }: CellStack): GrainSample[] {
  if (!merge) return [];
  const [r, g, b] = merge.mean;
  const out: GrainSample[] = [];
  for (let i = 0; i < unexplained.length; i++) {
    if (!merge.valid[i]) continue;
    const luma = 0.2126 * r[i]! + 0.7152 * g[i]! + 0.0722 * b[i]!;
    if (luma < ENDS[0] || luma > ENDS[1]) continue;
    let closest: CellFrame | null = null;
    let detail = 0;
    for (const frame of frames) {
      if (!frame.valid[i]) continue;
      detail = Math.max(detail, frame.fine[i]! + frame.middle[i]! + frame.coarse[i]!);
      if (!closest || frame.residual[i]! < closest.residual[i]!) closest = frame;
    }
    if (!closest) continue;
    const { fine, middle, coarse } = closest;
    const own = fine[i]! + middle[i]! + coarse[i]!;
    out.push({
      luma,
      detail,
      // Frame and merge differ by the noise of both anyway.
      pixel: unexplained[i]! - 2 * noiseAt(noise, luma) - RESAMPLING * own,
      bands: [merge.fine[i]! - fine[i]!, merge.middle[i]! - middle[i]!, merge.coarse[i]! - coarse[i]!],
    });
  }
  return out;
}

/**
 * Grain told from the evenest cells all over a merge: medians, so that a defect in some of them is none.
 * @param noise of the frames
 * @returns null for a merge that is no noisier than its frames, or has too few cells to tell
 */
export function grainOf(samples: readonly GrainSample[], noise: NoiseCurve): Grain | null {
  const bins: GrainSample[][] = Array.from({ length: BINS }, () => []);
  for (const sample of samples) bins[Math.min(BINS - 1, Math.floor(sample.luma * BINS))]!.push(sample);
  const evenest = bins.map((bin) => {
    bin.sort((a, b) => a.detail - b.detail);
    const part = bin.slice(0, Math.ceil(EVENEST * bin.length));
    return part.length < LEAST_SAMPLES ? [] : part;
  });
  const details = evenest.map((part) => (part.length === 0 ? Infinity : median(part.map((s) => s.detail))));
  // A brightness that has nothing as even as the others tells of its texture.
  const limit = AS_EVEN * Math.max(Math.min(...details), 2 * Math.min(...noise));
  const even = evenest.map((part, k) => (details[k]! <= limit ? part : []));
  const curve = (of: (sample: GrainSample) => number): (number | null)[] =>
    even.map((part) => (part.length === 0 ? null : Math.max(0, median(part.map(of)))));
  // Grain adds to the bands what it adds to the differences; what is displaced differs, and adds nothing.
  const pixel = curve((s) => Math.min(s.pixel, IN_BANDS * (s.bands[0] + s.bands[1] + s.bands[2])));
  // Grain lies over the whole picture; what is displaced somewhere, or moves, does not.
  const overNoise = pixel.flatMap((v, k) => (v === null ? [] : [v / (2 * noiseAt(noise, (k + 0.5) / BINS))]));
  const isGrained = overNoise.length > 0 && quantile(overNoise, 1 - ALL_OVER) > LEAST_OVER_NOISE;
  if (!isGrained) return null;
  const band = (j: 0 | 1 | 2): NoiseCurve => filled(curve((s) => s.bands[j]));
  return { pixel: filled(pixel), bands: [band(0), band(1), band(2)] };
}

/** Brightnesses that say nothing are as their nearest neighbours. */
function filled(curve: readonly (number | null)[]): NoiseCurve {
  return curve.map((_, k) => {
    for (let d = 0; d < curve.length; d++) {
      const near = [curve[k - d], curve[k + d]].filter((v): v is number => v !== null && v !== undefined);
      if (near.length > 0) return near.reduce((s, v) => s + v, 0) / near.length;
    }
    return 0;
  });
}
