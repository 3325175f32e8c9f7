// What a page and its preview worker tell each other.
import type { MaskShape } from '@blendrak/core/repair';
import type { PictureRegion } from '../camera';
import type { TilePatch } from './composeTile';

/** An operation to be shown before the server has rendered it. */
export interface PreviewOperation {
  readonly id: string;
  readonly shape: MaskShape;
  /** Address of the donor's pixels in this tile. */
  readonly donorUrl: string;
}

/** A tile to be shown. */
export interface WantedTile {
  readonly key: string;
  /** In px of the tile's level. */
  readonly region: PictureRegion;
  readonly scale: number;
  /** Address of the tile as the server has it. */
  readonly baseUrl: string;
  /** Names of all operations that reach it, in order, those in the base included. */
  readonly all: readonly string[];
  /** Those that the base does not show. */
  readonly operations: readonly PreviewOperation[];
}

export type ToPreview =
  /** These tiles, and no others. */
  | { readonly kind: 'want'; readonly tiles: readonly WantedTile[] }
  /** Pixels that may be needed soon. */
  | { readonly kind: 'fetch'; readonly urls: readonly string[] }
  /** A piece of the shape that is being drawn, and the tiles that it reaches; those that it reaches first come with it. */
  | {
      readonly kind: 'draw';
      readonly piece: MaskShape;
      readonly keys: readonly string[];
      readonly first: readonly (WantedTile & { readonly donorUrl: string })[];
    }
  /** What was being drawn is an operation now. */
  | { readonly kind: 'commit'; readonly id: string }
  | { readonly kind: 'giveUp' };

export type FromPreview =
  | {
      readonly kind: 'patch';
      readonly key: string;
      readonly width: number;
      readonly height: number;
      readonly patch: TilePatch;
      /** Whether nothing else of the tile is shown. */
      readonly isAll: boolean;
    }
  | { readonly kind: 'gone'; readonly key: string };
