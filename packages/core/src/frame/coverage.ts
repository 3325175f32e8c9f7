// Which parts of a merge a frame covers.
import type { Region } from '../image';
import { CELL_PX } from '../kernels';
import type { FrameGeometry } from './geometry';
import { mergeToFrame } from './mapPoint';
import { applySimilarity, invertSimilarity, type Similarity } from './transform';

/** Size of a frame, px. */
export interface FrameSize {
  readonly width: number;
  readonly height: number;
}

/**
 * The cells of which a frame shows every pixel.
 * @param cells region of the merge in cells
 * @param cellPx side of a cell, merge px; default 4
 * @returns 1 or 0 per cell, row by row
 * Cost: one mapped point per cell; a fraction of that for a similarity.
 */
export function coveredCells(
  geometry: FrameGeometry,
  size: FrameSize,
  cells: Region,
  cellPx: number = CELL_PX,
): Uint8Array {
  if (geometry.model === 'similarity' && !geometry.local)
    return coveredBySimilarity(geometry.toMerge, size, cells, cellPx);
  // A cell is covered when its corners are: geometries are smooth over a few px. Neighbours share their corners.
  const across = cells.width + 1;
  const inside = new Uint8Array(across * (cells.height + 1));
  for (let y = 0, n = 0; y <= cells.height; y++) {
    for (let x = 0; x < across; x++, n++) {
      const at = mergeToFrame(geometry, (cells.x + x) * cellPx, (cells.y + y) * cellPx);
      inside[n] = at && contains(size, at) ? 1 : 0;
    }
  }
  const out = new Uint8Array(cells.width * cells.height);
  for (let y = 0, n = 0; y < cells.height; y++) {
    for (let x = 0; x < cells.width; x++, n++) {
      const at = y * across + x;
      out[n] = inside[at]! & inside[at + 1]! & inside[at + across]! & inside[at + across + 1]!;
    }
  }
  return out;
}

/** What rounding may put beyond an edge, px of the frame. */
const ROUNDING_PX = 1e-6;

function contains({ width, height }: FrameSize, [x, y]: readonly [number, number]): boolean {
  return x >= -ROUNDING_PX && y >= -ROUNDING_PX && x <= width + ROUNDING_PX && y <= height + ROUNDING_PX;
}

function coveredBySimilarity(
  toMerge: Similarity,
  { width, height }: FrameSize,
  cells: Region,
  cellPx: number,
): Uint8Array {
  const toFrame = invertSimilarity(toMerge);
  const reach = (cellPx / 2) * (Math.abs(toFrame.re) + Math.abs(toFrame.im)) - ROUNDING_PX;
  const out = new Uint8Array(cells.width * cells.height);
  for (let y = 0; y < cells.height; y++) {
    for (let x = 0; x < cells.width; x++) {
      const [fx, fy] = applySimilarity(toFrame, (cells.x + x + 0.5) * cellPx, (cells.y + y + 0.5) * cellPx);
      const inside = fx >= reach && fy >= reach && fx <= width - reach && fy <= height - reach;
      out[y * cells.width + x] = inside ? 1 : 0;
    }
  }
  return out;
}

/** Points across and down by which a share is measured. */
const GRID = 32;

/**
 * Share of a merge that a frame covers.
 * @returns 0..1, from a 32 × 32 grid of points
 */
export function coveredShare(geometry: FrameGeometry, frame: FrameSize, merge: FrameSize): number {
  let inside = 0;
  for (let j = 0; j < GRID; j++) {
    for (let i = 0; i < GRID; i++) {
      const at = mergeToFrame(geometry, ((i + 0.5) / GRID) * merge.width, ((j + 0.5) / GRID) * merge.height);
      if (at && contains(frame, at)) inside++;
    }
  }
  return inside / (GRID * GRID);
}
