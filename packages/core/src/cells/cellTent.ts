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
  const along = Array.from({ length: 2 * r + 1 }, (_, i) => (r + 1 - Math.abs(i - r)) / norm);
  // Of the tent along one axis, in cells².
  const variance = along.reduce((sum, w, i) => sum + w * (i - r) ** 2, 0);
  const taps = along.flatMap((v, j) => along.map((u, i) => ({ dx: i - r, dy: j - r, weight: u * v })));
  // Read millions of times: where each tap lies is worked out once.
  const weights = Float64Array.from(taps, (t) => t.weight);
  const steps = Int32Array.from(taps, (t) => t.dy * width + t.dx);
  const dx = Int32Array.from(taps, (t) => t.dx);
  const dy = Int32Array.from(taps, (t) => t.dy);
  const isInner = (x: number, y: number): boolean => x >= r && y >= r && x < width - r && y < height - r;
  return {
    meanAt(plane, cell) {
      const x = cell % width;
      const y = (cell - x) / width;
      const all = isInner(x, y);
      let [sum, total] = [0, 0];
      for (let t = 0; t < weights.length; t++) {
        if (!all && !(x + dx[t]! >= 0 && y + dy[t]! >= 0 && x + dx[t]! < width && y + dy[t]! < height)) continue;
        sum += weights[t]! * plane[cell + steps[t]!]!;
        total += weights[t]!;
      }
      return sum / total;
    },
    textureAt(plane, cell) {
      const x = cell % width;
      const y = (cell - x) / width;
      if (!isInner(x, y)) return 0;
      const centre = plane[cell]!;
      let [sum, across, down, squares] = [0, 0, 0, 0];
      for (let t = 0; t < weights.length; t++) {
        const v = plane[cell + steps[t]!]! - centre;
        const wv = weights[t]! * v;
        sum += wv;
        across += wv * dx[t]!;
        down += wv * dy[t]!;
        squares += wv * v;
      }
      return Math.max(0, squares - sum * sum - (across * across + down * down) / variance);
    },
  };
}
