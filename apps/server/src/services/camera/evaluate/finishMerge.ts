// A merge finished as people do before they have it checked, written beside it.
import { join } from 'node:path';
import sharp from 'sharp';
import type { Raster } from '@blendrak/core/image';
import type { Finishing } from '@blendrak/scene';

/**
 * Finishes a merge.
 * @param file 16-bit RGB picture
 * @param seed of what is random in it
 * @returns path of the finished picture: TIFF of 16 bits, or JPEG where that is how it is finished
 */
export async function finishMerge(file: string, finishing: Finishing, folder: string, seed: number): Promise<string> {
  const finished = finishing.apply(await readRaster(file), seed);
  const { width, height, planes } = finished;
  const data = new Uint16Array(3 * width * height);
  planes.forEach((plane, c) => {
    for (let i = 0; i < plane.length; i++) data[3 * i + c] = Math.round(65535 * Math.min(1, Math.max(0, plane[i]!)));
  });
  const picture = sharp(data, { raw: { width, height, channels: 3 } });
  const { jpegQuality } = finishing;
  const path = join(folder, `finished ${finishing.name}.${jpegQuality ? 'jpg' : 'tif'}`);
  if (jpegQuality) await picture.toColourspace('srgb').jpeg({ quality: jpegQuality }).toFile(path);
  else await picture.toColourspace('rgb16').tiff({ compression: 'deflate' }).toFile(path);
  return path;
}

async function readRaster(file: string): Promise<Raster> {
  const { data, info } = await sharp(file, { limitInputPixels: false })
    .removeAlpha()
    .toColourspace('rgb16')
    .raw({ depth: 'ushort' })
    .toBuffer({ resolveWithObject: true });
  const { width, height } = info;
  const values = new Uint16Array(data.buffer, data.byteOffset, data.byteLength / 2);
  const plane = (c: number): Float32Array =>
    Float32Array.from({ length: width * height }, (_, i) => values[3 * i + c]! / 65535);
  return { width, height, encoding: 'encoded', planes: [plane(0), plane(1), plane(2)] };
}
