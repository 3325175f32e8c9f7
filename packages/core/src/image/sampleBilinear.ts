// Point sampling of small planes.
import type { Plane } from './raster';

/** Bilinear value at (x, y) with sample centres at .5; edges repeated. */
export function sampleBilinear(plane: Plane, x: number, y: number): number {
  const { width, height, data } = plane;
  const sx = Math.min(width - 1, Math.max(0, x - 0.5));
  const sy = Math.min(height - 1, Math.max(0, y - 0.5));
  const x0 = Math.floor(sx);
  const y0 = Math.floor(sy);
  const x1 = Math.min(width - 1, x0 + 1);
  const y1 = Math.min(height - 1, y0 + 1);
  const t = sx - x0;
  const u = sy - y0;
  const top = data[y0 * width + x0]! * (1 - t) + data[y0 * width + x1]! * t;
  const bottom = data[y1 * width + x0]! * (1 - t) + data[y1 * width + x1]! * t;
  return top * (1 - u) + bottom * u;
}
