// Tasks of showing pictures.
import type { PanoramaLayoutName } from '@blendrak/contract';
import type { CameraRig } from '@blendrak/core/align';
import type { LocalField } from '@blendrak/core/frame';
import type { Operation } from '@blendrak/core/repair';
import type { TileRequest } from '../../tiles';
import type { InspectionScene, PlacedPicture } from './pictures';

/** What a tile shows. */
export type TileSource =
  | { readonly kind: 'picture'; readonly tiles: string }
  /** A frame where it lies in a merge, toned like it. */
  | { readonly kind: 'frame'; readonly frame: PlacedPicture }
  /** A map of a merge's evidence: plane of a file of byte planes, so many cells across and down. */
  | {
      readonly kind: 'map';
      readonly file: string;
      readonly plane: number;
      readonly width: number;
      readonly height: number;
    }
  /** A merge as repaired; frames that no operation names may be left out. `names` are those of the operations. */
  | { readonly kind: 'repaired'; readonly scene: InspectionScene; readonly names: readonly string[] };

/** A panorama's cameras, to be laid out anew. */
export interface CameraSet {
  readonly frames: readonly PlacedPicture[];
  readonly rig: CameraRig;
  readonly down: readonly [number, number, number];
  readonly vignetting: readonly [number, number];
  readonly locals: readonly (LocalField | null)[];
}

export interface TileTasks {
  /** Gets a thread ready: its kernels, and the encoder of tiles. */
  readonly warmUp: [null, null];
  /** A tile, encoded; `icc` is the path of the picture's profile. */
  readonly tile: [{ source: TileSource; tile: TileRequest; icc: string | null }, Uint8Array];
  /** The mask of one frame over a whole merge, PNG. */
  readonly mask: [{ operations: readonly Operation[]; frame: number; width: number; height: number }, Uint8Array];
  /** Label maps as a small PNG: red = frame shown + 1 (0 none of them), green = closest frame + 1. */
  readonly labelPicture: [{ labels: string; width: number; height: number }, Uint8Array];
  /** A panorama as another projection would show it, JPEG; null where that cannot show it. */
  readonly projection: [
    { cameras: CameraSet; projection: PanoramaLayoutName; longSidePx: number; icc: string | null },
    Uint8Array | null,
  ];
}
