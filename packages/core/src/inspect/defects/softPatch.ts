// soft-patch: the merge shows a softer frame than the set has to offer.
import { median } from '../../image';
import { confidenceOf, JUST_VISIBLE, placeComponent, type Detection } from '../detection';
import type { Detector, Evidence } from '../detector';
import { growRegions } from '../grow';
import { sharpness } from '../layers/sharpness';
import { unexplained } from '../layers/unexplained';

// Half the detail energy gone is the least loss an eye sees at 100 %; more is asked where the set itself scatters more.
const VISIBLE_LOSS = 1;
const SCATTER = 6;
const MIN_CELLS = 24;
// A merge that shows some frame, however soft, differs from it by less than the set's own detail.
const EXPLAINED = 1;

/**
 * Finds places where the sharpest frame has clearly more detail than the merge.
 * A place no frame explains (something else is wrong there) is left to other detectors.
 */
function findSoftPatches(evidence: Evidence): Detection[] {
  const { width, height } = evidence;
  const { significant, softness, detailLost } = evidence.of(sharpness);
  const { centre, spread } = evidence.yardstick(sharpness);
  const { share } = evidence.of(unexplained);
  const threshold = Math.max(VISIBLE_LOSS, SCATTER * spread);
  const n = softness.length;
  const weak = new Uint8Array(n);
  const strong = new Uint8Array(n);
  for (let i = 0; i < n; i++) {
    if (!significant[i]) continue;
    const loss = softness[i]! - centre;
    weak[i] = loss > threshold * 0.6 ? 1 : 0;
    strong[i] = loss > threshold ? 1 : 0;
  }
  const regions = growRegions({ width, height, data: weak }, strong, {
    minCells: MIN_CELLS,
    minCore: MIN_CELLS / 2,
    closeCells: 2,
  });
  return regions.flatMap((region): Detection[] => {
    const own = region.cells.filter((i) => weak[i]);
    const explained = own.filter((i) => share[i]! < EXPLAINED).length / own.length;
    const loss = median(own.map((i) => softness[i]! - centre));
    const lostRms = Math.sqrt(own.reduce((sum, i) => sum + detailLost[i]!, 0) / own.length);
    // Clear against the set's own scatter, and strong enough to be seen.
    const clear = Math.min(confidenceOf(loss, threshold * 0.8), confidenceOf(lostRms, JUST_VISIBLE));
    const confidence = clear * Math.min(1, explained / 0.4);
    if (confidence < 0.5) return [];
    return [
      {
        defect: 'soft-patch',
        cells: region.cells,
        ...placeComponent(region, width),
        confidence,
        measurements: {
          detailLoss: { value: loss, unit: 'log2' },
          explainedShare: { value: explained, unit: '1' },
        },
      },
    ];
  });
}

export const softPatch: Detector = {
  defect: 'soft-patch',
  kinds: ['focus-stack'],
  layers: [sharpness, unexplained],
  find: findSoftPatches,
  donorBy: 'detail',
  cause: ({ shown, donor }) => `The mask took ${shown}, which is out of focus here; ${donor} shows this place sharp.`,
  advice: 'Pick the donor in the trace strip and paint over the patch; a soft brush hides the border.',
};
