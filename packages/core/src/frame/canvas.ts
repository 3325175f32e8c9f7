// The canvas of a panorama: directions to places and back.

/** How directions become places on the canvas of a panorama. */
export type Projection = 'flat' | 'cylindrical' | 'spherical';

/** The canvas of a panorama: px per radian in its middle, and where its axis (straight ahead) lies. */
export interface Canvas {
  readonly projection: Projection;
  readonly focalPx: number;
  readonly axis: readonly [number, number];
}

/**
 * Direction of a canvas point (projections after J. P. Snyder, Map Projections: A Working Manual, USGS 1395, 1987).
 * @param x canvas px, right
 * @param y canvas px, down
 * @returns x right, y down, z ahead in canvas axes; not normalised
 */
export function canvasRay({ projection, focalPx, axis }: Canvas, x: number, y: number): [number, number, number] {
  const u = (x - axis[0]) / focalPx;
  const v = (y - axis[1]) / focalPx;
  if (projection === 'flat') return [u, v, 1];
  if (projection === 'cylindrical') return [Math.sin(u), v, Math.cos(u)];
  return [Math.sin(u) * Math.cos(v), Math.sin(v), Math.cos(u) * Math.cos(v)];
}

/**
 * Where a direction falls on a canvas; the inverse of `canvasRay`.
 * @returns canvas px; null where the projection shows nothing
 */
export function rayOnCanvas(canvas: Canvas, x: number, y: number, z: number): [number, number] | null {
  const { projection, focalPx, axis } = canvas;
  if (projection === 'flat') return z > 1e-9 ? [axis[0] + (focalPx * x) / z, axis[1] + (focalPx * y) / z] : null;
  const level = Math.hypot(x, z);
  if (!(level > 1e-12)) return null;
  const up = projection === 'cylindrical' ? y / level : Math.atan2(y, level);
  return [axis[0] + focalPx * Math.atan2(x, z), axis[1] + focalPx * up];
}
