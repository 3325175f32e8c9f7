// The f-numbers on a lens.
import { airyDiscMm } from './blur';
import { effectiveFNumber } from './thinLens';

/** Marked f-numbers in thirds of a stop. */
export const F_NUMBERS = [
  1, 1.1, 1.2, 1.4, 1.6, 1.8, 2, 2.2, 2.5, 2.8, 3.2, 3.5, 4, 4.5, 5, 5.6, 6.3, 7.1, 8, 9, 10, 11, 13, 14, 16, 18, 20,
  22, 25, 29, 32, 36, 40, 45, 51, 57, 64,
] as const;

/** Wider than this, slices get too thin to overlap; beyond f/11 diffraction costs what stopping down gains. */
export const WIDEST_ADVISED = 4;
export const NARROWEST_ADVISED = 11;

/** The marked f-number nearest to a value, in stops. */
export function nearestFNumber(value: number): number {
  return F_NUMBERS.reduce((best, n) => (Math.abs(Math.log(n / value)) < Math.abs(Math.log(best / value)) ? n : best));
}

/**
 * The aperture to stack with: the smallest opening whose diffraction disc still hides within the accepted blur, from f/4 to
 * f/11 and within the lens: more depth costs sharpness from there on, less depth only costs frames.
 * @param magnification of the nearest point; diffraction follows the effective f-number
 */
export function recommendFNumber(
  cocMm: number,
  magnification: number,
  pupilMagnification: number,
  lens: { readonly widestFNumber: number; readonly smallestFNumber: number },
): number {
  const low = Math.max(lens.widestFNumber, WIDEST_ADVISED);
  const high = Math.min(lens.smallestFNumber, NARROWEST_ADVISED);
  const usable = F_NUMBERS.filter((n) => n >= low - 1e-9 && n <= high + 1e-9);
  if (usable.length === 0) return nearestFNumber(Math.min(lens.smallestFNumber, low));
  const hidden = usable.filter((n) => airyDiscMm(effectiveFNumber(n, magnification, pupilMagnification)) <= cocMm);
  return hidden.at(-1) ?? usable[0]!;
}
