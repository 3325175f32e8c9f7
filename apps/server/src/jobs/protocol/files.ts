// Tasks that read and write files.
import type { Exif } from '@blendrak/contract';
import type { NoiseCurve, Region } from '@blendrak/core/image';
import type { PartFile, RasterLayer, TiffLayout } from '../../codecs';
import type { InspectionScene, StoredPicture } from './pictures';

export interface StoredInfo {
  readonly width: number;
  readonly height: number;
  readonly bits: 8 | 16;
  readonly profileName: string | null;
  readonly icc: Uint8Array | null;
  readonly exif: Exif | null;
  readonly noise: NoiseCurve;
}

/** A picture turned about its middle and cropped (see core/finish). */
export interface PictureCut {
  readonly turnDeg: number;
  /** In px of the turned picture. */
  readonly crop: Region;
}

export interface FileTasks {
  /** Takes a file that holds several pictures apart; null for one that holds one. */
  readonly expand: [{ path: string; name: string; folder: string }, readonly PartFile[] | null];
  /** Decodes a file into a tile file. */
  readonly store: [{ path: string; name: string; out: string }, StoredInfo];
  /** Noise of a picture already on disk. */
  readonly noise: [{ tiles: string }, NoiseCurve];
  readonly pyramid: [{ tiles: string }, null];
  /** Begins a TIFF of 16 bits; `icc` is the path of its profile. */
  readonly beginTiff: [{ width: number; height: number; icc: string | null; out: string }, TiffLayout];
  /** Writes rows of the repaired picture into a TIFF that was begun. */
  readonly renderRows: [
    { scene: InspectionScene; out: string; layout: TiffLayout; y: number; rows: number; cut?: PictureCut },
    null,
  ];
  /** Writes one operation's donor as a PNG with transparency: what of it shows, over the part that it can touch. */
  readonly layerPng: [{ scene: InspectionScene; operation: number; out: string }, null];
  /** Writes a JPEG for screens from a TIFF. */
  readonly screenJpeg: [
    { tiff: string; out: string; longSidePx: number | null; mostBytes: number | null; sharpen: boolean },
    { width: number; height: number; bytes: number; fits: boolean },
  ];
  /** Writes a copy of a TIFF that is sharpened for output. */
  readonly sharpenTiff: [{ tiff: string; out: string; sigmaPx: number }, null];
  /** Writes a layered picture; `merged` and the layers' files are PNGs. */
  readonly openRaster: [
    { out: string; width: number; height: number; layers: readonly RasterLayer[]; merged: string },
    null,
  ];
  /** Long straight edges of a merge, px. */
  readonly edges: [{ merge: StoredPicture }, readonly (readonly [number, number, number, number])[]];
  /** Writes a TIFF as PNG or JPEG, by the ending of `out`. */
  readonly convertTiff: [{ tiff: string; out: string }, null];
}
