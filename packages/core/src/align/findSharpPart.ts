// The part of a frame that is sharp in it, as a mask: what to align on when the subject is what was focused.
import { badParameter } from '../checks';
import { findComponents, quantile, type Mask, type Plane } from '../image';

/** Cells across the longer side. */
const CELLS = 64;
/** Detail of the frame, as a share of the most that any frame has there: less is soft. */
const AS_SHARP = 0.7;
/** Detail must be this many times what noise alone makes. */
const OVER_NOISE = 4;
/** Parts of fewer cells are chance. */
const LEAST_CELLS = 4;

/**
 * Finds where one frame of a set is the sharpest.
 * @param lumas the frames of a set at one size, encoded luma; not aligned, but within about 2 % of the picture
 * @param noiseVariance of their values
 * @param index the frame whose sharp part is wanted
 * @returns mask of cells over the picture; null when others are sharper everywhere, or all is within noise
 * @throws ParameterError for a frame that is not there
 * Cost: about 10 ns per px and frame.
 */
export function findSharpPart(lumas: readonly Plane[], noiseVariance: number, index: number): Mask | null {
  const first = lumas[index];
  if (!first) throw badParameter('findSharpPart.index', `0 to ${lumas.length - 1}`, index);
  const cell = Math.max(first.width, first.height) / CELLS;
  const width = Math.max(1, Math.round(first.width / cell));
  const height = Math.max(1, Math.round(first.height / cell));
  const energies = lumas.map((l) => aroundMean(detailByCell(l, width, height), width, height));
  const own = energies[index]!;
  // A Laplacian of white noise of variance v has variance 20 v.
  const floor = OVER_NOISE * 20 * noiseVariance;
  const data = own.map((e, i) => {
    const most = Math.max(...energies.map((other) => other[i]!));
    return e > floor && e >= AS_SHARP * most ? 1 : 0;
  });
  const mask: Mask = { width, height, data: Uint8Array.from(data) };
  const parts = findComponents(mask).filter((part) => part.cells.length >= LEAST_CELLS);
  if (parts.length === 0) return null;
  const out = new Uint8Array(width * height);
  for (const part of parts) for (const i of part.cells) out[i] = 1;
  return { width, height, data: out };
}

/** The upper quartile of the squared Laplacian in each cell: edges count, however much plain wall is beside them. */
function detailByCell({ width: w, height: h, data }: Plane, width: number, height: number): Float32Array {
  return Float32Array.from({ length: width * height }, (_, n) => {
    const [i, j] = [n % width, Math.floor(n / width)];
    const [x0, x1] = [Math.max(1, Math.floor((i * w) / width)), Math.min(w - 1, Math.floor(((i + 1) * w) / width))];
    const [y0, y1] = [Math.max(1, Math.floor((j * h) / height)), Math.min(h - 1, Math.floor(((j + 1) * h) / height))];
    const squares: number[] = [];
    for (let y = y0; y < y1; y++) {
      for (let x = x0, at = y * w + x0; x < x1; x++, at++) {
        const l = 4 * data[at]! - data[at - 1]! - data[at + 1]! - data[at - w]! - data[at + w]!;
        squares.push(l * l);
      }
    }
    return squares.length === 0 ? 0 : quantile(squares, 0.75);
  });
}

/** Mean of each cell and its neighbours: frames that breathe show the same a cell apart. */
function aroundMean(cells: Float32Array, width: number, height: number): Float32Array {
  return cells.map((_, n) => {
    const [i, j] = [n % width, Math.floor(n / width)];
    let [sum, count] = [0, 0];
    for (let y = Math.max(0, j - 1); y <= Math.min(height - 1, j + 1); y++) {
      for (let x = Math.max(0, i - 1); x <= Math.min(width - 1, i + 1); x++, count++) sum += cells[y * width + x]!;
    }
    return sum / count;
  });
}
