// One region looked at by itself: its evidence without the margin, or its defects in the whole picture's cells.
import type { CellStack } from '../cells';
import type { Region } from '../image';
import { CELL_PX } from '../kernels';
import { withoutSpots } from './besideSpots';
import type { Detection } from './detection';
import {
  emptyEvidence,
  evidenceOf,
  measureRegion,
  placeEvidence,
  wantedLooking,
  type EvidenceMaps,
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
  return defectsOf(maps, stack.region, facts, yardsticks, gridWidth, gridHeight);
}

/**
 * Defects of a whole merge, or of what of it is picture.
 * @param maps of the whole merge
 */
export function mergeDefects(maps: EvidenceMaps, facts: SetFacts, yardsticks: Yardsticks): Detection[] {
  return defectsOf(maps, { x: 0, y: 0 }, facts, yardsticks, maps.width, maps.height);
}

/** Defects of maps that begin at a place of the whole picture, looked for in what is picture. */
function defectsOf(
  maps: EvidenceMaps,
  origin: { readonly x: number; readonly y: number },
  facts: SetFacts,
  yardsticks: Yardsticks,
  gridWidth: number,
  gridHeight: number,
): Detection[] {
  const whole: Region = { ...origin, width: maps.width * CELL_PX, height: maps.height * CELL_PX };
  const part = facts.inside ? common(whole, facts.inside) : whole;
  if (part.width < CELL_PX || part.height < CELL_PX) return [];
  const seen = part.width === whole.width && part.height === whole.height ? maps : cut(maps, whole, part, facts.kind);
  const { x, y } = part;
  const all = facts.inside ?? { x: 0, y: 0, width: gridWidth * CELL_PX, height: gridHeight * CELL_PX };
  const picture: Region = {
    x: (x - all.x) / CELL_PX,
    y: (y - all.y) / CELL_PX,
    width: all.width / CELL_PX,
    height: all.height / CELL_PX,
  };
  const found = findDefects(evidenceOf(seen, facts, yardsticks, picture)).map((d): Detection => ({
    ...d,
    cells: d.cells.map((i) => (Math.floor(i / seen.width) + y / CELL_PX) * gridWidth + (i % seen.width) + x / CELL_PX),
    polygon: d.polygon.map(([px, py]): [number, number] => [px + x, py + y]),
    bbox: { ...d.bbox, x: d.bbox.x + x, y: d.bbox.y + y },
  }));
  return withoutSpots(found, facts, gridWidth, gridHeight);
}

function common(a: Region, b: Region): Region {
  const [x, y] = [Math.max(a.x, b.x), Math.max(a.y, b.y)];
  const width = Math.min(a.x + a.width, b.x + b.width) - x;
  const height = Math.min(a.y + a.height, b.y + b.height) - y;
  return { x, y, width: Math.max(0, width), height: Math.max(0, height) };
}

function cut(maps: EvidenceMaps, whole: Region, part: Region, kind: SetFacts['kind']): EvidenceMaps {
  const out = emptyEvidence(kind, part.width / CELL_PX, part.height / CELL_PX);
  const from = { ...whole, x: whole.x - part.x, y: whole.y - part.y };
  placeEvidence(out, maps, from, { ...part, x: 0, y: 0 });
  return out;
}
