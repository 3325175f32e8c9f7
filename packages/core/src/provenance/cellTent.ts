// A cell's surround under the tent [1 2 3 2 1]/9 by rows and columns: its mean, and its texture without the trend.

export interface CellTent {
  /** Weighted mean of the 5 × 5 cells around, edges over what is inside. */
  meanAt(plane: Float32Array, cell: number): number;
  /**
   * Weighted variance around the best plane through the 5 × 5 cells: texture wider than a cell, but neither a gradient
   * nor noise of a single cell's own. 0 where the surround is not complete.
   */
  textureAt(plane: Float32Array, cell: number): number;
}

// Variance of the tent along one axis: (2·4·1 + 2·1·2) / 9 cells².
const TENT_VARIANCE = 4 / 3;

/**
 * Reads single cells: these values are only asked for beside edges, so smoothing whole planes would be wasted.
 * Cost: 25 multiplications for a mean, 100 for a texture.
 */
export function cellTent(width: number, height: number): CellTent {
  return {
    meanAt(plane, cell) {
      const x = cell % width;
      const y = (cell - x) / width;
      let [sum, total] = [0, 0];
      for (let dy = -2; dy <= 2; dy++) {
        if (y + dy < 0 || y + dy >= height) continue;
        for (let dx = -2; dx <= 2; dx++) {
          if (x + dx < 0 || x + dx >= width) continue;
          const w = (3 - Math.abs(dx)) * (3 - Math.abs(dy));
          sum += w * plane[cell + dy * width + dx]!;
          total += w;
        }
      }
      return sum / total;
    },
    textureAt(plane, cell) {
      const x = cell % width;
      const y = (cell - x) / width;
      if (x < 2 || y < 2 || x >= width - 2 || y >= height - 2) return 0;
      const centre = plane[cell]!;
      let [sum, across, down, squares] = [0, 0, 0, 0];
      for (let dy = -2; dy <= 2; dy++) {
        for (let dx = -2; dx <= 2; dx++) {
          const w = ((3 - Math.abs(dx)) * (3 - Math.abs(dy))) / 81;
          const v = plane[cell + dy * width + dx]! - centre;
          sum += w * v;
          across += w * v * dx;
          down += w * v * dy;
          squares += w * v * v;
        }
      }
      return Math.max(0, squares - sum * sum - (across * across + down * down) / TENT_VARIANCE);
    },
  };
}
