// Order statistics of plain arrays.

/** The q-quantile (0..1, linear between samples) of values; NaN for none. Sorts a copy. */
export function quantile(values: ArrayLike<number>, q: number): number {
  if (values.length === 0) return NaN;
  const sorted = new Float64Array(values.length);
  for (let i = 0; i < sorted.length; i++) sorted[i] = values[i]!;
  sorted.sort();
  const at = Math.min(1, Math.max(0, q)) * (sorted.length - 1);
  const k = Math.floor(at);
  return sorted[k]! + (at - k) * ((sorted[k + 1] ?? sorted[k]!) - sorted[k]!);
}

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
