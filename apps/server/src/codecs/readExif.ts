// Camera settings from a picture file.
import { readFileSync, readSync, statSync } from 'node:fs';
import exifr from 'exifr';
import type { Exif } from '@blendrak/contract';
import { withDescriptor } from '../shared/withDescriptor';

/** The library's own reader of files, as far as it is replaced here. */
interface Chunk {
  readonly dataView: DataView;
}
interface LibraryReader {
  readonly input: string;
  size: number;
  chunked: boolean;
  subarray(offset: number, length: number, grow: boolean): Chunk;
  _swapBuffer(buffer: Buffer): void;
}
const libraryReader = exifr.fileReaders.get('fs') as new (input: string, options: object) => LibraryReader;

/** Reads as shared/withDescriptor does, piece by piece: the library opens files for later, in a thread that may be ended. */
class ExifReader extends libraryReader {
  readWhole(): void {
    this.chunked = false;
    this._swapBuffer(readFileSync(this.input));
  }

  open(): void {
    this.size = statSync(this.input).size;
  }

  _readChunk(offset: number, wanted: number): Chunk {
    const length = Math.min(wanted, this.size - offset);
    const chunk = this.subarray(offset, length, true);
    withDescriptor(this.input, (fd) => readSync(fd, chunk.dataView, 0, length, offset));
    return chunk;
  }
}
exifr.fileReaders.set('fs', ExifReader);

const TAGS = [
  'Make',
  'Model',
  'LensModel',
  'DateTimeOriginal',
  'ExposureTime',
  'FNumber',
  'FocalLength',
  'ISO',
  'SubjectDistance',
  'FocalLengthIn35mmFormat',
  'WhiteBalance',
];

/** Reads the settings that matter here; null when the file has none (exports often drop them). */
export async function readExif(path: string): Promise<Exif | null> {
  const raw: unknown = await exifr.parse(path, { pick: TAGS }).catch(() => null);
  if (!raw || typeof raw !== 'object') return null;
  const tags = raw as Record<string, unknown>;
  const number = (key: string): number | null => (typeof tags[key] === 'number' ? tags[key] : null);
  const text = (key: string): string | null => (typeof tags[key] === 'string' && tags[key] ? tags[key] : null);
  const taken = tags['DateTimeOriginal'];
  return {
    camera: [text('Make'), text('Model')].filter(Boolean).join(' ') || null,
    lens: text('LensModel'),
    takenAt: taken instanceof Date && !Number.isNaN(taken.getTime()) ? taken.toISOString() : null,
    exposureS: number('ExposureTime'),
    fNumber: number('FNumber'),
    focalLengthMm: number('FocalLength'),
    iso: number('ISO'),
    focusDistanceM: number('SubjectDistance'),
    focalLength35Mm: number('FocalLengthIn35mmFormat'),
    whiteBalance: text('WhiteBalance'),
  };
}
