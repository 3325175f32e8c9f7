// clipping: the merge is at its end although an exposure has structure there.
import { dilate, median } from '../../image';
import { confidenceOf, JUST_VISIBLE, placeComponent, type Detection } from '../detection';
import type { Detector, Evidence } from '../detector';
import { growRegions } from '../grow';
import { ends } from '../layers/ends';

const MIN_CELLS = 24;
/** Cells that an edge lends its detail to. */
const RIM_CELLS = 4;

function findClipping(evidence: Evidence): Detection[] {
  const { width, height } = evidence;
  const { end, lost } = evidence.of(ends);
  const misses = (i: number): boolean => lost[i]! > 0.5 * JUST_VISIBLE;
  const core = Uint8Array.from(lost, (_, i) => (misses(i) ? 1 : 0));
  // The rim of the place has the detail of its own edge, and is as clipped as the middle.
  const around = dilate({ width, height, data: core }, RIM_CELLS).data;
  const weak = core.map((v, i) => (v || (around[i] && end[i]) ? 1 : 0));
  const strong = Uint8Array.from(lost, (v) => (v > JUST_VISIBLE ? 1 : 0));
  const regions = growRegions({ width, height, data: weak }, strong, {
    minCells: MIN_CELLS,
    minCore: MIN_CELLS / 2,
    closeCells: 2,
  });
  return regions.flatMap((component): Detection[] => {
    const own = component.cells.filter(misses);
    if (own.length < MIN_CELLS) return [];
    const rms = median(own.map((i) => lost[i]!));
    const confidence = confidenceOf(rms, JUST_VISIBLE);
    if (confidence < 0.5) return [];
    const bright = own.filter((i) => end[i] === 1).length >= own.length / 2;
    return [
      {
        defect: 'clipping',
        cells: component.cells,
        ...placeComponent(component, width),
        confidence,
        measurements: {
          [bright ? 'highlightsLost' : 'shadowsLost']: { value: 100 * rms, unit: '% of full scale' },
        },
        rms,
      },
    ];
  });
}

export const clipping: Detector = {
  defect: 'clipping',
  kinds: ['bracket'],
  layers: [ends],
  find: findClipping,
  isOfTone: true,
  donorBy: 'detail',
  cause: ({ measurements, shown, donor }) =>
    measurements['shadowsLost']
      ? `The merge is black here, as in ${shown}; ${donor} has structure in these shadows.`
      : `The merge is white here, as in ${shown}; ${donor} has structure in these highlights.`,
  advice: 'Paint the place from the donor; a soft brush hides the change of exposure.',
};
