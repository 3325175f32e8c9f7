// Layer: where on the focus axis each cell would be sharp, and how blurred its sharpest frame is.
import { median } from '../../image';
import { focusFlanks } from '../focusFlanks';
import type { Layer } from './layer';
import { PEAK_OVER_NOISE, sharpness } from './sharpness';

export interface FocusMaps extends Readonly<Record<string, Float32Array>> {
  /** Middle of the two sharpest neighbouring frames on the focus axis, and half the slope of σ² between them, px² per step. */
  readonly middle: Float32Array;
  readonly slope: Float32Array;
  /** 1 where both are known. */
  readonly weight: Float32Array;
  /** Blur of the sharpest frame, σ² in px², the texture's own softness included (negative for very fine texture). */
  readonly variance: Float32Array;
  /** Half the second difference of σ² over the three sharpest neighbours, px² per step²; 0 where a flank is missing. */
  readonly curvature: Float32Array;
}

interface FocusSamples {
  readonly curvatures: readonly number[];
  readonly variances: readonly number[];
}

export interface FocusYardstick {
  /** Growth of σ² per squared focus step, px²; its root is the blur one step makes. Null when no place shows both flanks. */
  readonly curvature: number | null;
  /** Typical blur of the sharpest frame, σ² in px²: how sharp this lens, sensor and subject get. */
  readonly typicalVariance: number;
}

const LEAST_SAMPLES = 50;

export const focus: Layer<FocusMaps, FocusSamples, FocusYardstick> = {
  name: 'focus',
  kinds: ['focus-stack'],
  needs: [sharpness],
  empty: (cells) => ({
    middle: new Float32Array(cells),
    slope: new Float32Array(cells),
    weight: new Float32Array(cells),
    variance: new Float32Array(cells),
    curvature: new Float32Array(cells),
  }),
  measure(view) {
    const { stack, facts } = view;
    const { best } = view.of(sharpness);
    const maps = this.empty(best.length);
    const curvatures: number[] = [];
    const variances: number[] = [];
    for (let i = 0; i < best.length && facts.axis; i++) {
      const top = stack.frames[best[i]!]!.middle[i]!;
      if (!stack.merge!.valid[i] || !(top > PEAK_OVER_NOISE * stack.noiseMiddle[i]!)) continue;
      const flank = focusFlanks(stack, facts.axis, i, best[i]!);
      if (!flank) continue;
      maps.middle[i] = flank.middle;
      maps.slope[i] = flank.slope;
      maps.weight[i] = 1;
      maps.variance[i] = flank.variance;
      if (i % 4 === 0) variances.push(flank.variance);
      // Unknown where the sharpest frame is the first or last that shows the place.
      if (!(flank.curvature > 0)) continue;
      maps.curvature[i] = flank.curvature;
      if (i % 2 === 0) curvatures.push(flank.curvature);
    }
    return { maps, samples: { curvatures, variances } };
  },
  calibrate(samples) {
    const curvatures = samples.flatMap((s) => s.curvatures);
    const variances = samples.flatMap((s) => s.variances);
    return {
      curvature: curvatures.length >= LEAST_SAMPLES ? median(curvatures) : null,
      typicalVariance: variances.length >= LEAST_SAMPLES ? median(variances) : 0,
    };
  },
};
