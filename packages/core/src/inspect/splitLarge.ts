// A defect that runs through the whole picture, in parts that a person can look at one by one.
import { findComponents } from '../image';
import { placeComponent, type Detection } from './detection';

/** Crumbs at a cut that are not worth a part of their own. */
const MIN_CELLS = 40;

/**
 * Halves a detection across its longer side until each part's box holds no more than `mostCells`.
 * @param gridWidth and gridHeight of the evidence grid its cells are counted in
 * @returns the detection itself when it is small enough; parts keep its confidence and measurements
 */
export function splitLarge(
  detection: Detection,
  mostCells: number,
  gridWidth: number,
  gridHeight: number,
): Detection[] {
  const columns = detection.cells.map((i) => i % gridWidth);
  const rows = detection.cells.map((i) => Math.floor(i / gridWidth));
  const [x0, x1] = rangeOf(columns);
  const [y0, y1] = rangeOf(rows);
  if ((x1 - x0 + 1) * (y1 - y0 + 1) <= mostCells) return [detection];
  const alongX = x1 - x0 > y1 - y0;
  const middle = alongX ? (x0 + x1) / 2 : (y0 + y1) / 2;
  return [true, false].flatMap((lower) => {
    const data = new Uint8Array(gridWidth * gridHeight);
    detection.cells.forEach((i, k) => {
      if ((alongX ? columns[k]! : rows[k]!) <= middle === lower) data[i] = 1;
    });
    return findComponents({ width: gridWidth, height: gridHeight, data })
      .filter((c) => c.cells.length >= MIN_CELLS)
      .flatMap((c) =>
        splitLarge({ ...detection, cells: c.cells, ...placeComponent(c, gridWidth) }, mostCells, gridWidth, gridHeight),
      );
  });
}

function rangeOf(values: readonly number[]): [number, number] {
  return values.reduce(([least, most], v) => [Math.min(least, v), Math.max(most, v)], [Infinity, -Infinity]);
}
