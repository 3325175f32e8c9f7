// A thin lens: where the picture lies and how large it is. Distances in mm from the front principal plane.
import { badParameter } from '../checks';

/**
 * Image distance v = f·s/(s−f); f for a point at infinity.
 * @param focalLengthMm more than 0
 * @param distanceMm more than the focal length; may be Infinity
 * @returns mm
 * @throws for a distance inside the focal length: no picture forms
 */
export function imageDistanceMm(focalLengthMm: number, distanceMm: number): number {
  checkDistance('imageDistanceMm', focalLengthMm, distanceMm);
  return focalLengthMm / (1 - focalLengthMm / distanceMm);
}

/**
 * Magnification m = f/(s−f), size on the sensor over size in front of the lens; 0 at infinity.
 * @throws for a distance inside the focal length
 */
export function magnificationAt(focalLengthMm: number, distanceMm: number): number {
  checkDistance('magnificationAt', focalLengthMm, distanceMm);
  return focalLengthMm / (distanceMm - focalLengthMm);
}

/**
 * f-number that light and diffraction feel in a close-up: N·(1 + m/P).
 * @param pupilMagnification exit over entrance pupil, more than 0; default 1
 */
export function effectiveFNumber(fNumber: number, magnification: number, pupilMagnification = 1): number {
  return fNumber * (1 + magnification / pupilMagnification);
}

/**
 * Magnification with extension tubes: m rises by tube/f.
 * @param extensionMm 0 or more
 */
export function extendedMagnification(magnification: number, extensionMm: number, focalLengthMm: number): number {
  return magnification + extensionMm / focalLengthMm;
}

/**
 * Breathing of a unit-focusing lens between two focus distances: how much larger the picture is when focused at the nearer.
 * @returns scale v(near)/v(far), 1 or more, and the share of the frame's side that it costs in all (half at each side)
 */
export function breathing(
  focalLengthMm: number,
  nearMm: number,
  farMm: number,
): { readonly scale: number; readonly margin: number } {
  const scale = imageDistanceMm(focalLengthMm, nearMm) / imageDistanceMm(focalLengthMm, farMm);
  return { scale, margin: 1 - 1 / scale };
}

/**
 * The same for a lens whose breathing was measured.
 * @param percentPerDioptre change of scale per dioptre of focus, of either sign
 * @param nearMm, farMm focus distances, more than 0 mm; Infinity is accepted
 * @throws ParameterError for other distances
 */
export function measuredBreathing(
  percentPerDioptre: number,
  nearMm: number,
  farMm: number,
): { readonly scale: number; readonly margin: number } {
  if (!(nearMm > 0 && farMm > 0))
    throw badParameter('measuredBreathing.nearMm, farMm', 'more than 0 mm', [nearMm, farMm]);
  const dioptres = Math.abs(1000 / nearMm - 1000 / farMm);
  const scale = Math.exp((Math.abs(percentPerDioptre) / 100) * dioptres);
  return { scale, margin: 1 - 1 / scale };
}

function checkDistance(name: string, focalLengthMm: number, distanceMm: number): void {
  if (!(focalLengthMm > 0)) throw badParameter(`${name}.focalLengthMm`, 'more than 0 mm', focalLengthMm);
  if (!(distanceMm > focalLengthMm))
    throw badParameter(`${name}.distanceMm`, `more than the focal length of ${focalLengthMm} mm`, distanceMm);
}
