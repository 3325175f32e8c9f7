// Ground truth lives on the same 4 × 4 px cells as the evidence maps of the product.
import type { Raster } from '@blendrak/core/image';

export const CELL = 4;

export interface CellGrid {
  readonly width: number;
  readonly height: number;
}

export function cellGrid(width: number, height: number): CellGrid {
  return { width: Math.floor(width / CELL), height: Math.floor(height / CELL) };
}

/** Mean squared difference of two pictures per cell, averaged over the channels. */
export function cellError(a: Raster, b: Raster): Float32Array {
  const grid = cellGrid(a.width, a.height);
  const out = new Float32Array(grid.width * grid.height);
  a.planes.forEach((plane, c) => {
    const other = b.planes[c]!;
    for (let y = 0; y < grid.height * CELL; y++) {
      const row = (y >> 2) * grid.width;
      for (let x = 0; x < grid.width * CELL; x++) {
        const d = plane[y * a.width + x]! - other[y * a.width + x]!;
        out[row + (x >> 2)]! += (d * d) / (CELL * CELL * a.planes.length);
      }
    }
  });
  return out;
}

/** 3 × 3 mean, edges over what is inside. */
export function smoothCells(data: Float32Array, grid: CellGrid): Float32Array {
  const out = new Float32Array(data.length);
  for (let y = 0; y < grid.height; y++) {
    for (let x = 0; x < grid.width; x++) {
      let sum = 0;
      let n = 0;
      for (let yy = Math.max(0, y - 1); yy <= Math.min(grid.height - 1, y + 1); yy++) {
        for (let xx = Math.max(0, x - 1); xx <= Math.min(grid.width - 1, x + 1); xx++) {
          sum += data[yy * grid.width + xx]!;
          n++;
        }
      }
      out[y * grid.width + x] = sum / n;
    }
  }
  return out;
}
