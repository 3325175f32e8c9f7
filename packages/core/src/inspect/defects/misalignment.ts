// misalignment: the merge shows a part that no frame shows at this place.
import { quantile } from '../../image';
import { confidenceOf, placeComponent, type Detection } from '../detection';
import type { Detector, Evidence } from '../detector';
import { growRegions } from '../grow';
import { agreement } from '../layers/agreement';
import { MERGE_KINDS } from '../layers/layer';
import { sharpness } from '../layers/sharpness';
import { unexplained } from '../layers/unexplained';
import { findStrangers } from '../strangers';

// Two unrelated pictures with the same detail differ by twice its variance, mixtures of two frames by less than it.
const UNRELATED = 2;
/** What three of four cells keep below, so many times, is far out in the tail: a merge finished elsewhere departs from its frames all over. */
const OVER_USUAL = 5;
/** An edge that is broken shows in few cells, but in those plainly. */
const MIN_CELLS = 32;
/** What the core of a place has is taken for all of it. */
const CORE_QUANTILE = 0.75;

/**
 * Finds places whose pixels no frame explains although the frames have detail there. A part shifted by a fraction of
 * its finest detail still resembles its frame and is not found by this measure.
 */
function findMisalignments(evidence: Evidence): Detection[] {
  if (evidence.facts.kind !== 'focus-stack')
    return findStrangers(evidence)
      .filter((s) => s.framesAgree)
      .map((s): Detection => ({ defect: 'misalignment', ...s.detection }));
  const { width, height } = evidence;
  const { significant } = evidence.of(sharpness);
  const { share } = evidence.of(unexplained);
  // Merges inspected before it was measured have none.
  const usual = evidence.yardstick(unexplained)?.usual ?? 0;
  const threshold = Math.max(UNRELATED, OVER_USUAL * usual);
  const weak = new Uint8Array(share.length);
  const strong = new Uint8Array(share.length);
  for (let i = 0; i < weak.length; i++) {
    if (!significant[i]) continue;
    weak[i] = share[i]! > threshold * 0.6 ? 1 : 0;
    strong[i] = share[i]! > threshold ? 1 : 0;
  }
  const regions = growRegions({ width, height, data: weak }, strong, {
    minCells: MIN_CELLS,
    minCore: MIN_CELLS / 2,
    closeCells: 1,
  });
  return regions.flatMap((region): Detection[] => {
    // Around its core a place fades into what is explained.
    const foreign = quantile(
      region.cells.filter((i) => weak[i]).map((i) => share[i]!),
      CORE_QUANTILE,
    );
    const confidence = confidenceOf(foreign, threshold);
    if (confidence < 0.5) return [];
    return [
      {
        defect: 'misalignment',
        cells: region.cells,
        ...placeComponent(region, width),
        confidence,
        measurements: { unexplained: { value: foreign, unit: 'variance over detail' } },
      },
    ];
  });
}

export const misalignment: Detector = {
  defect: 'misalignment',
  kinds: MERGE_KINDS,
  layers: [sharpness, unexplained, agreement],
  find: findMisalignments,
  donorBy: 'detail',
  cause: ({ donor }) =>
    `No frame shows this part here: it was moved or warped in the merge. ${donor} has the place as it was.`,
  advice: 'Paint the donor over the whole part, edge and all, so that no double contour stays.',
};
