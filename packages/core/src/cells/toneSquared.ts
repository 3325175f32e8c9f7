// How far two mean colours are apart, as residuals count it.
import { LUMA_WEIGHTS } from '../image';

/** Squared difference of two mean colours, encoded, from their differences per channel: of luma, and of colour beyond it. */
export function toneSquared(red: number, green: number, blue: number): number {
  const luma = LUMA_WEIGHTS[0] * red + LUMA_WEIGHTS[1] * green + LUMA_WEIGHTS[2] * blue;
  return Math.max(luma * luma, (red * red + green * green + blue * blue) / 3);
}
