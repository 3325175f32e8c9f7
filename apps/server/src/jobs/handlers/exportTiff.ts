// Task `exportTiff`: the repaired picture at full size, strip by strip.
import { packPixels } from '@blendrak/core/kernels';
import { renderRepair } from '@blendrak/core/repair';
import { writeTiff } from '../../codecs';
import { threadKernels } from '../kernelHost';
import type { TaskRequest } from '../protocol';
import { placedFrame, plainFrame } from '../sources';

export function exportTiffTask({ scene, icc, out }: TaskRequest<'exportTiff'>): null {
  const kernels = threadKernels();
  const base = plainFrame(scene.merge);
  const frames = scene.frames.map(placedFrame);
  const { width, height } = base.source;
  writeTiff(out, width, height, 16, icc ? Buffer.from(icc) : null, (y, rows) =>
    kernels.scope(() =>
      packPixels(kernels, renderRepair(kernels, base, frames, scene.strokes, { x: 0, y, width, height: rows }), 16),
    ),
  );
  return null;
}
