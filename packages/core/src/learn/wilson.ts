// A share with what it can be: with few cases the interval is wide, and says so.
import { badParameter } from '../checks';

/** Of the normal distribution, for 95 %. */
const Z = 1.959964;

export interface ShareInterval {
  readonly low: number;
  readonly high: number;
}

/**
 * The interval of a share.
 * @param hits of `of` cases, 0 to `of`
 * @param of cases; 0 tells nothing: 0 to 1
 * @returns bounds, 0..1, that hold the true share in 95 of 100 cases
 * @throws ParameterError for more hits than cases
 * Source: E. B. Wilson, "Probable inference, the law of succession, and statistical inference", JASA 22 (1927), without correction.
 */
export function wilson(hits: number, of: number): ShareInterval {
  if (!(hits >= 0 && hits <= of)) throw badParameter('wilson.hits', `0 to ${of}`, hits);
  if (of === 0) return { low: 0, high: 1 };
  const share = hits / of;
  const spread = Z * Math.sqrt((share * (1 - share)) / of + (Z * Z) / (4 * of * of));
  const scale = 1 + (Z * Z) / of;
  const middle = share + (Z * Z) / (2 * of);
  return { low: Math.max(0, (middle - spread) / scale), high: Math.min(1, (middle + spread) / scale) };
}
