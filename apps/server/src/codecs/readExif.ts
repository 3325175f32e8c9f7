// Camera settings from a picture file.
import exifr from 'exifr';
import type { Exif } from '@blendrak/contract';

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
