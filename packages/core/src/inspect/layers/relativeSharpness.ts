// Layer: how sharp a merge is against frames in other tones: by how detail falls off towards fine, which no tone changes.
import { broadLuma, type CellStack } from '../../cells';
import { BAND_NOISE_GAIN } from '../../kernels';
import { detailAt } from '../foreignShare';
import { PEAK_OVER_NOISE } from './sharpness';
import type { Layer } from './layer';

export interface RelativeSharpnessMaps extends Readonly<Record<string, Float32Array>> {
  /** log2 of the sharpest telling frame's fall-off over the merge's: 0 as sharp, 1 half the fine detail …; 0 where nothing tells. */
  readonly softness: Float32Array;
  /** Energy of detail that the merge would have beyond its own, were it as sharp, encoded². */
  readonly detailLost: Float32Array;
}

export interface RelativeSharpnessYardstick {
  /** Softness that is usual in the merge, and what three of four cells keep below. */
  readonly centre: number;
  readonly usual: number;
}

/** Detail wider than the middle band that a cell must have for its fall-off to be told, over noise. */
const LEAST_COARSE = 4;
const LEAST_SAMPLES = 50;
/** A frame shows the same where its broad forms go along with the merge's around a cell by this correlation: softness takes fine ones. */
const SAME_FORMS = 0.7;
/** Cells around one in which forms are compared. */
const AROUND = 2;
/** Forms of less than this deviation say nothing, encoded. */
const LEAST_FORMS = 0.01;

export const relativeSharpness: Layer<RelativeSharpnessMaps, readonly number[], RelativeSharpnessYardstick> = {
  name: 'relativeSharpness',
  kinds: ['panorama', 'bracket'],
  needs: [],
  empty: (cells) => ({ softness: new Float32Array(cells), detailLost: new Float32Array(cells) }),
  measure({ stack }) {
    const { frames, width, height, noiseMiddle } = stack;
    const merge = stack.merge!;
    const maps = this.empty(width * height);
    const samples: number[] = [];
    const showsSame = formsOf(stack);
    for (let i = 0; i < maps.softness.length; i++) {
      if (!merge.valid[i]) continue;
      const [fine, coarse] = [merge.middle[i]!, merge.coarse[i]!];
      const floor = noiseMiddle[i]!;
      if (!(coarse > LEAST_COARSE * floor)) continue;
      let [steepest, detail] = [0, 0];
      for (const [k, frame] of frames.entries()) {
        const { relation, middle, coarse: wide } = frame;
        if (!relation?.telling[i]) continue;
        // Noise of a frame that was brightened is more than that of the set: it is no detail.
        const noise = BAND_NOISE_GAIN[1] * relation.noise[i]!;
        const own = middle[i]! - Math.max(0, noise - floor);
        const fall = own / (wide[i]! + noise);
        if (own <= PEAK_OVER_NOISE * noise || fall <= steepest || !showsSame(k, i)) continue;
        // All of its detail, as strong as the blend has what is wide.
        [steepest, detail] = [fall, (detailAt(frame, i) * coarse) / (wide[i]! + noise)];
      }
      if (steepest === 0) continue;
      const sharp = steepest * coarse;
      maps.softness[i] = Math.log2((sharp + floor) / (fine + floor));
      maps.detailLost[i] = Math.max(0, detail - detailAt(merge, i));
      if (i % 4 === 0) samples.push(maps.softness[i]!);
    }
    return { maps, samples };
  },
  calibrate(all) {
    const samples = all.flat().sort((a, b) => a - b);
    if (samples.length < LEAST_SAMPLES) return { centre: 0, usual: 0 };
    return { centre: samples[samples.length >> 1]!, usual: samples[Math.floor(0.75 * samples.length)]! };
  },
};

/** Tells whether a frame shows the same as the merge around a cell, however soft either is: another moment is no proof of softness. */
function formsOf(stack: CellStack): (frame: number, cell: number) => boolean {
  const { frames, width, height } = stack;
  const own = broadLuma(stack.merge!, stack);
  const others: (Float32Array | undefined)[] = [];
  return (k, i) => {
    const theirs = (others[k] ??= broadLuma(frames[k]!, stack));
    const [x, y] = [i % width, Math.floor(i / width)];
    let [n, a, b, aa, bb, ab] = [0, 0, 0, 0, 0, 0];
    for (let cy = Math.max(0, y - AROUND); cy <= Math.min(height - 1, y + AROUND); cy++)
      for (let cx = Math.max(0, x - AROUND); cx <= Math.min(width - 1, x + AROUND); cx++) {
        const [p, q] = [own[cy * width + cx]!, theirs[cy * width + cx]!];
        [n, a, b, aa, bb, ab] = [n + 1, a + p, b + q, aa + p * p, bb + q * q, ab + p * q];
      }
    const [varA, varB] = [aa / n - (a / n) ** 2, bb / n - (b / n) ** 2];
    if (Math.max(varA, varB) < LEAST_FORMS ** 2) return true;
    return ab / n - (a / n) * (b / n) >= SAME_FORMS * Math.sqrt(varA * varB);
  };
}
