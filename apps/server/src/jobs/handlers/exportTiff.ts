// Tasks `beginTiff`, `renderRows` and `convertTiff`: the repaired picture at full size, band by band, and in other formats.
import { readFileSync } from 'node:fs';
import { turnGeometry } from '@blendrak/core/finish';
import { warpFrame } from '@blendrak/core/frame';
import type { Region } from '@blendrak/core/image';
import { packPixels, type PixelBlock } from '@blendrak/core/kernels';
import { renderRepair } from '@blendrak/core/repair';
import { beginTiff, convertTiff, writeTiffRows } from '../../codecs';
import { threadKernels } from '../kernelHost';
import type { TaskRequest, TaskResponse } from '../protocol';
import { donorFrames, plainFrame, repairedFrame } from '../sources';

export function beginTiffTask({ width, height, icc, out }: TaskRequest<'beginTiff'>): TaskResponse<'beginTiff'> {
  return beginTiff(out, width, height, 16, icc ? readFileSync(icc) : null);
}

export function renderRowsTask({ scene, out, layout, y, rows, cut }: TaskRequest<'renderRows'>): null {
  const kernels = threadKernels();
  const base = plainFrame(scene.merge);
  const frames = donorFrames(scene);
  const whole = { x: 0, y: 0, width: base.source.width, height: base.source.height };
  const { crop, turnDeg } = cut ?? { crop: whole, turnDeg: 0 };
  const turned = { ...repairedFrame(scene), geometry: turnGeometry(base.source, turnDeg) };
  const draw = (part: Region): PixelBlock =>
    kernels.scope(() => {
      const picture =
        turnDeg === 0 ? renderRepair(kernels, base, frames, scene.operations, part) : warpFrame(kernels, turned, part);
      return packPixels(kernels, picture, 16);
    });
  // A strip of the file at a time, so that memory does not grow with the band.
  for (let top = y; top < y + rows; top += layout.rowsPerStrip) {
    const height = Math.min(layout.rowsPerStrip, y + rows - top);
    const strip = { x: crop.x, y: crop.y + top, width: crop.width, height };
    // Of a turned picture a long strip would read far above and below: it is drawn in short ones.
    const picture = turnDeg === 0 ? draw(strip) : inBlocks(strip, draw);
    writeTiffRows(out, layout, top, picture);
  }
  return null;
}

const BLOCK_PX = 512;

function inBlocks(strip: Region, draw: (part: Region) => PixelBlock): PixelBlock {
  const data = new Uint16Array(strip.width * strip.height * 3);
  for (let x = 0; x < strip.width; x += BLOCK_PX) {
    const width = Math.min(BLOCK_PX, strip.width - x);
    const block = draw({ ...strip, x: strip.x + x, width });
    for (let row = 0; row < strip.height; row++) {
      data.set(block.data.subarray(row * width * 3, (row + 1) * width * 3), (row * strip.width + x) * 3);
    }
  }
  return { width: strip.width, height: strip.height, data };
}

export async function convertTiffTask({ tiff, out }: TaskRequest<'convertTiff'>): Promise<null> {
  await convertTiff(tiff, out);
  return null;
}
