// Grain that a merge has of its own: noise that its frames do not have, added when it was finished or left by a conversion.
import { median, noiseAt, type NoiseCurve } from '../image';
import type { CellStack } from './gatherCells';

/** What a merge's own grain adds, by brightness of the merge. Plain data. */
export interface Grain {
  /** Mean squared luma difference per px. */
  readonly pixel: NoiseCurve;
  /** Energy in the fine, middle and coarse band, as cells measure it: grain need not be white. */
  readonly bands: readonly [NoiseCurve, NoiseCurve, NoiseCurve];
}

/** A cell that is even in all frames: brightness, squared difference and band energies of the merge there. */
export type GrainSample = readonly [luma: number, difference: number, fine: number, middle: number, coarse: number];

const BINS = 8;
/** Brightnesses of fewer cells than this say nothing. */
const LEAST_SAMPLES = 30;
/** Cells are even where no frame has more detail than this times its noise. */
const EVEN = 3;
/** Grain of less than this share of the frames' own noise is within what their estimate leaves open. */
const LEAST_OVER_NOISE = 1;
/** Ends of the scale at which grain is cut off. */
const ENDS = [0.02, 0.98] as const;

/** The even cells of a stack with a merge, and what the merge shows there. */
export function grainSamples({ merge, frames, noiseMiddle, noise, unexplained }: CellStack): GrainSample[] {
  if (!merge) return [];
  const [r, g, b] = merge.mean;
  const out: GrainSample[] = [];
  for (let i = 0; i < unexplained.length; i++) {
    if (!merge.valid[i]) continue;
    const luma = 0.2126 * r[i]! + 0.7152 * g[i]! + 0.0722 * b[i]!;
    if (luma < ENDS[0] || luma > ENDS[1]) continue;
    let [seen, most] = [false, 0];
    for (const { valid, fine, middle, coarse } of frames) {
      if (!valid[i]) continue;
      seen = true;
      most = Math.max(most, fine[i]! + middle[i]! + coarse[i]!);
    }
    if (!seen || most > EVEN * noiseMiddle[i]!) continue;
    // Frame and merge differ by the noise of both anyway.
    const own = 2 * noiseAt(noise, luma);
    out.push([luma, unexplained[i]! - own, merge.fine[i]!, merge.middle[i]!, merge.coarse[i]!]);
  }
  return out;
}

/**
 * Grain told from even cells all over a merge: medians, so that a defect in some of them is none.
 * @param noise of the frames
 * @returns null for a merge that is no noisier than its frames, or has too few even cells to tell
 */
export function grainOf(samples: readonly GrainSample[], noise: NoiseCurve): Grain | null {
  const bins: GrainSample[][] = Array.from({ length: BINS }, () => []);
  for (const sample of samples) bins[Math.min(BINS - 1, Math.floor(sample[0] * BINS))]!.push(sample);
  const curve = (of: 1 | 2 | 3 | 4): (number | null)[] =>
    bins.map((bin) => (bin.length < LEAST_SAMPLES ? null : Math.max(0, median(bin.map((s) => s[of])))));
  const pixel = curve(1);
  const isGrained = pixel.some((v, k) => v !== null && v > LEAST_OVER_NOISE * 2 * noiseAt(noise, (k + 0.5) / BINS));
  if (!isGrained) return null;
  return { pixel: filled(pixel), bands: [filled(curve(2)), filled(curve(3)), filled(curve(4))] };
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
