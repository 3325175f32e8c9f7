// Tiles of a picture: 512 px each, on levels that halve it; the same for the viewer and for the preview of strokes.
import type { PictureRegion, PictureSize } from './camera';

export const TILE_PX = 512;

export interface GridTile {
  readonly region: PictureRegion;
  /** Size of the tile, px. */
  readonly width: number;
  readonly height: number;
}

/** The highest level, on which a tile px is a picture px. */
export function topLevel({ width, height }: PictureSize): number {
  return Math.max(0, Math.ceil(Math.log2(Math.max(width, height) / TILE_PX)));
}

/** Picture px per tile px of a level. */
export function scaleOf(picture: PictureSize, level: number): number {
  return 2 ** (topLevel(picture) - level);
}

/** The level whose px are no larger than those of the screen, as far as there is one. */
export function levelFor(picture: PictureSize, devicePxPerPicturePx: number): number {
  const top = topLevel(picture);
  return Math.min(top, Math.max(0, top + Math.ceil(Math.log2(devicePxPerPicturePx) - 1e-6)));
}

export function tileAt(picture: PictureSize, level: number, column: number, row: number): GridTile {
  const scale = scaleOf(picture, level);
  const x = column * TILE_PX * scale;
  const y = row * TILE_PX * scale;
  const width = Math.min(TILE_PX * scale, picture.width - x);
  const height = Math.min(TILE_PX * scale, picture.height - y);
  return {
    region: { x, y, width, height },
    width: Math.max(1, Math.round(width / scale)),
    height: Math.max(1, Math.round(height / scale)),
  };
}

/** Columns and rows of the tiles of a level that a region touches. */
export function tilesTouching(picture: PictureSize, level: number, region: PictureRegion): [number, number][] {
  const side = TILE_PX * scaleOf(picture, level);
  const last = (size: number): number => Math.ceil(size / side) - 1;
  const from = (v: number): number => Math.max(0, Math.floor(v / side));
  const to = (v: number, size: number): number => Math.min(last(size), Math.ceil(v / side) - 1);
  const found: [number, number][] = [];
  for (let row = from(region.y); row <= to(region.y + region.height, picture.height); row++) {
    for (let column = from(region.x); column <= to(region.x + region.width, picture.width); column++) {
      found.push([column, row]);
    }
  }
  return found;
}
