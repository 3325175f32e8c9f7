// Grain that a merge has of its own: noise that its frames do not have, added when it was finished or left by a conversion.
import type { NoiseCurve } from '../image';

/** What a merge's own grain adds, by brightness of the merge. Plain data. */
export interface Grain {
  /** Mean squared luma difference per px. */
  readonly pixel: NoiseCurve;
  /** Energy in the fine, middle and coarse band, as cells measure it: grain need not be white. */
  readonly bands: readonly [NoiseCurve, NoiseCurve, NoiseCurve];
}
