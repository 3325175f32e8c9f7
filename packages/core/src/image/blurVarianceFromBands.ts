// Blur in px from the ratio of two focus bands.

const TABLE_MAX_PX = 6;
const TABLE_STEP_PX = 0.05;
const LOG_RATIO = makeTable();
/** Fall of ln(middle/coarse) per px² of variance for a sharp step, which carries the scale on below zero. */
const SLOPE_AT_ZERO = (LOG_RATIO[0]! - LOG_RATIO[6]!) / (6 * TABLE_STEP_PX) ** 2;

/**
 * Variance of the Gaussian blur that turns an ideal step edge into a picture with this band ratio.
 * Texture with more fine detail than a step gives a negative variance, one with less a larger one: the constant is the
 * texture's own, and differences between frames of the same place cancel it.
 * @param middle, coarse energies of the 2 px and 4 px bands (`focusBands`), noise-corrected, same units
 * @returns σ² in px², at most 36
 * Source: closed-form response of the bands to a Gaussian-blurred step, integrated numerically once.
 */
export function blurVarianceFromBands(middle: number, coarse: number): number {
  if (!(coarse > 0)) return 0;
  if (!(middle > 0)) return TABLE_MAX_PX ** 2;
  const target = Math.log(middle / coarse);
  let low = 0;
  let high = LOG_RATIO.length - 1;
  if (target >= LOG_RATIO[0]!) return (LOG_RATIO[0]! - target) / SLOPE_AT_ZERO;
  if (target <= LOG_RATIO[high]!) return TABLE_MAX_PX ** 2;
  while (high - low > 1) {
    const mid = (low + high) >> 1;
    if (LOG_RATIO[mid]! > target) low = mid;
    else high = mid;
  }
  const t = (LOG_RATIO[low]! - target) / (LOG_RATIO[low]! - LOG_RATIO[high]!);
  return ((low + t) * TABLE_STEP_PX) ** 2;
}

/** ln(middle/coarse) for steps of blur 0, 0.05 … 6 px; falls steadily. */
function makeTable(): Float64Array {
  const count = Math.round(TABLE_MAX_PX / TABLE_STEP_PX) + 1;
  // Power spectrum of a step is 1/ω²; a Gaussian multiplies it by exp(−σ²ω²). Pixels integrate over their width (sinc²).
  return Float64Array.from({ length: count }, (_, i) => {
    const sigma = i * TABLE_STEP_PX;
    let [middle, coarse] = [0, 0];
    const steps = 2000;
    for (let k = 1; k <= steps; k++) {
      const w = (Math.PI * k) / steps;
      const sinc = Math.sin(w / 2) / (w / 2);
      const power = (Math.exp(-sigma * sigma * w * w) * sinc * sinc) / (w * w);
      const h1 = Math.cos(w / 2) ** 2;
      const h2 = Math.cos(w) ** 2;
      const h3 = Math.cos(2 * w) ** 2;
      middle += power * (h1 - h1 * h2) ** 2;
      coarse += power * (h1 * h2 - h1 * h2 * h3) ** 2;
    }
    return Math.log(middle / coarse);
  });
}
