// How much of what was wrong a repair mended, and what it did elsewhere.
import { colourDifference, type Rgb } from '@blendrak/core/image';
import { CELL_PX } from '@blendrak/core/kernels';
import type { Fault } from '@blendrak/scene';

/** R, G, B in turn, 8 bits. */
export interface RgbPicture {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8Array;
}

export interface RepairScore {
  /** By fault, as they were given: share of its error that is gone, below 0 where it grew; null for those that are not asked for. */
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
 * @param faults what was seeded; what every merge of the set has by nature is not asked for
 */
export function scoreRepair(
  faulty: RgbPicture,
  repaired: RgbPicture,
  clean: RgbPicture,
  faults: readonly Pick<Fault, 'repairable' | 'natural' | 'cells'>[],
): RepairScore {
  const falls = faults.map((f): number | null => {
    if (!f.repairable || f.natural) return null;
    const before = rms(faulty, clean, f.cells);
    return before > 0 ? 1 - rms(repaired, clean, f.cells) / before : 0;
  });
  const wrong = new Set(faults.flatMap((f) => f.cells));
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

function rms(a: RgbPicture, b: RgbPicture, cells: readonly number[]): number {
  const across = Math.floor(a.width / CELL_PX);
  let sum = 0;
  for (const cell of cells) for (const k of valuesOf(a, cell, across)) sum += (a.data[k]! - b.data[k]!) ** 2;
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
