// Where some frame has a speck of dust: frames differ there, and one may look sharper than another, for no reason of the merge's.
import { CELL_PX } from '../kernels';
import type { Defect, Detection } from './detection';
import type { SetFacts } from './layers/layer';
import { sensorSpots } from './layers/sensorSpots';
import type { SensorSpot } from './sensor/spotsOnSensor';

/** A speck reaches so many times its radius, and a cell besides. */
const REACH = 1.5;
/** Detections that lie on specks by this share are about them. */
const SHARE = 0.4;
/** What a speck of one frame can be taken for. Borders and what is burnt have nothing to do with it. */
const TAKEN_FOR: ReadonlySet<Defect> = new Set([
  'soft-patch',
  'ghost',
  'misalignment',
  'mask-speckle',
  'fringe',
  'seam',
]);

/**
 * Leaves out what is only a speck that one frame has and another has not.
 * @param width, height of the grid in which the detections count their cells
 */
export function withoutSpots(
  detections: readonly Detection[],
  facts: SetFacts,
  width: number,
  height: number,
): Detection[] {
  const spots = (facts.surveys[sensorSpots.name] ?? []) as readonly SensorSpot[];
  if (spots.length === 0) return [...detections];
  const cells = new Set(spots.flatMap((spot) => cellsOf(spot, width, height)));
  const lies = ({ cells: own }: Detection): boolean => own.filter((i) => cells.has(i)).length >= SHARE * own.length;
  return detections.filter((d) => !TAKEN_FOR.has(d.defect) || !lies(d));
}

function cellsOf({ places, radiusPx }: SensorSpot, width: number, height: number): number[] {
  const reach = (REACH * radiusPx) / CELL_PX + 1;
  return places.flatMap((place) => {
    if (!place) return [];
    const [cx, cy] = [place[0] / CELL_PX - 0.5, place[1] / CELL_PX - 0.5];
    const found: number[] = [];
    for (let y = Math.max(0, Math.ceil(cy - reach)); y <= Math.min(height - 1, cy + reach); y++)
      for (let x = Math.max(0, Math.ceil(cx - reach)); x <= Math.min(width - 1, cx + reach); x++)
        if (Math.hypot(x - cx, y - cy) <= reach) found.push(y * width + x);
    return found;
  });
}
