// mask-speckle: a place in which the choice of frames was left to noise: crumbs of other frames scattered over it.
import { dilate, findComponents } from '../../image';
import { confidenceOf, JUST_VISIBLE, placeComponent, type Detection } from '../detection';
import type { Detector, Evidence } from '../detector';
import { crumbs } from '../layers/crumbs';

/** Crumbs this close belong together, cells. */
const TOGETHER = 3;
/** Fewer are specks that a repair leaves by itself. */
const LEAST_CRUMBS = 12;
/** Of the place, this share are crumbs. */
const LEAST_SHARE = 0.05;

function findSpeckle(evidence: Evidence): Detection[] {
  const { width, height } = evidence;
  const { odd, departure } = evidence.of(crumbs);
  const seen = Uint8Array.from(odd, (v, i) => (v && departure[i]! > JUST_VISIBLE ? 1 : 0));
  if (!seen.includes(1)) return [];
  const near = dilate(dilate({ width, height, data: seen }, TOGETHER), 1 - TOGETHER);
  return findComponents(near).flatMap((component): Detection[] => {
    const own = component.cells.filter((i) => seen[i]);
    if (own.length < LEAST_CRUMBS || own.length < LEAST_SHARE * component.cells.length) return [];
    const rms = Math.sqrt(own.reduce((s, i) => s + departure[i]! ** 2, 0) / own.length);
    // Many crumbs are no chance, few may be.
    const confidence = Math.min(confidenceOf(rms, 1.5 * JUST_VISIBLE), confidenceOf(own.length, LEAST_CRUMBS));
    if (confidence < 0.5) return [];
    return [
      {
        defect: 'mask-speckle',
        cells: component.cells,
        ...placeComponent(component, width),
        confidence,
        measurements: {
          crumbs: { value: own.length, unit: '1' },
          departure: { value: 100 * rms, unit: '% of full scale' },
        },
        rms,
      },
    ];
  });
}

export const maskSpeckle: Detector = {
  defect: 'mask-speckle',
  // In panoramas water and leaves are crumbs of other moments by nature: there it found none of three and cried at six.
  kinds: ['focus-stack'],
  layers: [crumbs],
  find: findSpeckle,
  donorBy: 'detail',
  cause: ({ measurements, donor }) =>
    `${measurements['crumbs']?.value ?? 'Many'} crumbs of other frames lie scattered here: where little told the frames apart, noise chose. ${donor} has the whole place.`,
  advice: 'Paint the whole place from the donor; a border where nothing is to be seen hides best.',
};
