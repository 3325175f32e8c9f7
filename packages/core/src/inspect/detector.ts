// What a detector is: one file per defect that says how it is found, who could repair it, and what it is called in words.
import type { FocusAxis } from '../defocus';
import type { Calibration } from './calibrate';
import type { Defect, Detection } from './detection';
import type { EvidenceMaps } from './evidence';

/** Kinds of merges. */
export type MergeKind = 'focus-stack' | 'panorama' | 'bracket';

/** What detectors look at. */
export interface Evidence {
  readonly maps: EvidenceMaps;
  readonly calibration: Calibration;
  readonly axis: FocusAxis;
}

/** What is known of a finding when its cause is put into words. */
export interface CauseFacts {
  readonly measurements: Detection['measurements'];
  /** Name of the frame that the merge shows most here. */
  readonly shown: string;
  /** Name of the frame to repair from; '' when none helps. */
  readonly donor: string;
  /** Names of all frames, in shooting order. */
  readonly frames: readonly string[];
}

export interface Detector {
  readonly defect: Defect;
  readonly kinds: readonly MergeKind[];
  find(evidence: Evidence): Detection[];
  /**
   * What makes one frame a better donor than another: the detail it has, or the light of near edges it is free of. Null where no
   * frame can repair it.
   */
  readonly donorBy: 'detail' | 'spill' | null;
  /** Why it is there, in a sentence or two. */
  cause(facts: CauseFacts): string;
  /** What to do about it. */
  readonly advice: string;
}
