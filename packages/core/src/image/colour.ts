// The sRGB transfer curve.

/** sRGB code value 0..1 → light 0..1 (IEC 61966-2-1). */
export function srgbToLinear(v: number): number {
  return v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4;
}

/** Light 0..1 → sRGB code value 0..1 (IEC 61966-2-1). */
export function linearToSrgb(v: number): number {
  return v <= 0.0031308 ? v * 12.92 : 1.055 * v ** (1 / 2.4) - 0.055;
}
