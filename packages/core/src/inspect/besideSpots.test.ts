// What a speck of one frame is taken for, and what lies beside it by itself.
import { FULL_SIZE } from '../cells';
import type { Detection } from './detection';
import type { SetFacts } from './layers/layer';
import { sensorSpots } from './layers/sensorSpots';
import type { SensorSpot } from './sensor/spotsOnSensor';
import { withoutSpots } from './besideSpots';

const [W, H] = [60, 40];
const spot: SensorSpot = { sensor: [9, 9], radiusPx: 8, depth: 0.1, places: [null, [100, 60]] };
const factsWith = (...spots: SensorSpot[]): SetFacts => ({
  ...{ kind: 'panorama', axis: null, inside: null, working: FULL_SIZE, grain: null },
  surveys: { [sensorSpots.name]: spots },
});
/** A detection over a square of cells about a place, px. */
function detection(defect: Detection['defect'], x: number, y: number, half: number): Detection {
  const cells: number[] = [];
  for (let cy = -half; cy <= half; cy++)
    for (let cx = -half; cx <= half; cx++) cells.push((Math.floor(y / 4) + cy) * W + Math.floor(x / 4) + cx);
  return { defect, cells, bbox: { x, y, width: 1, height: 1 }, polygon: [], confidence: 0.9, measurements: {} };
}

it('softness and ghosts at a speck of some frame are that speck; dust itself and borders stay', () => {
  const all = (['soft-patch', 'ghost', 'dust', 'border'] as const).map((d) => detection(d, 100, 60, 2));
  expect(withoutSpots(all, factsWith(spot), W, H).map((d) => d.defect)).toEqual(['dust', 'border']);
  expect(withoutSpots(all, factsWith(), W, H)).toEqual(all);
});

it('what is much larger than the speck, or lies elsewhere, stays', () => {
  const large = detection('soft-patch', 100, 60, 8);
  const elsewhere = detection('ghost', 160, 60, 2);
  expect(withoutSpots([large, elsewhere], factsWith(spot), W, H)).toEqual([large, elsewhere]);
});
