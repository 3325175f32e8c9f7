// Small pictures for lists.
import sharp from 'sharp';

const THUMB_PX = 240;

/**
 * Writes a small JPEG.
 * @param rgb interleaved 8-bit sRGB
 */
export async function writeThumbnail(rgb: Uint8Array, width: number, height: number, path: string): Promise<void> {
  await sharp(rgb, { raw: { width, height, channels: 3 } })
    .resize({ width: THUMB_PX, height: THUMB_PX, fit: 'inside', withoutEnlargement: true })
    .jpeg({ quality: 80 })
    .toFile(path);
}
