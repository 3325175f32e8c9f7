// Layered pictures in the OpenRaster format, as general-purpose programs open them. Source: the OpenRaster specification 0.0.6
// (freedesktop.org): a ZIP with `mimetype` first and stored, `stack.xml`, one PNG per layer, the merged picture and a thumbnail.
import { readFileSync, writeFileSync } from 'node:fs';
import sharp from 'sharp';
import { strToU8, zipSync, type Zippable } from 'fflate';

export interface RasterLayer {
  readonly name: string;
  /** Path of its PNG. */
  readonly png: string;
  /** Of its upper left corner in the picture, px. */
  readonly x: number;
  readonly y: number;
  readonly isVisible: boolean;
}

const THUMBNAIL_PX = 256;

/**
 * Writes a layered picture.
 * @param layers from the lowest
 * @param merged path of the PNG of all layers together
 */
export async function writeOpenRaster(
  out: string,
  size: { readonly width: number; readonly height: number },
  layers: readonly RasterLayer[],
  merged: string,
): Promise<void> {
  const thumbnail = await sharp(merged, { limitInputPixels: false })
    .resize({ width: THUMBNAIL_PX, height: THUMBNAIL_PX, fit: 'inside' })
    .png()
    .toBuffer();
  const stored = { level: 0 } as const;
  const files: Zippable = {
    mimetype: [strToU8('image/openraster'), stored],
    'stack.xml': strToU8(stackXml(size, layers)),
    'mergedimage.png': [readFileSync(merged), stored],
    'Thumbnails/thumbnail.png': [thumbnail, stored],
  };
  layers.forEach(({ png }, k) => (files[layerPath(k)] = [readFileSync(png), stored]));
  writeFileSync(out, zipSync(files));
}

function layerPath(k: number): string {
  return `data/layer${k}.png`;
}

/** Uppermost first, as the format has it. */
function stackXml(
  { width, height }: { readonly width: number; readonly height: number },
  layers: readonly RasterLayer[],
): string {
  const lines = layers.map(
    ({ name, x, y, isVisible }, k) =>
      `  <layer name="${escaped(name)}" src="${layerPath(k)}" x="${x}" y="${y}" opacity="1.0" visibility="${isVisible ? 'visible' : 'hidden'}" composite-op="svg:src-over"/>`,
  );
  return [
    '<?xml version="1.0" encoding="UTF-8"?>',
    `<image version="0.0.3" w="${width}" h="${height}">`,
    ' <stack>',
    ...lines.toReversed(),
    ' </stack>',
    '</image>',
    '',
  ].join('\n');
}

function escaped(text: string): string {
  return text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('"', '&quot;');
}
