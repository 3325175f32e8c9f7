// A mask that spares places: where its donor would bring another defect, what is there stays.
import { dilate, findComponents, outlineOf } from '../image';
import { withoutHoles } from './withoutHoles';
import { CELL_PX } from '../kernels';
import type { OutlineShape } from './shapes';
import { layOutline, outlineRegion } from './outlines';

/** A mask fades over about so many cells: it has to end so far before what it spares. */
const FADE_CELLS = 2;
/** An outline is laid full up to itself, and fades beyond it. */
const FULL = 0.99;
/** Islands of fewer cells are not worth a mask. */
const LEAST_CELLS = 4;

/**
 * What is left of a mask without some cells and those beside them.
 * @param spared cells of the merge's grid
 * @param gridWidth cells across the merge
 * @returns masks as they are laid, not grown any more; none where nothing is left
 */
export function spareCells(shape: OutlineShape, spared: Iterable<number>, gridWidth: number): OutlineShape[] {
  const reached = outlineRegion(shape);
  const [x, y] = [Math.floor(reached.x / CELL_PX), Math.floor(reached.y / CELL_PX)];
  const width = Math.ceil((reached.x + reached.width) / CELL_PX) - x;
  const height = Math.ceil((reached.y + reached.height) / CELL_PX) - y;
  const mask = new Float32Array(width * height);
  layOutline(mask, { x, y, width, height }, shape, CELL_PX);
  const hole = new Uint8Array(width * height);
  for (const cell of spared) {
    const [u, v] = [(cell % gridWidth) - x, Math.floor(cell / gridWidth) - y];
    if (u >= 0 && v >= 0 && u < width && v < height) hole[v * width + u] = 1;
  }
  const wide = dilate({ width, height, data: hole }, FADE_CELLS).data;
  const left = Uint8Array.from(mask, (m, i) => (m >= FULL * shape.strength && !wide[i] ? 1 : 0));
  return withoutHoles(left, width, height)
    .flatMap((data) => findComponents({ width, height, data }))
    .filter(({ cells }) => cells.length >= LEAST_CELLS)
    .map((component) => ({
      ...shape,
      growPx: 0,
      points: outlineOf(component, width).map(([u, v]) => [(u + x) * CELL_PX, (v + y) * CELL_PX] as const),
    }));
}
