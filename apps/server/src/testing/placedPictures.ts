// Pictures of planes for tests of pipeline steps: written, stored, and lying on the merge as they are.
import { join } from 'node:path';
import { SAME_PLACE } from '@blendrak/core/frame';
import { IDENTITY_TONE, type Plane } from '@blendrak/core/image';
import sharp from 'sharp';
import { greyPixels } from '../../../../packages/core/src/testing/pictures';
import type { RunTask } from '../jobs';
import type { PlacedFrame } from '../pipeline';

/** Writes a grey plane, 0..1, as a PNG file of 8 bits; returns its path. */
export async function writePlane(folder: string, name: string, plane: Plane): Promise<string> {
  const file = join(folder, `${name}.png`);
  const raw = { width: plane.width, height: plane.height, channels: 3 as const };
  await sharp(greyPixels(plane, 8).data as Uint8Array, { raw })
    .png()
    .toFile(file);
  return file;
}

/** Stores a file as a frame that needs no aligning. */
export async function storePlaced(run: RunTask, folder: string, name: string, file: string): Promise<PlacedFrame> {
  const tiles = join(folder, `${name}.tiles`);
  const { width, height, bits, noise } = await run('store', { path: file, name: `${name}.png`, out: tiles });
  const place = { geometry: SAME_PLACE, tone: IDENTITY_TONE, residualPx: 0, correlation: 1 };
  return { name: `${name}.png`, tiles, width, height, bits, noise, exif: null, ...place };
}
