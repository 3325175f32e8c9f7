// A small picture for screens, from our flat TIFF.
import { ON_SCREEN, outputSharpeningPx } from '@blendrak/core/print';
import sharp from 'sharp';
import { EDGES_ONLY } from './sharpenTiff';

/** What a screen is shown at: finely enough that blocks do not show, then as coarse as a limit of size asks for. */
const QUALITIES = [92, 86, 80, 72, 64, 55, 45, 35, 25] as const;

/**
 * Writes a JPEG for screens: sRGB, no larger than is wanted.
 * @param longSidePx null for full size
 * @param mostBytes null for any
 * @param sharpen whether edges are raised for screens, once it has its size
 * @returns its size, px and bytes, and whether it keeps within `mostBytes`
 */
export async function screenJpeg(
  tiff: string,
  out: string,
  longSidePx: number | null,
  mostBytes: number | null,
  sharpen = false,
): Promise<{ readonly width: number; readonly height: number; readonly bytes: number; readonly fits: boolean }> {
  const picture = sharp(tiff, { limitInputPixels: false });
  if (longSidePx !== null)
    picture.resize({ width: longSidePx, height: longSidePx, fit: 'inside', withoutEnlargement: true });
  if (sharpen) picture.sharpen({ sigma: outputSharpeningPx(ON_SCREEN), ...EDGES_ONLY });
  const { data, info } = await picture.toColourspace('srgb').raw().toBuffer({ resolveWithObject: true });
  const { width, height, channels } = info;
  let bytes = 0;
  for (const quality of QUALITIES) {
    const small = sharp(data, { raw: { width, height, channels }, limitInputPixels: false }).withIccProfile('srgb');
    ({ size: bytes } = await small.jpeg({ quality, mozjpeg: true }).toFile(out));
    if (mostBytes === null || bytes <= mostBytes) break;
  }
  return { width, height, bytes, fits: mostBytes === null || bytes <= mostBytes };
}
