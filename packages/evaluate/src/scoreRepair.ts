// How much of what was wrong a repair mended, and what it did elsewhere.
import { colourDifference, type Rgb } from '@blendrak/core/image';
import { CELL_PX } from '@blendrak/core/kernels';

/** R, G, B in turn, 8 bits. */
export interface RgbPicture {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8Array;
}

/** A fault that a repair is asked for, or one that it is not. */
export interface AskedFault {
  readonly repairable: boolean;
  readonly natural: boolean;
  readonly cells: readonly number[];
  /** Where something moves: what may be shown as well, as other frames caught it. */
  readonly moments: readonly MomentShown[];
}

/** Part of the merge as it may be, too. */
export interface MomentShown {
  readonly picture: RgbPicture;
  /** Where it lies in the merge, px; whole cells. */
  readonly x: number;
  readonly y: number;
  /** Cells of the merge by which it is told, all of them in the part. */
  readonly cells: readonly number[];
}

export interface RepairScore {
  /**
   * By fault, as they were given: share of its error that is gone, below 0 where it grew; null for those that are not asked for. Of a fault
   * with moments it is the share of that moment to which the repair has come nearest.
   */
  readonly falls: readonly (number | null)[];
  /** Mean ΔE00 by which the repair changed what was not wrong, … */
  readonly damage: number;
  /** … and by which it took that farther from what it should be: around a fault some of it shows that is too faint to count. */
  readonly worse: number;
}

/** A fault is mended when its error falls by this share. */
export const MENDED = 0.7;
/** Outside the faults one cell in so many is looked at. */
const EVERY = 7;

/**
 * @param faulty the merge with faults
 * @param repaired the same, repaired
 * @param clean the same without faults; all three of one size
 * @param faults what was seeded; what every merge of the set has by nature is not asked for. Which frame something that moves is taken from
 *   is free: shown whole from any, it is right
 */
export function scoreRepair(
  faulty: RgbPicture,
  repaired: RgbPicture,
  clean: RgbPicture,
  faults: readonly AskedFault[],
): RepairScore {
  const falls = faults.map(({ repairable, natural, cells, moments }): number | null => {
    if (!repairable || natural) return null;
    const ideals: MomentShown[] = [{ picture: clean, x: 0, y: 0, cells }, ...moments];
    return Math.max(...ideals.map((ideal) => fallTo(ideal, faulty, repaired)));
  });
  const wrong = new Set(faults.flatMap((f) => [...f.cells, ...f.moments.flatMap((m) => m.cells)]));
  const across = Math.floor(clean.width / CELL_PX);
  const cells = across * Math.floor(clean.height / CELL_PX);
  let [sum, worse, n] = [0, 0, 0];
  for (let i = 0; i < cells; i += EVERY) {
    if (wrong.has(i)) continue;
    const [was, is, ideal] = [faulty, repaired, clean].map((p) => meanColour(p, i, across)) as [Rgb, Rgb, Rgb];
    sum += colourDifference(was, is);
    worse += Math.max(0, colourDifference(is, ideal) - colourDifference(was, ideal));
    n += 1;
  }
  return { falls, damage: sum / Math.max(1, n), worse: worse / Math.max(1, n) };
}

/** Share of what was wrong against an ideal that is gone. */
function fallTo(ideal: MomentShown, faulty: RgbPicture, repaired: RgbPicture): number {
  const before = rms(faulty, ideal);
  return before > 0 ? 1 - rms(repaired, ideal) / before : 0;
}

function rms(merge: RgbPicture, { picture, x, y, cells }: MomentShown): number {
  const across = Math.floor(merge.width / CELL_PX);
  let sum = 0;
  for (const cell of cells) {
    for (const k of valuesOf(merge, cell, across)) {
      const [column, row] = [(k / 3) % merge.width, Math.floor(k / 3 / merge.width)].map(Math.floor) as [
        number,
        number,
      ];
      const there = 3 * ((row - y) * picture.width + column - x) + (k % 3);
      sum += (merge.data[k]! - picture.data[there]!) ** 2;
    }
  }
  return Math.sqrt(sum / Math.max(1, cells.length * 3 * CELL_PX ** 2));
}

function meanColour(picture: RgbPicture, cell: number, across: number): Rgb {
  const sum: [number, number, number] = [0, 0, 0];
  for (const k of valuesOf(picture, cell, across)) sum[(k % 3) as 0 | 1 | 2] += picture.data[k]! / 255;
  const n = CELL_PX ** 2;
  return [sum[0] / n, sum[1] / n, sum[2] / n];
}

/** Where the values of a cell lie. */
function* valuesOf({ width }: RgbPicture, cell: number, across: number): Generator<number> {
  const [x, y] = [(cell % across) * CELL_PX, Math.floor(cell / across) * CELL_PX];
  for (let row = y; row < y + CELL_PX; row++)
    for (let k = 3 * (row * width + x); k < 3 * (row * width + x + CELL_PX); k++) yield k;
}
