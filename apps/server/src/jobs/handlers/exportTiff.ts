// Tasks `beginTiff`, `renderRows` and `convertTiff`: the repaired picture at full size, band by band, and in other formats.
import { readFileSync } from 'node:fs';
import { packPixels } from '@blendrak/core/kernels';
import { renderRepair } from '@blendrak/core/repair';
import { beginTiff, convertTiff, writeTiffRows } from '../../codecs';
import { threadKernels } from '../kernelHost';
import type { TaskRequest, TaskResponse } from '../protocol';
import { placedFrame, plainFrame } from '../sources';

export function beginTiffTask({ width, height, icc, out }: TaskRequest<'beginTiff'>): TaskResponse<'beginTiff'> {
  return beginTiff(out, width, height, 16, icc ? readFileSync(icc) : null);
}

export function renderRowsTask({ scene, out, layout, y, rows }: TaskRequest<'renderRows'>): null {
  const kernels = threadKernels();
  const base = plainFrame(scene.merge);
  const frames = scene.frames.map(placedFrame);
  const { width } = base.source;
  // A strip of the file at a time, so that memory does not grow with the band.
  for (let top = y; top < y + rows; top += layout.rowsPerStrip) {
    const region = { x: 0, y: top, width, height: Math.min(layout.rowsPerStrip, y + rows - top) };
    kernels.scope(() => {
      const picture = renderRepair(kernels, base, frames, scene.operations, region);
      writeTiffRows(out, layout, top, packPixels(kernels, picture, 16));
    });
  }
  return null;
}

export async function convertTiffTask({ tiff, out }: TaskRequest<'convertTiff'>): Promise<null> {
  await convertTiff(tiff, out);
  return null;
}
