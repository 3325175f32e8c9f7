// Layer: what of the merge no frame explains.
import { cellTent } from '../../cells';
import { foreignShare, greatestDetail } from '../foreignShare';
import { explanation } from './explanation';
import type { Layer } from './layer';

export interface UnexplainedMaps extends Readonly<Record<string, Float32Array>> {
  /** Pixel variance over the frames' detail: 0 nothing, about 2 for unrelated pictures. */
  readonly share: Float32Array;
}

export const unexplained: Layer<UnexplainedMaps, null, null> = {
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
    for (let i = 0; i < closest.length; i++) {
      if (stack.merge!.valid[i]) maps.share[i] = foreignShare(stack, tent, greatest[i]!, closest[i]!, i);
    }
    return { maps, samples: null };
  },
  calibrate: () => null,
};
