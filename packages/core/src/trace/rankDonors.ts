// Which other frames may be repaired from: all that come near the best, and in which order they are tried.
import { MIN_COVERAGE, type FrameMeasure } from './traceDetection';

/** A frame whose error is within this of the best one's is as good. */
const TIE = 1.05;

/** What is known of a finding's frames. */
export interface FramesOfFinding {
  /** In order; empty where it was not traced here. */
  readonly frames: readonly FrameMeasure[];
  /** Index of the best one; null where none repairs it. */
  readonly donor: number | null;
}

/**
 * Orders the frames that a finding may be repaired from.
 * @returns indices of those that cover it, the best first, then by what error they would leave; empty where none repairs it
 */
export function rankDonors({ frames, donor }: FramesOfFinding): number[] {
  if (donor === null) return [];
  const others = frames
    .map((frame, index) => ({ ...frame, index }))
    .filter(({ coverage, index }) => index !== donor && coverage >= MIN_COVERAGE)
    .sort((a, b) => a.predictedError - b.predictedError);
  return [donor, ...others.map(({ index }) => index)];
}

/**
 * Finds the frames that are as good to repair from as the best one.
 * @returns their indices, the best first; empty where none repairs it
 */
export function tiedDonors(finding: FramesOfFinding): number[] {
  const [best, ...others] = rankDonors(finding);
  if (best === undefined) return [];
  const most = TIE * (finding.frames[best]?.predictedError ?? 0);
  return [best, ...others.filter((k) => finding.frames[k]!.predictedError <= most)];
}
