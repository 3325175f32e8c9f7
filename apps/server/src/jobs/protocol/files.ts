// Tasks that read and write files.
import type { Exif } from '@blendrak/contract';
import type { NoiseCurve } from '@blendrak/core/image';
import type { PartFile, TiffLayout } from '../../codecs';
import type { InspectionScene } from './pictures';

export interface StoredInfo {
  readonly width: number;
  readonly height: number;
  readonly bits: 8 | 16;
  readonly profileName: string | null;
  readonly icc: Uint8Array | null;
  readonly exif: Exif | null;
  readonly noise: NoiseCurve;
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
  readonly renderRows: [{ scene: InspectionScene; out: string; layout: TiffLayout; y: number; rows: number }, null];
  /** Writes a TIFF as PNG or JPEG, by the ending of `out`. */
  readonly convertTiff: [{ tiff: string; out: string }, null];
}
