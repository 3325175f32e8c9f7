// halo: light of a defocused near edge, spread over the background beside it, although another frame avoids it.
import { dilate, median } from '../../image';
import { confidenceOf, placeComponent, VISIBLE_SQUARED, type Detection } from '../detection';
import type { Detector, Evidence } from '../detector';
import { growRegions } from '../grow';
import { lift } from '../layers/lift';
import { movement } from '../layers/movement';
import { spill } from '../layers/spill';

import { findOvershoots } from './overshoot';

const MIN_CELLS = 32;
/**
 * Where something that moved lies over more than this share of a place, or so many cells beside it, frames differ by that and not by the light
 * that they spread.
 */
const [MOST_MOVED, BESIDE_MOVED] = [0.25, 3];

/** Finds bands of spread light beside near edges. */
function findHalos(evidence: Evidence): Detection[] {
  if (evidence.facts.kind === 'bracket') return findOvershoots(evidence);
  const { width, height } = evidence;
  const { nearSide, nearSideSure } = evidence.yardstick(spill);
  const excess = evidence.of(spill)[nearSide];
  const weak = Uint8Array.from(excess, (v) => (v > VISIBLE_SQUARED ? 1 : 0));
  const strong = Uint8Array.from(excess, (v) => (v > 2 * VISIBLE_SQUARED ? 1 : 0));
  const regions = growRegions({ width, height, data: weak }, strong, {
    minCells: MIN_CELLS,
    minCore: MIN_CELLS / 2,
    closeCells: 1,
  });
  // Blur alone can make an edge odd; a thing stands out in one frame alone.
  const things = Uint8Array.from(evidence.of(movement).thing, (v) => (v ? 1 : 0));
  const moved = dilate({ width, height, data: things }, BESIDE_MOVED).data;
  return regions.flatMap((region): Detection[] => {
    const own = region.cells.filter((i) => weak[i]);
    if (own.filter((i) => moved[i]).length > MOST_MOVED * own.length) return [];
    const error = median(own.map((i) => excess[i]!));
    // One-sidedness of the edges (which end is near) carries the verdict, so its doubt is the finding's doubt.
    const confidence = confidenceOf(Math.sqrt(error), Math.sqrt(VISIBLE_SQUARED)) * Math.min(1, nearSideSure / 0.7);
    if (confidence < 0.5) return [];
    return [
      {
        defect: 'halo',
        cells: region.cells,
        ...placeComponent(region, width),
        confidence,
        measurements: { spreadLight: { value: 100 * Math.sqrt(error), unit: '% of full scale' } },
      },
    ];
  });
}

export const halo: Detector = {
  defect: 'halo',
  kinds: ['focus-stack', 'bracket'],
  layers: [spill, lift, movement],
  find: findHalos,
  isOfTone: true,
  donorBy: 'spill',
  cause: ({ measurements, shown, donor }) =>
    measurements['overshoot']
      ? `The blend overshoots along a strong edge: it is ${measurements['overshoot'].value > 0 ? 'lighter' : 'darker'} here than the scene is, and less so farther away. ${donor} has the place without it.`
      : `The merge shows ${shown}, in which the near edge is out of focus and spreads over the background; ${donor} has less of it.`,
  advice: 'Paint along the edge from the donor with a narrow brush; look at the edge again afterwards.',
};
