// Layer: how sharp the merge is against the sharpest frame.
import { sharpestFrames, SIGNIFICANT_OVER_NOISE, type CellStack } from '../../cells';
import { median, robustDeviation } from '../../image';
import { detailAt } from '../foreignShare';
import { explanation } from './explanation';
import { MERGE_KINDS, type Layer } from './layer';

export interface SharpnessMaps extends Readonly<Record<string, Uint8Array | Float32Array>> {
  /** Sharpest frame. */
  readonly best: Uint8Array;
  /** 1 where the sharpest frame's detail is above noise. */
  readonly significant: Uint8Array;
  /** log2 of the sharpest frame's detail over the merge's: 0 as sharp, 1 half the detail energy … */
  readonly softness: Float32Array;
  /** Detail energy the sharpest frame has beyond the merge. */
  readonly detailLost: Float32Array;
}

/** log2 sharpness ratios between the merge and the frame it shows, where that frame is surely the sharpest. */
type Ratios = readonly number[];

export interface SharpnessYardstick {
  /** Typical log2 ratio where the merge shows the best frame: what resampling alone does. */
  readonly centre: number;
  /** Its robust spread. */
  readonly spread: number;
}

/** Detail stands so far above noise that ratios are told well. */
export const PEAK_OVER_NOISE = 8;
const SURE = 128;
const LEAST_SAMPLES = 50;

export const sharpness: Layer<SharpnessMaps, Ratios, SharpnessYardstick> = {
  name: 'sharpness',
  kinds: MERGE_KINDS,
  needs: [explanation],
  empty: (cells) => ({
    best: new Uint8Array(cells),
    significant: new Uint8Array(cells),
    softness: new Float32Array(cells),
    detailLost: new Float32Array(cells),
  }),
  measure(view) {
    const { stack } = view;
    const { frames, noiseMiddle, width, height } = stack;
    const merge = stack.merge!;
    const maps = this.empty(width * height);
    const { label, confidence } = view.of(explanation);
    const best = sharpestFrames(stack);
    maps.best.set(best);
    const mergeDetail = strongestAround(merge.middle, width, height);
    const topDetail = strongestAround(topOf(stack, best), width, height);
    const ratios: number[] = [];
    for (let i = 0; i < best.length; i++) {
      if (!merge.valid[i]) continue;
      const top = frames[best[i]!]!.middle[i]!;
      const floor = noiseMiddle[i]!;
      if (!(top > SIGNIFICANT_OVER_NOISE * floor)) continue;
      maps.significant[i] = 1;
      const own = (top + floor) / (merge.middle[i]! + floor);
      const around = (topDetail[i]! + floor) / (mergeDetail[i]! + floor);
      maps.softness[i] = Math.log2(Math.min(own, around));
      maps.detailLost[i] = Math.max(0, detailAt(frames[best[i]!]!, i) - detailAt(merge, i));
      const sure = top > PEAK_OVER_NOISE * floor && label[i] === best[i] && confidence[i]! >= SURE;
      if (sure && i % 4 === 0) ratios.push(maps.softness[i]!);
    }
    return { maps, samples: ratios };
  },
  calibrate(samples) {
    const ratios = samples.flat();
    const enough = ratios.length >= LEAST_SAMPLES;
    return { centre: enough ? median(ratios) : 0, spread: enough ? robustDeviation(ratios) : 0.1 };
  },
};

function topOf({ frames }: CellStack, best: Uint8Array): Float32Array {
  return Float32Array.from(best, (k, i) => frames[k]!.middle[i]!);
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
