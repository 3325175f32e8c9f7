// Layer: what of the merge no frame explains.
import { cellTent } from '../../cells';
import { foreignShare, greatestDetail } from '../foreignShare';
import { quantile } from '../../image';
import { explanation } from './explanation';
import { PEAK_OVER_NOISE } from './sharpness';
import type { Layer } from './layer';

export interface UnexplainedMaps extends Readonly<Record<string, Float32Array>> {
  /** Pixel variance over the frames' detail: 0 nothing, about 2 for unrelated pictures. */
  readonly share: Float32Array;
}

export interface UnexplainedYardstick {
  /** Share that three of four textured cells keep below: how well this merge, finished as it was, shows its frames at all. */
  readonly usual: number;
}

const LEAST_SAMPLES = 50;

export const unexplained: Layer<UnexplainedMaps, readonly number[], UnexplainedYardstick | null> = {
  name: 'unexplained',
  kinds: ['focus-stack'],
  needs: [explanation],
  empty: (cells) => ({ share: new Float32Array(cells) }),
  measure(view) {
    const { stack } = view;
    const tent = cellTent(stack.width, stack.height);
    const greatest = greatestDetail(stack);
    const { closest } = view.of(explanation);
    const maps = this.empty(closest.length);
    const samples: number[] = [];
    for (let i = 0; i < closest.length; i++) {
      if (!stack.merge!.valid[i]) continue;
      maps.share[i] = foreignShare(stack, tent, greatest[i]!, closest[i]!, i);
      if (i % 8 === 0 && greatest[i]! > PEAK_OVER_NOISE * stack.noiseMiddle[i]!) samples.push(maps.share[i]!);
    }
    return { maps, samples };
  },
  calibrate(samples) {
    const shares = samples.flat();
    return { usual: shares.length >= LEAST_SAMPLES ? quantile(shares, 0.75) : 0 };
  },
};
