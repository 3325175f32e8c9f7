// Pictures as plain records of float planes.
import { badParameter } from '../checks';

/** Whether values are proportional to light or encoded by a profile's transfer curve; mixing them up is silent, so it is typed. */
export type Encoding = 'linear' | 'encoded';

/** A picture of planar floats, nominally 0..1; plane value (x, y) stands at index y·width + x, its centre at (x+.5, y+.5). */
export interface Raster {
  readonly width: number;
  readonly height: number;
  readonly encoding: Encoding;
  readonly planes: readonly Float32Array[];
}

/** One plane of floats with its size; values mean what the producer says. */
export interface Plane {
  readonly width: number;
  readonly height: number;
  readonly data: Float32Array;
}

/** Half-open rectangle in px: x ≤ column < x + width. */
export interface Region {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/**
 * A plane of zeros (or of `fill`).
 * @throws ParameterError for a side below 1 px
 */
export function makePlane(width: number, height: number, fill = 0): Plane {
  if (!(width >= 1 && height >= 1))
    throw badParameter('makePlane.size', 'width and height of at least 1 px', [width, height]);
  const data = new Float32Array(width * height);
  if (fill !== 0) data.fill(fill);
  return { width, height, data };
}

/** The region grown by `marginPx` on all sides, cut to 0..width, 0..height. */
export function growRegion(region: Region, marginPx: number, width: number, height: number): Region {
  const x = Math.max(0, Math.floor(region.x - marginPx));
  const y = Math.max(0, Math.floor(region.y - marginPx));
  return {
    x,
    y,
    width: Math.min(width, Math.ceil(region.x + region.width + marginPx)) - x,
    height: Math.min(height, Math.ceil(region.y + region.height + marginPx)) - y,
  };
}
