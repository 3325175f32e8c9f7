// A seeded defect and its truth.

/** The product's closed list of defect words. */
export type Defect =
  | 'halo'
  | 'ghost'
  | 'seam'
  | 'misalignment'
  | 'soft-patch'
  | 'focus-gap'
  | 'mask-speckle'
  | 'border'
  | 'dust'
  | 'fringe'
  | 'clipping';

/**
 * Difference (root mean square over a cell, code values 0..1) below which a fault counts as invisible: 0.02 is about 5
 * levels of 255. A step of tone along a line shows earlier than a loss of detail.
 */
export const VISIBLE_RMS = 0.02;
const VISIBLE_STEP_RMS = 0.012;
/** A fault is plain when its cells differ by this many times the visible on average. */
const PLAIN_TIMES = 2;
/** A defect must cover this many cells to be asked for: about 18 × 18 px in all. */
export const MIN_CELLS = 20;

export function visibleRms(defect: Defect): number {
  return defect === 'seam' || defect === 'dust' ? VISIBLE_STEP_RMS : VISIBLE_RMS;
}

export function isPlain(defect: Defect, meanRms: number): boolean {
  return meanRms >= PLAIN_TIMES * visibleRms(defect);
}

/** What may be shown as well as what the merge without faults shows: the same things as another frame caught them. */
export interface Moment {
  /** Delivered frame. */
  readonly frame: number;
  /** The place that moves as a whole: shown from this frame, it is right. */
  readonly zone: readonly number[];
  /** Cells by which it is told: those of the fault, and where this frame has what moves. */
  readonly cells: readonly number[];
}

/** The truth of one defect of a merge. */
export interface Fault {
  readonly defect: Defect;
  /** Cells in which it can be seen. */
  readonly cells: readonly number[];
  /** Delivered frames the merge shows there. */
  readonly shown: readonly number[];
  /** Delivered frames that would be right there. */
  readonly donors: readonly number[];
  /** Whether a report may also name no donor: where the repair needs none (tone, crop, fill). */
  readonly donorOptional: boolean;
  readonly repairable: boolean;
  /** Plain to see, or subtle. */
  readonly plain: boolean;
  /** Mean difference from the merge without it, code values 0..1. */
  readonly meanRms: number;
  /** Not seeded: every merge of this set has it. */
  readonly natural: boolean;
  /** Other moments that are as right; none where nothing moves. */
  readonly moments: readonly Moment[];
}
