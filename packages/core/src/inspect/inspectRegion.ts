// One region looked at by itself: its evidence without the margin, or its defects in the whole picture's cells.
import type { CellStack } from '../cells';
import type { Region } from '../image';
import { CELL_PX } from '../kernels';
import type { Detection } from './detection';
import {
  emptyEvidence,
  evidenceOf,
  measureRegion,
  placeEvidence,
  wantedLooking,
  type Looking,
  type RegionEvidence,
  type Yardsticks,
} from './evidence';
import { findDefects } from './findDefects';
import type { SetFacts } from './layers/layer';

/**
 * Evidence of a region.
 * @param stack cells of the region and a margin around it
 * @param region in merge px, on the cell grid, within the stack's
 */
export function regionEvidence(stack: CellStack, facts: SetFacts, region: Region, looking: Looking): RegionEvidence {
  const { maps, samples } = measureRegion(stack, facts, looking);
  const inner = emptyEvidence(facts.kind, region.width / CELL_PX, region.height / CELL_PX);
  const { x, y } = stack.region;
  placeEvidence(inner, maps, { ...stack.region, x: x - region.x, y: y - region.y }, { ...region, x: 0, y: 0 });
  return { maps: inner, samples };
}

/**
 * Defects of a region by yardsticks of the whole picture.
 * @param gridWidth, gridHeight cells of the whole picture
 * @returns detections in cells and px of the whole picture
 */
export function regionDefects(
  stack: CellStack,
  facts: SetFacts,
  yardsticks: Yardsticks,
  gridWidth: number,
  gridHeight: number,
): Detection[] {
  const { maps } = measureRegion(stack, facts, wantedLooking(facts.kind, yardsticks));
  const { x, y } = stack.region;
  return findDefects(evidenceOf(maps, facts, yardsticks), gridWidth * gridHeight).map((d): Detection => ({
    ...d,
    cells: d.cells.map((i) => (Math.floor(i / maps.width) + y / CELL_PX) * gridWidth + (i % maps.width) + x / CELL_PX),
    polygon: d.polygon.map(([px, py]): [number, number] => [px + x, py + y]),
    bbox: { ...d.bbox, x: d.bbox.x + x, y: d.bbox.y + y },
  }));
}
