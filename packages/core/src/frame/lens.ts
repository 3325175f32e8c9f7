// What a lens does to a frame: it bends straight lines and darkens the corners.

/** How a lens darkens towards the corners: light at radius r (1 at half the diagonal) against the middle is 1 + v1·r² + v2·r⁴. */
export interface LensShade {
  /** Where the optical axis meets the frame, px. */
  readonly centre: readonly [number, number];
  /** Half the frame's diagonal: 1 in the radii of distortion and vignetting, px. */
  readonly halfDiagonalPx: number;
  readonly vignetting: readonly [number, number];
}

/** What of a lens it takes to draw rays. */
export interface LensView extends Pick<LensShade, 'centre' | 'halfDiagonalPx'> {
  /** Drawn radius = straight radius · (1 + k1·r² + k2·r⁴) (D. C. Brown, Photogrammetric Engineering 32(3), 1966). */
  readonly distortion: readonly [number, number];
}

/**
 * A frame's place freed of distortion, by Newton's method: exact for lenses that draw one place once.
 * @param x frame px
 * @param y frame px
 * @returns px from the optical axis
 */
export function frameRay({ centre, halfDiagonalPx, distortion }: LensView, x: number, y: number): [number, number] {
  const dx = x - centre[0];
  const dy = y - centre[1];
  const [k1, k2] = distortion;
  const drawn = Math.hypot(dx, dy) / halfDiagonalPx;
  if (drawn === 0 || (k1 === 0 && k2 === 0)) return [dx, dy];
  let r = drawn;
  for (let i = 0; i < 8; i++) {
    const q = r * r;
    r -= (r * (1 + q * (k1 + q * k2)) - drawn) / Math.max(0.2, 1 + q * (3 * k1 + 5 * q * k2));
  }
  const k = r / drawn;
  return [dx * k, dy * k];
}

/** Encoded values go with light to the power of this, about: what a gain of light is to them. */
export const ENCODED_POWER = 1 / 2.4;

/** The same for encoded values, about: by what they are multiplied. See `vignetteLift`. */
export function encodedLift(shade: LensShade | null, x: number, y: number): number {
  return vignetteLift(shade, x, y) ** ENCODED_POWER;
}

/**
 * How much brighter a frame must become at a place to be free of vignetting.
 * @param shade null for a lens that does not darken
 * @param x frame px
 * @param y frame px
 * @returns 1 / light there, 1 to 20
 */
export function vignetteLift(shade: LensShade | null, x: number, y: number): number {
  if (!shade) return 1;
  const [v1, v2] = shade.vignetting;
  if (v1 === 0 && v2 === 0) return 1;
  const q = ((x - shade.centre[0]) ** 2 + (y - shade.centre[1]) ** 2) / shade.halfDiagonalPx ** 2;
  return 1 / Math.max(0.05, 1 + q * (v1 + q * v2));
}
