// Task `testLight`: how the light of a scene is spread, from a developed test frame.
import sharp from 'sharp';
import type { Exif } from '@blendrak/contract';
import { srgbToLinear } from '@blendrak/core/image';
import type { TaskRequest, TaskResponse } from '../protocol';

/** Codes of 8 bits at which tones are taken as clipped. */
const CLIPPED = 252;
const BURIED = 4;
/** Shares of the picture that may lie outside the range: lamps, glints and cracks. */
const OUTSIDE = 0.002;
/** Pixels across that are enough for a histogram. */
const SIZE_PX = 1024;

/**
 * Range of light in a frame: from the tone below which 0.2 % of the picture lies to the one above which 0.2 % does, in EV of
 * linear light. Frames are taken for sRGB; a tone curve of the developer narrows or widens what is found.
 */
export async function testLightTask({ path, exif }: TaskRequest<'testLight'>): Promise<TaskResponse<'testLight'>> {
  const { data } = await sharp(path, { limitInputPixels: false })
    .resize({ width: SIZE_PX, height: SIZE_PX, fit: 'inside', kernel: 'nearest', withoutEnlargement: true })
    .toColourspace('srgb')
    .removeAlpha()
    .greyscale()
    .raw()
    .toBuffer({ resolveWithObject: true });
  const counts = new Float64Array(256);
  for (const code of data) counts[code]! += 1;
  const low = tone(counts, data.length * OUTSIDE);
  const high = 255 - tone([...counts].reverse(), data.length * OUTSIDE);
  const share = (from: number, to: number): number => counts.slice(from, to).reduce((s, n) => s + n, 0) / data.length;
  const ev = (code: number): number => Math.log2(srgbToLinear(Math.min(CLIPPED, Math.max(BURIED, code)) / 255));
  const exposure = exposureEv(exif);
  return {
    rangeEv: ev(high) - ev(low),
    darkestEv: exposure === null ? null : ev(low) - exposure,
    brightestEv: exposure === null ? null : ev(high) - exposure,
    highlightClippedShare: share(CLIPPED, 256),
    shadowClippedShare: share(0, BURIED + 1),
  };
}

/** Light that the settings let in against 1 s, f/1, ISO 100; EV. */
function exposureEv(exif: Exif | null): number | null {
  if (!exif?.exposureS || !exif.fNumber) return null;
  return Math.log2(exif.exposureS / (exif.fNumber * exif.fNumber)) + Math.log2((exif.iso ?? 100) / 100);
}

/** First code below which more than `least` values lie. */
function tone(counts: ArrayLike<number>, least: number): number {
  let sum = 0;
  for (let code = 0; code < counts.length; code++) {
    sum += counts[code]!;
    if (sum > least) return code;
  }
  return counts.length - 1;
}
