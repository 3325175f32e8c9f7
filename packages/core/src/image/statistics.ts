// Order statistics of plain arrays.

/** So many are put in order by insertion sooner than they are copied and divided. */
const FEW = 24;

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

/**
 * The median of the first `count` values, 1 or more, which may be put in order on the way: for a few values at each of many places,
 * where a copy for each would cost more than the order does.
 */
export function medianOfFirst(values: Float64Array, count: number): number {
  if (count > FEW) return median(values.subarray(0, count));
  for (let i = 1; i < count; i++) {
    const value = values[i]!;
    let at = i;
    while (at > 0 && values[at - 1]! > value) {
      values[at] = values[at - 1]!;
      at--;
    }
    values[at] = value;
  }
  const middle = count >> 1;
  return count % 2 === 1 ? values[middle]! : values[middle - 1]! + 0.5 * (values[middle]! - values[middle - 1]!);
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
