// A tile of the picture with operations laid over it that the server has not rendered yet: the same masks as the server's, on the pixels
// of tiles. Pure data, for the preview worker.
import { layShape, shapeRegion, type MaskShape } from '@blendrak/core/repair';
import { union, type PictureRegion } from '../camera';

/** Pixels of a tile, RGBA. */
export type TilePixels = Uint8ClampedArray;

export interface ComposedTile {
  /** Part of the picture, in px of the tile's level. */
  readonly region: PictureRegion;
  /** Picture px per tile px. */
  readonly scale: number;
  /** What is shown: opaque where something has been laid, else transparent. */
  readonly shown: TilePixels;
  /** The tile below, with all that has been laid for good. */
  readonly below: TilePixels;
  /** The part of it in which something is shown; null for none. */
  touched: PictureRegion | null;
  /** The shape being drawn, and how far each px of it has been covered. */
  draft: { readonly mask: Float32Array; readonly donor: TilePixels } | null;
}

/** A part of a tile whose pixels have changed, px of the tile. */
export interface TilePatch extends PictureRegion {
  readonly data: Uint8ClampedArray<ArrayBuffer>;
}

/** A tile with nothing laid over it; `base` is changed from now on. */
export function startTile(region: PictureRegion, scale: number, base: TilePixels): ComposedTile {
  return { region, scale, shown: new Uint8ClampedArray(base.length), below: base, touched: null, draft: null };
}

/** Lays a shape for good. */
export function layOperation(tile: ComposedTile, shape: MaskShape, donor: TilePixels): void {
  const mask = new Float32Array(tile.region.width * tile.region.height);
  layShape(mask, tile.region, shape, tile.scale);
  const box = boxOf(tile, shape);
  if (!box) return;
  mix(tile, mask, donor, box);
  keep(tile, box);
}

/** Begins a shape that will grow. */
export function beginDraft(tile: ComposedTile, donor: TilePixels): void {
  tile.draft = { mask: new Float32Array(tile.region.width * tile.region.height), donor };
}

/**
 * Lays a further piece of the shape that is being drawn.
 * @returns what has changed; null when the piece does not reach the tile
 */
export function growDraft(tile: ComposedTile, piece: MaskShape): TilePatch | null {
  const box = boxOf(tile, piece);
  if (!tile.draft || !box) return null;
  layShape(tile.draft.mask, tile.region, piece, tile.scale);
  mix(tile, tile.draft.mask, tile.draft.donor, box);
  return cut(tile, box);
}

/** What was being drawn stays. */
export function commitDraft(tile: ComposedTile): void {
  if (tile.touched) keep(tile, tile.touched);
  tile.draft = null;
}

/** What was being drawn goes. @returns all that is shown of the tile then */
export function dropDraft(tile: ComposedTile): TilePatch | null {
  const { draft, shown, below } = tile;
  if (draft) {
    for (let i = 0; i < draft.mask.length; i++) {
      if (draft.mask[i]! === 0) continue;
      // Whether something lay there before is told by the pixels below being shown already.
      const wasShown = below[4 * i + 3] === LAID;
      for (let c = 0; c < 3; c++) shown[4 * i + c] = below[4 * i + c]!;
      shown[4 * i + 3] = wasShown ? 255 : 0;
    }
  }
  tile.draft = null;
  return wholeTile(tile);
}

/** All that is shown of a tile; null for nothing. */
export function wholeTile(tile: ComposedTile): TilePatch | null {
  return tile.touched && cut(tile, tile.touched);
}

/** Marks, in the unused alpha of the pixels below, where something has been laid for good. */
const LAID = 254;

function mix(tile: ComposedTile, mask: Float32Array, donor: TilePixels, box: PictureRegion): void {
  const { shown, below, region } = tile;
  tile.touched = tile.touched ? union(tile.touched, box) : box;
  for (let y = box.y; y < box.y + box.height; y++) {
    for (let x = box.x; x < box.x + box.width; x++) {
      const at = y * region.width + x;
      const m = mask[at]!;
      if (m === 0) continue;
      const i = 4 * at;
      for (let c = 0; c < 3; c++) shown[i + c] = below[i + c]! + m * (donor[i + c]! - below[i + c]!);
      shown[i + 3] = 255;
    }
  }
}

function keep({ shown, below, region }: ComposedTile, box: PictureRegion): void {
  for (let y = box.y; y < box.y + box.height; y++) {
    for (let x = box.x; x < box.x + box.width; x++) {
      const i = 4 * (y * region.width + x);
      if (shown[i + 3] !== 255) continue;
      for (let c = 0; c < 3; c++) below[i + c] = shown[i + c]!;
      below[i + 3] = LAID;
    }
  }
}

function cut({ shown, region }: ComposedTile, box: PictureRegion): TilePatch {
  const data = new Uint8ClampedArray(4 * box.width * box.height);
  for (let y = 0; y < box.height; y++) {
    const from = 4 * ((box.y + y) * region.width + box.x);
    data.set(shown.subarray(from, from + 4 * box.width), 4 * y * box.width);
  }
  return { ...box, data };
}

/** The part of a tile that a shape can reach, px of the tile. */
function boxOf({ region, scale }: ComposedTile, shape: MaskShape): PictureRegion | null {
  const reach = shapeRegion(shape);
  const x = Math.max(0, Math.floor(reach.x / scale - region.x) - 1);
  const y = Math.max(0, Math.floor(reach.y / scale - region.y) - 1);
  const width = Math.min(region.width, Math.ceil((reach.x + reach.width) / scale - region.x) + 1) - x;
  const height = Math.min(region.height, Math.ceil((reach.y + reach.height) / scale - region.y) + 1) - y;
  return width > 0 && height > 0 ? { x, y, width, height } : null;
}
