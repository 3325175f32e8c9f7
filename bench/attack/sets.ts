// Sets of frames to attack with: the same texture at rising blur, drawn at once instead of photographed.
import { mkdirSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import sharp, { type Sharp } from 'sharp';

/** Px of the upper edge that a spoilt merge lacks: every strip has to come from its own frame there. */
const LACKS = 16;
/** Side of the places where it shows a frame that is not sharp, px. */
const SOFT_PX = 72;

/**
 * Writes a merge of a drawn stack with a soft place in every strip, and black along its upper edge.
 * @param folder with the frames, as `drawStack` left them
 */
export async function drawSpoilt(folder: string, out: string): Promise<string> {
  const frames = readdirSync(folder).sort();
  const open = (k: number): Sharp => sharp(join(folder, frames[k % frames.length]!));
  const { width, height } = await open(0).metadata();
  const strip = Math.ceil(width / frames.length);
  const parts = await Promise.all(
    frames.flatMap((_, k) => {
      const left = k * strip;
      const whole = { left, top: 0, width: Math.min(strip, width - left), height };
      const soft = { left: left + 40, top: Math.round(height / 2), width: SOFT_PX, height: SOFT_PX };
      return [open(k).extract(whole), open(k + 1).extract(soft)].map(async (part, n) => {
        const { left: x, top } = n === 0 ? whole : soft;
        return { input: await part.png().toBuffer(), left: x, top };
      });
    }),
  );
  const edge = { create: { width, height: LACKS, channels: 3 as const, background: '#000000' } };
  const lacking = { input: await sharp(edge).png().toBuffer(), left: 0, top: 0 };
  await open(0)
    .composite([...parts, lacking])
    .tiff({ compression: 'none' })
    .toFile(out);
  return out;
}

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
