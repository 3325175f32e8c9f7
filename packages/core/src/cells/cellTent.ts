// A cell's surround under a tent by rows and columns: its mean, and its texture without the trend.

export interface CellTent {
  /** Weighted mean of the cells around, edges over what is inside. */
  meanAt(plane: Float32Array, cell: number): number;
  /**
   * Weighted variance around the best plane through the cells around: texture wider than a cell, but neither a gradient
   * nor noise of a single cell's own. 0 where the surround is not complete.
   */
  textureAt(plane: Float32Array, cell: number): number;
}

/**
 * Reads single cells: these values are only asked for beside edges, so smoothing whole planes would be wasted.
 * @param radius in cells; 1 weighs [1 2 1]/4, 2 weighs [1 2 3 2 1]/9
 * Cost: for radius 2 25 multiplications for a mean, 100 for a texture.
 */
export function cellTent(width: number, height: number, radius = 2): CellTent {
  const r = radius;
  const norm = (r + 1) ** 2;
  const weights = Array.from({ length: 2 * r + 1 }, (_, i) => (r + 1 - Math.abs(i - r)) / norm);
  // Of the tent along one axis, in cells².
  const variance = weights.reduce((sum, w, i) => sum + w * (i - r) ** 2, 0);
  return {
    meanAt(plane, cell) {
      const x = cell % width;
      const y = (cell - x) / width;
      let [sum, total] = [0, 0];
      for (let dy = -r; dy <= r; dy++) {
        if (y + dy < 0 || y + dy >= height) continue;
        for (let dx = -r; dx <= r; dx++) {
          if (x + dx < 0 || x + dx >= width) continue;
          const w = weights[dx + r]! * weights[dy + r]!;
          sum += w * plane[cell + dy * width + dx]!;
          total += w;
        }
      }
      return sum / total;
    },
    textureAt(plane, cell) {
      const x = cell % width;
      const y = (cell - x) / width;
      if (x < r || y < r || x >= width - r || y >= height - r) return 0;
      const centre = plane[cell]!;
      let [sum, across, down, squares] = [0, 0, 0, 0];
      for (let dy = -r; dy <= r; dy++) {
        for (let dx = -r; dx <= r; dx++) {
          const w = weights[dx + r]! * weights[dy + r]!;
          const v = plane[cell + dy * width + dx]! - centre;
          sum += w * v;
          across += w * v * dx;
          down += w * v * dy;
          squares += w * v * v;
        }
      }
      return Math.max(0, squares - sum * sum - (across * across + down * down) / variance);
    },
  };
}
