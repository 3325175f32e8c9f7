// Order statistics of plain arrays.

/**
 * The q-quantile (0..1, linear between samples) of values; NaN for none.
 * Cost: linear in the number of values, which are copied.
 */
export function quantile(values: ArrayLike<number>, q: number): number {
  if (values.length === 0) return NaN;
  const copy = new Float64Array(values.length);
  for (let i = 0; i < copy.length; i++) copy[i] = values[i]!;
  const at = Math.min(1, Math.max(0, q)) * (copy.length - 1);
  const k = Math.floor(at);
  const low = select(copy, k);
  if (at === k) return low;
  // What lies behind position k is no smaller, so the next in order is its least.
  let high = Infinity;
  for (let i = k + 1; i < copy.length; i++) if (copy[i]! < high) high = copy[i]!;
  return low + (at - k) * (high - low);
}

/** The k-th smallest value; reorders so that nothing behind it is smaller. Source: C. A. R. Hoare, CACM 4(7), 1961 (FIND). */
function select(v: Float64Array, k: number): number {
  let [from, to] = [0, v.length - 1];
  while (from < to) {
    const [a, b, c] = [v[from]!, v[(from + to) >> 1]!, v[to]!];
    const pivot = Math.max(Math.min(a, b), Math.min(Math.max(a, b), c));
    let [i, j] = [from, to];
    while (i <= j) {
      while (v[i]! < pivot) i++;
      while (v[j]! > pivot) j--;
      if (i <= j) {
        const t = v[i]!;
        v[i++] = v[j]!;
        v[j--] = t;
      }
    }
    if (k <= j) to = j;
    else if (k >= i) from = i;
    else break;
  }
  return v[k]!;
}

/** The median of some numbers: their 0.5 quantile, as `quantile` has it. */
export function median(values: ArrayLike<number>): number {
  return quantile(values, 0.5);
}

/** Robust standard deviation: 1.4826 × median absolute deviation. */
export function robustDeviation(values: ArrayLike<number>): number {
  const m = median(values);
  const off = new Float64Array(values.length);
  for (let i = 0; i < off.length; i++) off[i] = Math.abs(values[i]! - m);
  return 1.4826 * median(off);
}
