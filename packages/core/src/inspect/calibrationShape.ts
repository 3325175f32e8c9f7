// The shape of what evaluations teach about how sure findings are: beside the data, so that data and its reader need not know each other.
import type { Defect } from './detection';
import type { MergeKind } from './layers/layer';

/** What a logistic regression learnt for one kind of merge. */
export interface KindCalibration {
  readonly constant: number;
  /** Weight of the evidence, as log odds. */
  readonly evidence: number;
  /** Weight of how plainly it shows, as the logarithm of just noticeable steps. */
  readonly steps: number;
  /** What a defect adds; 0 for one that is not named. */
  readonly defects: Partial<Readonly<Record<Defect, number>>>;
}

/** A calibration with what it was learnt from. */
export interface Calibration {
  /** First seed and number of scenes of each series. */
  readonly seeds: readonly { readonly kind: MergeKind; readonly first: number; readonly scenes: number }[];
  readonly kinds: Readonly<Record<MergeKind, KindCalibration>>;
}
