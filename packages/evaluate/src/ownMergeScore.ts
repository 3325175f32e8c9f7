// What is measured of an own merge.

/** How near a merge comes to the ideal, and how far its frames are off. */
export interface OwnMergeScore {
  /** Share of the merge in which nothing moved: the following two are measured there. */
  readonly stillShare: number;
  readonly similarity: number;
  /** Peak signal to noise, dB. */
  readonly psnrDb: number;
  /** Per pair of frames that overlap: median distance of their places against truth, px. */
  readonly pairErrorsPx: readonly number[];
  /** Lean of what stands upright, degrees, the most over the merge; null where nothing was levelled. */
  readonly leanDeg: number | null;
  /** Per place on a near edge of a stack, the width of background that is spoilt beside it, px. */
  readonly haloWidthsPx: readonly number[];
  /** Per straight line through a panorama, how far it is from straight, px. */
  readonly lineErrorsPx: readonly number[];
}
