// What a check says about a frame.

export const CHECKS = [
  'size',
  'camera',
  'focal-length',
  'aperture',
  'iso',
  'exposure',
  'white-balance',
  'profile',
  'bit-depth',
  'brightness',
  'contrast',
  'colour',
  'shake',
  'duplicate',
  'missing-step',
  'redundant',
  'vignetting',
  'other-scene',
  'lateral-colour',
] as const;
export type CheckName = (typeof CHECKS)[number];

/** One thing that is wrong with one frame (or before it, for a missing step). */
export interface FrameCheck {
  /** Index of the frame. */
  readonly frame: number;
  readonly check: CheckName;
  readonly value: number | string;
  readonly limit: number | string;
  readonly unit: string;
  readonly meaning: string;
  /** Whether it spoils a blend, or ought only to be known. */
  readonly spoils: boolean;
}

/** Three significant figures: checks are read, not computed with. */
export function figure(value: number): number {
  return Number(value.toPrecision(3));
}
