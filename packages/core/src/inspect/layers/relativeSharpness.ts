// Layer: how sharp a merge is against frames in other tones: by how detail falls off towards fine, which no tone changes.
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
    for (let i = 0; i < maps.softness.length; i++) {
      if (!merge.valid[i]) continue;
      const [fine, coarse] = [merge.middle[i]!, merge.coarse[i]!];
      const floor = noiseMiddle[i]!;
      if (!(coarse > LEAST_COARSE * floor)) continue;
      let [steepest, detail] = [0, 0];
      for (const frame of frames) {
        const { relation, middle, coarse: wide } = frame;
        if (!relation?.telling[i]) continue;
        // Noise of a frame that was brightened is more than that of the set: it is no detail.
        const noise = BAND_NOISE_GAIN[1] * relation.noise[i]!;
        const own = middle[i]! - Math.max(0, noise - floor);
        const fall = own / (wide[i]! + noise);
        if (own <= PEAK_OVER_NOISE * noise || fall <= steepest) continue;
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
