// How far two rectangles lie on each other.
import type { Region } from './raster';

/** Area that two rectangles share, px²; 0 where they only touch. */
export function sharedArea(a: Region, b: Region): number {
  const across = Math.min(a.x + a.width, b.x + b.width) - Math.max(a.x, b.x);
  const down = Math.min(a.y + a.height, b.y + b.height) - Math.max(a.y, b.y);
  return across > 0 && down > 0 ? across * down : 0;
}
