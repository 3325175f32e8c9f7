// misalignment: the merge shows a part that no frame shows at this place.
import { median } from '../../image';
import { confidenceOf, placeComponent, type Detection } from '../detection';
import type { Detector, Evidence } from '../detector';
import { growRegions } from '../grow';

// Two unrelated pictures with the same detail differ by twice its variance, mixtures of two frames by less than it.
const UNRELATED = 2;
const MIN_CELLS = 64;

/**
 * Finds places whose pixels no frame explains although the frames have detail there. A part shifted by a fraction of
 * its finest detail still resembles its frame and is not found by this measure.
 */
function findMisalignments({ maps }: Evidence): Detection[] {
  const weak = new Uint8Array(maps.foreign.length);
  const strong = new Uint8Array(maps.foreign.length);
  for (let i = 0; i < weak.length; i++) {
    if (!maps.significant[i]) continue;
    weak[i] = maps.foreign[i]! > UNRELATED * 0.6 ? 1 : 0;
    strong[i] = maps.foreign[i]! > UNRELATED ? 1 : 0;
  }
  const regions = growRegions({ width: maps.width, height: maps.height, data: weak }, strong, {
    minCells: MIN_CELLS,
    minCore: MIN_CELLS / 2,
    closeCells: 1,
  });
  return regions.flatMap((region): Detection[] => {
    const foreign = median(region.cells.filter((i) => weak[i]).map((i) => maps.foreign[i]!));
    const confidence = confidenceOf(foreign, UNRELATED);
    if (confidence < 0.5) return [];
    return [
      {
        defect: 'misalignment',
        cells: region.cells,
        ...placeComponent(region, maps.width),
        confidence,
        measurements: { unexplained: { value: foreign, unit: 'variance over detail' } },
      },
    ];
  });
}

export const misalignment: Detector = {
  defect: 'misalignment',
  kinds: ['focus-stack'],
  find: findMisalignments,
  donorBy: 'detail',
  cause: ({ donor }) =>
    `No frame shows this part here: it was moved or warped in the merge. ${donor} has the place as it was.`,
  advice: 'Paint the donor over the whole part, edge and all, so that no double contour stays.',
};
