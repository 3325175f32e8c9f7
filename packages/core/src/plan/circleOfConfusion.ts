// Which blur still counts as sharp.
import { ACUITY_ARCMIN } from '../print';

/** A sensor with its pixels, as the camera is held for a landscape frame. */
export interface CameraBody {
  readonly sensorWidthMm: number;
  readonly sensorHeightMm: number;
  readonly pixelsWide: number;
  readonly pixelsHigh: number;
}

/** The schools of the accepted blur disc. */
export type AcceptedBlur =
  /** At 100 % on a screen: 1.5 to 2 pixels. */
  | { readonly by: 'pixels'; readonly pixels: number }
  /** The rule of old: the sensor's diagonal over 1500. */
  | { readonly by: 'diagonal' }
  /** What the eye resolves on a print of this width at this distance. */
  | { readonly by: 'print'; readonly printWidthMm: number; readonly viewingDistanceMm: number };

/** Side of a pixel on the sensor, mm. */
export function pixelPitchMm({ sensorWidthMm, pixelsWide }: CameraBody): number {
  return sensorWidthMm / pixelsWide;
}

/** Diameter of the accepted blur disc on the sensor, mm. */
export function circleOfConfusionMm(camera: CameraBody, accepted: AcceptedBlur): number {
  if (accepted.by === 'pixels') return accepted.pixels * pixelPitchMm(camera);
  if (accepted.by === 'diagonal') return Math.hypot(camera.sensorWidthMm, camera.sensorHeightMm) / 1500;
  const onPaper = accepted.viewingDistanceMm * Math.tan(((ACUITY_ARCMIN / 60) * Math.PI) / 180);
  return (onPaper * camera.sensorWidthMm) / accepted.printWidthMm;
}
