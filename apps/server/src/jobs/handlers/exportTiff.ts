// Tasks `exportTiff` and `convertTiff`: the repaired picture at full size, strip by strip, and in other formats.
import { readFileSync } from 'node:fs';
import { packPixels } from '@blendrak/core/kernels';
import { renderRepair } from '@blendrak/core/repair';
import { convertTiff, writeTiff } from '../../codecs';
import { threadKernels } from '../kernelHost';
import type { TaskRequest } from '../protocol';
import { placedFrame, plainFrame } from '../sources';

export function exportTiffTask({ scene, icc, out }: TaskRequest<'exportTiff'>): null {
  const kernels = threadKernels();
  const base = plainFrame(scene.merge);
  const frames = scene.frames.map(placedFrame);
  const { width, height } = base.source;
  writeTiff(out, width, height, 16, icc ? readFileSync(icc) : null, (y, rows) =>
    kernels.scope(() =>
      packPixels(kernels, renderRepair(kernels, base, frames, scene.strokes, { x: 0, y, width, height: rows }), 16),
    ),
  );
  return null;
}

export async function convertTiffTask({ tiff, out }: TaskRequest<'convertTiff'>): Promise<null> {
  await convertTiff(tiff, out);
  return null;
}
