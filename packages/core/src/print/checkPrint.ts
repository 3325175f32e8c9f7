// Is a picture large enough for a print, and would more pixels show?
import { ACUITY_ARCMIN, pixelAngleArcmin, resolvablePpi } from './acuity';
import { pictureBytes, printLengthMm } from './printSize';

export interface PrintRequest {
  readonly pixelsWide: number;
  readonly pixelsHigh: number;
  readonly ppi: number;
  /** null: the print's diagonal, the usual distance. */
  readonly viewingDistanceMm: number | null;
  /** Width of the sensor, or of all the frames side by side, that the pixels come from; null when unknown. */
  readonly sensorWidthMm: number | null;
}

export interface PrintCheck {
  readonly widthMm: number;
  readonly heightMm: number;
  readonly megapixels: number;
  /** Uncompressed RGB of 16 bits. */
  readonly bytes16: number;
  readonly viewingDistanceMm: number;
  readonly pixelArcmin: number;
  /** Print width over sensor width. */
  readonly enlargement: number | null;
  /** Pixels per inch that the eye can use from there. */
  readonly usefulPpi: number;
  /** Whether a longer lens or more frames would show in this print from there. */
  readonly morePixelsShow: boolean;
  /** How many times as many pixels along a side the eye could still use; 1 when none. */
  readonly usefulFactor: number;
}

/** Someone who looks closely holds a print at this distance. */
export const CLOSE_LOOK_MM = 300;

/**
 * The print of a picture at a resolution, against the eye at its viewing distance.
 * @throws for a resolution that is not positive
 */
export function checkPrint(request: PrintRequest): PrintCheck {
  const { pixelsWide, pixelsHigh, ppi, sensorWidthMm } = request;
  const widthMm = printLengthMm(pixelsWide, ppi);
  const heightMm = printLengthMm(pixelsHigh, ppi);
  const viewingDistanceMm = request.viewingDistanceMm ?? Math.max(CLOSE_LOOK_MM, Math.hypot(widthMm, heightMm));
  const pixelArcmin = pixelAngleArcmin(ppi, viewingDistanceMm);
  const usefulPpi = resolvablePpi(viewingDistanceMm);
  return {
    widthMm,
    heightMm,
    megapixels: (pixelsWide * pixelsHigh) / 1e6,
    bytes16: pictureBytes(pixelsWide, pixelsHigh, 16),
    viewingDistanceMm,
    pixelArcmin,
    enlargement: sensorWidthMm === null ? null : widthMm / sensorWidthMm,
    usefulPpi,
    morePixelsShow: pixelArcmin > ACUITY_ARCMIN,
    usefulFactor: Math.max(1, usefulPpi / ppi),
  };
}
