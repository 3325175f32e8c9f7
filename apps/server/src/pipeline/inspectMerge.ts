// Step: a merge inspected against its frames.
import {
  BOTH_SIDES,
  calibrate,
  emptyEvidence,
  findDefects,
  placeEvidence,
  type Calibration,
  type Detection,
  type EvidenceMaps,
} from '@blendrak/core/inspect';
import { CELL_PX } from '@blendrak/core/kernels';
import { focusAxis, nearSideOf, type FocusAxis, type NearSide } from '@blendrak/core/defocus';
import type { TracedFinding } from '@blendrak/core/trace';
import type { StoredPicture } from '../jobs';
import { cellRegions } from './mergeStack';
import { inParallel, type PlacedFrame, type StepContext } from './types';

export interface InspectedFinding {
  readonly detection: Detection;
  readonly traced: TracedFinding;
}

export interface Inspection {
  readonly axis: FocusAxis;
  readonly calibration: Calibration;
  readonly maps: EvidenceMaps;
  /** Most visible first. */
  readonly findings: readonly InspectedFinding[];
  /** Share of the merge that each frame supplied, by inferred provenance. */
  readonly shares: readonly number[];
}

interface LookedAt {
  readonly calibration: Calibration;
  /** Ends of the series that the last regions were looked at from. */
  readonly sides: readonly NearSide[];
}

const SURE_VOTES = 1000;
const SURE_SHARE = 0.6;

/**
 * Looks at the whole merge.
 * Memory: evidence maps of about 45 bytes per 16 px, and per running task what one 1 MP region of two pictures needs.
 */
export async function inspectMerge(
  merge: StoredPicture,
  width: number,
  height: number,
  frames: readonly PlacedFrame[],
  context: StepContext,
): Promise<Inspection> {
  const axis = focusAxis(frames);
  const regions = cellRegions(width, height);
  const maps = emptyEvidence(Math.floor(width / CELL_PX), Math.floor(height / CELL_PX));
  const scene = { merge, frames, strokes: [] };
  let done = 0;
  const lookAtAll = async (known: readonly NearSide[]): Promise<LookedAt> => {
    let sides = known;
    const votes = { first: 0, last: 0 };
    done = 0;
    const samples = await inParallel(regions, context.parallel, async (region) => {
      const part = await context.run('evidence', { scene, axis, region, sides }, context.signal);
      placeEvidence(maps, part.maps, region, region);
      context.onProgress((0.85 * ++done) / regions.length, `inspected part ${done} of ${regions.length}`);
      votes.first += part.samples.votes.first;
      votes.last += part.samples.votes.last;
      const winner = nearSideOf(votes);
      const sure = votes[winner] >= SURE_VOTES && votes[winner] >= SURE_SHARE * (votes.first + votes.last);
      if (sides.length > 1 && sure) sides = [winner];
      return part.samples;
    });
    return { calibration: calibrate(samples), sides };
  };
  // Once one end of the series is clearly the near one, the rest is only looked at from there; should the vote turn, again.
  const first = await lookAtAll(BOTH_SIDES);
  const { nearSide } = first.calibration;
  const { calibration } = first.sides.includes(nearSide) ? first : await lookAtAll([nearSide]);
  const detections = findDefects({ maps, calibration, axis }, 'focus-stack');
  const names = frames.map((f) => f.name);
  done = 0;
  const findings = await inParallel(detections, context.parallel, async (detection): Promise<InspectedFinding> => {
    const traced = await context.run(
      'trace',
      { scene, detection, gridWidth: maps.width, nearSide: calibration.nearSide, names },
      context.signal,
    );
    context.onProgress(0.85 + (0.15 * ++done) / detections.length, `traced ${done} of ${detections.length} findings`);
    return { detection, traced };
  });
  findings.sort((a, b) => b.traced.severity - a.traced.severity);
  context.onProgress(1, 'inspected');
  return { axis, calibration, maps, findings, shares: sharesOf(maps, frames.length) };
}

function sharesOf(maps: EvidenceMaps, count: number): number[] {
  const counts = new Array<number>(count).fill(0);
  for (const label of maps.closest) if (label < count) counts[label]!++;
  return counts.map((c) => c / maps.closest.length);
}
