// Sets of frames to attack with: the same texture at rising blur, drawn at once instead of photographed.
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';

/**
 * Writes frames of a focus stack whose planes of focus lie side by side.
 * @param format of the files
 * @returns the folder
 */
export async function drawStack(
  folder: string,
  { frames, width, height, format = 'jpg' }: { frames: number; width: number; height: number; format?: 'jpg' | 'tif' },
): Promise<string> {
  mkdirSync(folder, { recursive: true });
  const raw = { width, height, channels: 3 as const };
  const noise = await sharp({
    create: { ...raw, background: '#777777', noise: { type: 'gaussian', mean: 128, sigma: 45 } },
  })
    .blur(1.1)
    .raw()
    .toBuffer();
  const strip = Math.ceil(width / frames);
  for (let k = 0; k < frames; k++) {
    const left = k * strip;
    const sharpPart = { left, top: 0, width: Math.min(strip, width - left), height };
    const patch = await sharp(noise, { raw }).extract(sharpPart).png({ compressionLevel: 1 }).toBuffer();
    const soft = sharp(noise, { raw })
      .blur(2.5)
      .composite([{ input: patch, left, top: 0 }]);
    const name = join(folder, `frame${String(k + 1).padStart(3, '0')}`);
    if (format === 'jpg') await soft.jpeg({ quality: 92 }).toFile(`${name}.jpg`);
    else await soft.tiff({ compression: 'none' }).toFile(`${name}.tif`);
  }
  return folder;
}
