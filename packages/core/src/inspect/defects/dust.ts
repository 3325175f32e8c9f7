// dust: a speck on the sensor, dark at one place of every frame, that the merge took over.
import { findComponents } from '../../image';
import { confidenceOf, placeComponent, type Detection } from '../detection';
import type { Detector, Evidence } from '../detector';
import { MERGE_KINDS } from '../layers/layer';
import { sensorSpots } from '../layers/sensorSpots';

/** Missing light that is seen in an even surround, as a share: two just noticeable steps. */
const VISIBLE = 0.02;
/** Change of an encoded mid tone per share of its light: 0.5 / 2.2. */
const ENCODED_PER_LIGHT = 0.23;

function findDust(evidence: Evidence): Detection[] {
  const { width, height } = evidence;
  const { frame, dip } = evidence.of(sensorSpots);
  const data = Uint8Array.from(frame, (f) => (f > 0 ? 1 : 0));
  return findComponents({ width, height, data }).flatMap((spot): Detection[] => {
    const depth = Math.max(...spot.cells.map((i) => dip[i]!));
    const confidence = confidenceOf(depth, VISIBLE);
    if (confidence < 0.5) return [];
    return [
      {
        defect: 'dust',
        cells: spot.cells,
        ...placeComponent(spot, width),
        confidence,
        measurements: { missingLight: { value: 100 * depth, unit: '%' } },
        rms: ENCODED_PER_LIGHT * depth,
        shownBy: [...new Set(spot.cells.map((i) => frame[i]! - 1))],
      },
    ];
  });
}

export const dust: Detector = {
  defect: 'dust',
  kinds: MERGE_KINDS,
  layers: [sensorSpots],
  find: findDust,
  isOfTone: true,
  donorBy: 'detail',
  cause: ({ shown, donor }) =>
    donor === ''
      ? `A speck on the sensor: every frame has it at the same place, and ${shown} brought it here.`
      : `A speck on the sensor: every frame has it at the same place. ${shown} brought it here; in ${donor} it lies elsewhere.`,
  advice: 'Paint over it with the donor, a little wider than the spot. Clean the sensor before the next shoot.',
};
