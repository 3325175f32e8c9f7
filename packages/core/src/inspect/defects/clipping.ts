// clipping: the merge is at its end although an exposure has structure there, or because none has.
import { dilate, findComponents, median } from '../../image';
import { CELL_PX } from '../../kernels';
import { confidenceOf, JUST_VISIBLE, placeComponent, type Detection } from '../detection';
import type { Detector, Evidence } from '../detector';
import { growRegions } from '../grow';
import { agreement } from '../layers/agreement';
import { ends } from '../layers/ends';

const MIN_CELLS = 24;
/** Cells that an edge lends its detail to. */
const RIM_CELLS = 4;

function findClipping(evidence: Evidence): Detection[] {
  return [...findTorn(evidence), ...findBurnt(evidence)];
}

/** Light sources are white, and small: what is larger than this, px, is a place that an exposure was missing for. */
const LARGER_THAN_LAMPS = 1000;
const STRIP = 1;
/** The panes of a window are one place: what lies between is up to twice this wide, cells. */
const BARS = 5;
/** It is told by the exposures alone, whatever the merge made of it. */
const BURNT_SURE = 0.9;

/** Places that every exposure burns. What is lost there nobody knows: as much as there is elsewhere in the picture, say. */
function findBurnt(evidence: Evidence): Detection[] {
  const { width, height } = evidence;
  const { burnt } = evidence.of(ends);
  const { texture, telling } = evidence.of(agreement);
  const elsewhere = texture.filter((_, i) => telling[i]! > 0);
  const rms = Math.sqrt(elsewhere.reduce((sum, v) => sum + v * v, 0) / Math.max(1, elsewhere.length));
  // Along edges compression leaves nothing as it was, on either side: such strips are narrow.
  const broad = dilate(dilate({ width, height, data: burnt }, -STRIP), STRIP).data;
  const joined = dilate(dilate({ width, height, data: broad }, BARS), -BARS);
  return findComponents(joined).flatMap((component): Detection[] => {
    const area = component.cells.filter((i) => broad[i]).length * CELL_PX ** 2;
    if (area < LARGER_THAN_LAMPS) return [];
    return [
      {
        defect: 'clipping',
        cells: component.cells,
        ...placeComponent(component, width),
        confidence: BURNT_SURE,
        measurements: { burntInAll: { value: area / 1000, unit: '1000 px' } },
        rms,
        noFrameHasIt: true,
      },
    ];
  });
}

/** Places where an exposure has what the merge has not. */
function findTorn(evidence: Evidence): Detection[] {
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
  layers: [ends, agreement],
  find: findClipping,
  isOfTone: true,
  donorBy: 'detail',
  cause: ({ measurements, shown, donor }) =>
    measurements['burntInAll']
      ? 'White in every exposure: none of them was short enough to hold what is there.'
      : measurements['shadowsLost']
        ? `The merge is black here, as in ${shown}; ${donor} has structure in these shadows.`
        : `The merge is white here, as in ${shown}; ${donor} has structure in these highlights.`,
  advice:
    'Paint the place from the donor; a soft brush hides the change of exposure. Where no exposure holds it, shoot one two stops shorter next time.',
};
