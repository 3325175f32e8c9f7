// Cuts work into parts of bounded size.
import { badParameter } from '../checks';
import type { Region } from './raster';

/**
 * Cuts a region into tiles, row by row; the last column and row take what is left.
 * @param region px
 * @param tileWidthPx at least 1
 * @param tileHeightPx at least 1; default: as wide as high
 * @returns tiles that cover the region without overlap
 * @throws when a tile would be empty
 */
export function tileRegion(region: Region, tileWidthPx: number, tileHeightPx = tileWidthPx): Region[] {
  if (!(tileWidthPx >= 1 && tileHeightPx >= 1))
    throw badParameter('tileRegion.tile', 'sides of at least 1 px', [tileWidthPx, tileHeightPx]);
  const right = region.x + region.width;
  const bottom = region.y + region.height;
  const tiles: Region[] = [];
  for (let y = region.y; y < bottom; y += tileHeightPx) {
    for (let x = region.x; x < right; x += tileWidthPx) {
      tiles.push({ x, y, width: Math.min(tileWidthPx, right - x), height: Math.min(tileHeightPx, bottom - y) });
    }
  }
  return tiles;
}
