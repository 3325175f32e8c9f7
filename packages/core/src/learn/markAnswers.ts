// A learner's marks against the truth: found, missed, invented, named rightly, donor rightly chosen.
import { paintArea, type Region } from '../image';

/** A defect that was hidden. */
export interface HiddenFault {
  readonly defect: string;
  /** Cells of the picture's grid. */
  readonly cells: readonly number[];
  /** Frames to repair it from, by name; empty where none does. */
  readonly donors: readonly string[];
}

/** A place that a learner marked. */
export interface LearnersMark {
  /** Outline, px; a point is a small one. */
  readonly polygon: readonly (readonly [x: number, y: number])[];
  readonly defect: string;
  /** Frame that was chosen to repair from; null where none was. */
  readonly donor: string | null;
}

export interface MarkedFault {
  /** Index of the mark that found it; null where none did. */
  readonly mark: number | null;
  readonly isNamed: boolean;
  /** Null where it cannot be repaired, or no donor was chosen. */
  readonly isDonorRight: boolean | null;
}

export interface MarkedAnswer {
  /** By fault, in their order. */
  readonly faults: readonly MarkedFault[];
  /** Indices of marks that lie on no fault. */
  readonly invented: readonly number[];
}

/** A mark may miss a fault's cells by this: people point beside what they see. */
const NEAR_CELLS = 3;
/** Outlines larger than this share of the picture find nothing: everything lies in them. */
const MOST_OF_PICTURE = 0.12;

/**
 * Marks an answer.
 * @param size of the picture, px
 * @param cellPx side of the cells, px
 * @param spared cells on which a mark is neither right nor wrong: what every merge of the set has
 */
export function markAnswers(
  size: { readonly width: number; readonly height: number },
  cellPx: number,
  faults: readonly HiddenFault[],
  marks: readonly LearnersMark[],
  spared: ReadonlySet<number> = new Set(),
): MarkedAnswer {
  const [columns, rows] = [Math.floor(size.width / cellPx), Math.floor(size.height / cellPx)];
  const covered = marks.map(({ polygon }) => cellsUnder(polygon, columns, rows, cellPx));
  const isTooLarge = covered.map((cells) => cells.size > MOST_OF_PICTURE * columns * rows);
  const sets = faults.map((f) => new Set(f.cells));
  const shares = marks.map((_, m) =>
    sets.map((cells) => (isTooLarge[m] ? 0 : sharedCells(covered[m]!, cells) / Math.min(covered[m]!.size, cells.size))),
  );
  const taken = new Set<number>();
  const marked = faults.map((fault, f): MarkedFault => {
    // Of several marks on it the one with the right name counts, then the one that lies best.
    const on = marks.map((_, m) => m).filter((m) => shares[m]![f]! > 0);
    on.forEach((m) => taken.add(m));
    const best = on.sort(
      (a, b) =>
        Number(marks[b]!.defect === fault.defect) - Number(marks[a]!.defect === fault.defect) ||
        shares[b]![f]! - shares[a]![f]!,
    )[0];
    if (best === undefined) return { mark: null, isNamed: false, isDonorRight: null };
    const { defect, donor } = marks[best]!;
    return {
      mark: best,
      isNamed: defect === fault.defect,
      isDonorRight: fault.donors.length === 0 || donor === null ? null : fault.donors.includes(donor),
    };
  });
  const invented = marks
    .map((_, m) => m)
    .filter((m) => !taken.has(m) && (isTooLarge[m] || ![...covered[m]!].some((c) => spared.has(c))));
  return { faults: marked, invented };
}

/** Cells in reach of an outline. */
function cellsUnder(
  polygon: readonly (readonly [number, number])[],
  columns: number,
  rows: number,
  cellPx: number,
): Set<number> {
  const box = cellBox(polygon, columns, rows, cellPx);
  const corners = polygon.map(
    ([x, y]) => [(x / cellPx - box.x) / box.width, (y / cellPx - box.y) / box.height] as const,
  );
  const { data } = paintArea([{ kind: 'polygon', corners }], box.width, box.height);
  const cells = new Set<number>();
  data.forEach((isIn, i) => {
    if (!isIn) return;
    const [x, y] = [box.x + (i % box.width), box.y + Math.floor(i / box.width)];
    for (let dy = -NEAR_CELLS; dy <= NEAR_CELLS; dy++)
      for (let dx = -NEAR_CELLS; dx <= NEAR_CELLS; dx++)
        if (x + dx >= 0 && y + dy >= 0 && x + dx < columns && y + dy < rows) cells.add((y + dy) * columns + x + dx);
  });
  return cells;
}

function cellBox(
  polygon: readonly (readonly [number, number])[],
  columns: number,
  rows: number,
  cellPx: number,
): Region {
  const [xs, ys] = [polygon.map(([x]) => x / cellPx), polygon.map(([, y]) => y / cellPx)];
  const x = Math.max(0, Math.floor(Math.min(...xs)));
  const y = Math.max(0, Math.floor(Math.min(...ys)));
  return {
    ...{ x, y },
    width: Math.max(1, Math.min(columns, Math.ceil(Math.max(...xs))) - x),
    height: Math.max(1, Math.min(rows, Math.ceil(Math.max(...ys))) - y),
  };
}

function sharedCells(a: ReadonlySet<number>, b: ReadonlySet<number>): number {
  let n = 0;
  for (const cell of b) if (a.has(cell)) n += 1;
  return n;
}

/** Where in a picture a fault lies, for telling which places are overlooked. */
export type FaultPlace = 'at the rim' | 'near the middle' | 'between';

/** Tells by the middle of its cells. */
export function placeOfFault(cells: readonly number[], columns: number, rows: number): FaultPlace {
  const x = cells.reduce((sum, c) => sum + (c % columns), 0) / Math.max(1, cells.length) / columns;
  const y = cells.reduce((sum, c) => sum + Math.floor(c / columns), 0) / Math.max(1, cells.length) / rows;
  const off = Math.max(Math.abs(x - 0.5), Math.abs(y - 0.5));
  if (off > 0.38) return 'at the rim';
  return off < 0.2 ? 'near the middle' : 'between';
}
