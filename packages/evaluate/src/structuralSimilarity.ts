// How alike two pictures are to the eye: the structural similarity index.

const WINDOW = 7;
const C1 = 0.01 ** 2;
const C2 = 0.03 ** 2;

/**
 * Mean SSIM of two luma planes (Wang, Bovik, Sheikh and Simoncelli 2004) over 7 × 7 windows, every pixel a window.
 * Sums run along rows and columns, so the cost does not depend on the window.
 * @param a, b width × height values 0..1
 * @param border px left out on each side, where a merge may lack frames
 * @param use 1 for pixels in the middle of windows that count; null for all
 * @returns −1..1, 1 for equal pictures
 */
export function structuralSimilarity(
  a: Float32Array,
  b: Float32Array,
  width: number,
  height: number,
  border: number,
  use: Uint8Array | null = null,
): number {
  const columns = Array.from({ length: 5 }, () => new Float64Array(width));
  const add = (y: number, sign: 1 | -1): void => {
    for (let x = 0; x < width; x++) {
      const p = a[y * width + x]!;
      const q = b[y * width + x]!;
      columns[0]![x]! += sign * p;
      columns[1]![x]! += sign * q;
      columns[2]![x]! += sign * p * p;
      columns[3]![x]! += sign * q * q;
      columns[4]![x]! += sign * p * q;
    }
  };
  let sum = 0;
  let count = 0;
  const top = border;
  const bottom = height - border - WINDOW;
  for (let y = top; y < top + WINDOW && y < height; y++) add(y, 1);
  for (let y = top; y <= bottom; y++) {
    const middle = use && use.subarray((y + (WINDOW >> 1)) * width, (y + (WINDOW >> 1) + 1) * width);
    const row = rowSimilarity(columns, border, width - border, middle);
    sum += row.sum;
    count += row.count;
    if (y < bottom) {
      add(y, -1);
      add(y + WINDOW, 1);
    }
  }
  return count === 0 ? NaN : sum / count;
}

function rowSimilarity(
  columns: readonly Float64Array[],
  from: number,
  to: number,
  use: Uint8Array | null,
): { sum: number; count: number } {
  const n = WINDOW * WINDOW;
  const sums = new Float64Array(5);
  let sum = 0;
  let count = 0;
  for (let x = from; x < to; x++) {
    for (let k = 0; k < 5; k++) {
      sums[k]! += columns[k]![x]!;
      if (x - from >= WINDOW) sums[k]! -= columns[k]![x - WINDOW]!;
    }
    if (x - from < WINDOW - 1 || (use && !use[x - (WINDOW >> 1)])) continue;
    const ma = sums[0]! / n;
    const mb = sums[1]! / n;
    const va = Math.max(0, sums[2]! / n - ma * ma);
    const vb = Math.max(0, sums[3]! / n - mb * mb);
    const cov = sums[4]! / n - ma * mb;
    sum += ((2 * ma * mb + C1) * (2 * cov + C2)) / ((ma * ma + mb * mb + C1) * (va + vb + C2));
    count++;
  }
  return { sum, count };
}

/**
 * Peak signal to noise ratio of two luma planes, dB, for a peak of 1.
 * @param border px left out on each side
 * @param use 1 for pixels that count; null for all
 * @returns Infinity for equal pictures
 */
export function signalToNoise(
  a: Float32Array,
  b: Float32Array,
  width: number,
  height: number,
  border: number,
  use: Uint8Array | null = null,
): number {
  let sum = 0;
  let count = 0;
  for (let y = border; y < height - border; y++) {
    for (let i = y * width + border; i < (y + 1) * width - border; i++) {
      if (use && !use[i]) continue;
      const d = a[i]! - b[i]!;
      sum += d * d;
      count++;
    }
  }
  return -10 * Math.log10(sum / count);
}
