// Ground truth lives on the same 4 × 4 px cells as the evidence maps of the product.

export const CELL = 4;

export interface CellGrid {
  readonly width: number;
  readonly height: number;
}

export function cellGrid(width: number, height: number): CellGrid {
  return { width: Math.floor(width / CELL), height: Math.floor(height / CELL) };
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

/** 3 × 3 majority, so that labels of equally good frames do not crumble. */
export function majority(labels: Uint8Array, grid: CellGrid): Uint8Array {
  const out = labels.slice();
  const votes = new Uint8Array(256);
  for (let y = 1; y < grid.height - 1; y++) {
    for (let x = 1; x < grid.width - 1; x++) {
      votes.fill(0);
      let winner = labels[y * grid.width + x]!;
      votes[winner] = 1;
      for (let k = 0; k < 9; k++) {
        const l = labels[(y + Math.floor(k / 3) - 1) * grid.width + x + (k % 3) - 1]!;
        votes[l]!++;
        if (votes[l]! > votes[winner]!) winner = l;
      }
      out[y * grid.width + x] = winner;
    }
  }
  return out;
}

/** Connected groups of marked cells, joined across gaps of `reach − 1` cells. */
export function groups(mask: Uint8Array, grid: CellGrid, reach = 3): number[][] {
  const seen = new Uint8Array(mask.length);
  const out: number[][] = [];
  for (let start = 0; start < mask.length; start++) {
    if (!mask[start] || seen[start]) continue;
    const cells = [start];
    seen[start] = 1;
    for (let k = 0; k < cells.length; k++) {
      forNear(grid, cells[k]!, reach, (next) => {
        if (mask[next] && !seen[next]) {
          seen[next] = 1;
          cells.push(next);
        }
      });
    }
    out.push(cells);
  }
  return out;
}

/** Visits the cells of the square around a cell. */
export function forNear(grid: CellGrid, cell: number, reach: number, visit: (cell: number) => void): void {
  const x = cell % grid.width;
  const y = (cell - x) / grid.width;
  const right = Math.min(grid.width - 1, x + reach);
  const bottom = Math.min(grid.height - 1, y + reach);
  for (let yy = Math.max(0, y - reach); yy <= bottom; yy++) {
    for (let xx = Math.max(0, x - reach); xx <= right; xx++) visit(yy * grid.width + xx);
  }
}
