// How different two colours look.
import { differenceCiede2000 } from 'culori';

export type Rgb = readonly [red: number, green: number, blue: number];

const ciede2000 = differenceCiede2000();

/**
 * ΔE00 of two colours: 1 is about what a careful eye tells apart side by side.
 * @param a encoded sRGB, 0..1 per channel; values beyond are taken as they are
 * @param b likewise
 * @returns 0 and more; not finite where a channel is not
 * Cost: about 1 µs.
 * Source: ISO/CIE 11664-6:2014 (CIEDE2000), CIELAB of D65.
 */
export function colourDifference([r, g, b]: Rgb, [u, v, w]: Rgb): number {
  return ciede2000({ mode: 'rgb', r, g, b }, { mode: 'rgb', r: u, g: v, b: w });
}
