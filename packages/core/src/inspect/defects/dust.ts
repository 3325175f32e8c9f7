// dust: a speck on the sensor, dark at one place of every frame, that the merge took over.
import { findComponents } from '../../image';
import { CELL_PX } from '../../kernels';
import { confidenceOf, placeComponent, type Detection } from '../detection';
import type { Detector, Evidence } from '../detector';
import { MERGE_KINDS } from '../layers/layer';
import { sensorSpots } from '../layers/sensorSpots';
import type { SensorSpot } from '../sensor/spotsOnSensor';

/** Share of an encoded value whose lack is seen in an even surround: two just noticeable steps. */
const VISIBLE = 0.02;
/** Encoded; what lacks a share of it lacks so much. */
const MID_TONE = 0.5;
/** Encoded values are light to the power of one over this. */
const GAMMA = 2.2;

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
        measurements: { missingLight: { value: 100 * (1 - (1 - depth) ** GAMMA), unit: '%' } },
        rms: MID_TONE * depth,
        shownBy: dirtyAt(spot.cells, evidence),
      },
    ];
  });
}

/** Specks whose middles lie farther apart than so many radii do not meet. */
const MEET = 2.2;

/** Frames that have a speck at these cells: those that the merge shows there, and those that hardly moved against them. */
function dirtyAt(cells: readonly number[], { facts, width, picture, of }: Evidence): number[] {
  const { frame } = of(sensorSpots);
  const shown = new Set(cells.map((i) => frame[i]! - 1));
  const middle = (from: number, cell: (i: number) => number): number =>
    CELL_PX * (from + cells.reduce((s, i) => s + cell(i), 0) / cells.length + 0.5);
  const [x, y] = [middle(picture.x, (i) => i % width), middle(picture.y, (i) => Math.floor(i / width))];
  for (const { places, radiusPx } of (facts.surveys[sensorSpots.name] ?? []) as readonly SensorSpot[])
    places.forEach((place, k) => {
      if (place && Math.hypot(place[0] - x, place[1] - y) < MEET * radiusPx) shown.add(k);
    });
  return [...shown];
}

export const dust: Detector = {
  defect: 'dust',
  kinds: MERGE_KINDS,
  layers: [sensorSpots],
  find: findDust,
  isOfTone: true,
  donorBy: 'detail',
  fillsFromAround: true,
  cause: ({ shown, donor }) =>
    donor === ''
      ? `A speck on the sensor: every frame has it at the same place, ${shown} brought it here, and no frame shows this place without it.`
      : `A speck on the sensor: every frame has it at the same place. ${shown} brought it here; in ${donor} it lies elsewhere.`,
  advice:
    'Paint over it with the donor, a little wider than the spot; without one fill it from around. Clean the sensor before the next shoot.',
};
