// How well somebody tells defects from none: sensitivity apart from readiness to say yes.
import { badParameter } from '../checks';

export interface Sensitivity {
  readonly dPrime: number;
  /** Bounds that hold it in 95 of 100 such series. */
  readonly low: number;
  readonly high: number;
}

const Z95 = 1.959964;

/**
 * Sensitivity d′ with its interval.
 * @param hits of `signals` defects that were found
 * @param signals defects that were there, at least 1
 * @param falseAlarms places of `noises` without one that were marked all the same
 * @param noises places without a defect, at least 1
 * @throws ParameterError for counts that cannot be
 * Sources: z(H) − z(F), corrected for rates of 0 and 1 after M. J. Hautus, Behavior Research Methods 27 (1995), with what is added
 * shared out by how many signals and noises there are, so that who never answers comes out at 0; variance after V. Gourevitch and
 * E. Galanter, Psychometrika 32 (1967).
 */
export function dPrime(hits: number, signals: number, falseAlarms: number, noises: number): Sensitivity {
  if (!(signals >= 1)) throw badParameter('dPrime.signals', '1 or more', signals);
  if (!(noises >= 1)) throw badParameter('dPrime.noises', '1 or more', noises);
  if (!(hits >= 0 && hits <= signals)) throw badParameter('dPrime.hits', `0 to ${signals}`, hits);
  if (!(falseAlarms >= 0 && falseAlarms <= noises))
    throw badParameter('dPrime.falseAlarms', `0 to ${noises}`, falseAlarms);
  const [p, q] = [signals / (signals + noises), noises / (signals + noises)];
  const h = (hits + p) / (signals + 2 * p);
  const f = (falseAlarms + q) / (noises + 2 * q);
  const [zh, zf] = [normalQuantile(h), normalQuantile(f)];
  const variance = (h * (1 - h)) / (signals * density(zh) ** 2) + (f * (1 - f)) / (noises * density(zf) ** 2);
  const spread = Z95 * Math.sqrt(variance);
  return { dPrime: zh - zf, low: zh - zf - spread, high: zh - zf + spread };
}

function density(z: number): number {
  return Math.exp((-z * z) / 2) / Math.sqrt(2 * Math.PI);
}

/**
 * Quantile of the normal distribution.
 * @param p above 0 and below 1
 * @throws ParameterError outside that
 * Source: P. J. Acklam's rational approximation (2003), relative error below 1.2e-9.
 */
export function normalQuantile(p: number): number {
  if (!(p > 0 && p < 1)) throw badParameter('normalQuantile.p', 'above 0 and below 1', p);
  const tail = Math.min(p, 1 - p);
  if (tail < 0.02425) {
    const q = Math.sqrt(-2 * Math.log(tail));
    const value = polynomial(TAIL_ABOVE, q) / (polynomial(TAIL_BELOW, q) * q + 1);
    return p < 0.5 ? value : -value;
  }
  const q = p - 0.5;
  const r = q * q;
  return (polynomial(ABOVE, r) * q) / (polynomial(BELOW, r) * r + 1);
}

const ABOVE = [
  -3.969683028665376e1, 2.209460984245205e2, -2.759285104469687e2, 1.38357751867269e2, -3.066479806614716e1,
  2.506628277459239,
];
const BELOW = [
  -5.447609879822406e1, 1.615858368580409e2, -1.556989798598866e2, 6.680131188771972e1, -1.328068155288572e1,
];
const TAIL_ABOVE = [
  -7.784894002430293e-3, -3.223964580411365e-1, -2.400758277161838, -2.549732539343734, 4.374664141464968,
  2.938163982698783,
];
const TAIL_BELOW = [7.784695709041462e-3, 3.224671290700398e-1, 2.445134137142996, 3.754408661907416];

/** Horner's scheme, the highest power first. */
function polynomial(coefficients: readonly number[], x: number): number {
  return coefficients.reduce((sum, c) => sum * x + c, 0);
}
