// fringe: coloured rims along edges that other frames of the set show without colour.
import { median } from '../../image';
import { confidenceOf, JUST_VISIBLE, placeComponent, type Detection } from '../detection';
import type { Detector, Evidence } from '../detector';
import { growRegions } from '../grow';
import { colourEdges } from '../layers/colourEdges';

const MIN_CELLS = 20;
/** Colour at an edge shows later than lightness, and cells of 4 px see wide rims only: those are strong. */
const [WEAK, PLAIN, STRONG] = [1.5 * JUST_VISIBLE, 2 * JUST_VISIBLE, 2.5 * JUST_VISIBLE];

/** Views of different directions differ more at edges than slices of one: there a rim has to be so many times as strong. */
const BETWEEN_VIEWS = 1.6;

function findFringes(evidence: Evidence): Detection[] {
  const { width, height } = evidence;
  const times = evidence.facts.kind === 'panorama' ? BETWEEN_VIEWS : 1;
  const { excess } = evidence.of(colourEdges);
  const weak = Uint8Array.from(excess, (v) => (v > times * WEAK ? 1 : 0));
  const strong = Uint8Array.from(excess, (v) => (v > times * STRONG ? 1 : 0));
  return growRegions({ width, height, data: weak }, strong, {
    minCells: MIN_CELLS,
    minCore: MIN_CELLS / 2,
    closeCells: 3,
  }).flatMap((region): Detection[] => {
    const rms = median(region.cells.filter((i) => weak[i]).map((i) => excess[i]!));
    const confidence = confidenceOf(rms, times * PLAIN);
    if (confidence < 0.5) return [];
    return [
      {
        defect: 'fringe',
        cells: region.cells,
        ...placeComponent(region, width),
        confidence,
        measurements: { colour: { value: 100 * rms, unit: '% of full scale' } },
        rms,
      },
    ];
  });
}

export const fringe: Detector = {
  defect: 'fringe',
  // Exposures that are clipped differ in colour at every bright edge: in brackets that cried at nothing more often than not.
  kinds: ['focus-stack', 'panorama'],
  layers: [colourEdges],
  find: findFringes,
  donorBy: 'detail',
  cause: ({ shown, donor }) =>
    `Edges have coloured rims here, as in ${shown}: its lens errors were not corrected like those of the others. ${donor} shows the edges without colour.`,
  advice: 'Correct all raw files of a set alike and merge again, or paint the edges from the donor.',
};
