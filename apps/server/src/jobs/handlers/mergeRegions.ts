// Tasks `labels`, `fuse` and `pyramid`: the steps of a focus merge, region by region.
import { growRegion, type Region } from '@blendrak/core/image';
import { CELL_PX, packPixels } from '@blendrak/core/kernels';
import {
  fuseBands,
  fuseRegion,
  proposeLabels,
  VALUES_PER_CELL,
  type CellTones,
  type LabelProposal,
  type ProposedSide,
} from '@blendrak/core/merge';
import { gatherCells } from '@blendrak/core/cells';
import { buildPyramid } from '../../codecs';
import { threadKernels } from '../kernelHost';
import type { TaskRequest } from '../protocol';
import { placedFrame, tileFile } from '../sources';

/** Margin that smoothing and the search for near edges need, in px. */
export const CELL_MARGIN_PX = 48;

/** A region grown by the margin, kept on the cell grid and inside the picture. */
export function withMargin(region: Region, width: number, height: number): Region {
  const whole = [Math.floor(width / CELL_PX) * CELL_PX, Math.floor(height / CELL_PX) * CELL_PX] as const;
  return growRegion(region, CELL_MARGIN_PX, whole[0], whole[1]);
}

export function labelsTask(request: TaskRequest<'labels'>): LabelProposal {
  const { frames, region, width, height } = request;
  const kernels = threadKernels();
  const wide = withMargin(region, width, height);
  const stack = gatherCells(kernels, null, frames.map(placedFrame), wide);
  const proposal = proposeLabels(stack, request);
  const side = ({ labels, tones }: ProposedSide): ProposedSide => ({
    labels: cutCells(labels, wide, region),
    tones: cutTones(tones, wide, region),
  });
  const weight = cutCells(proposal.weight, wide, region);
  const sides = Object.fromEntries(Object.entries(proposal.sides).map(([end, proposed]) => [end, side(proposed)]));
  return { sides, weight, votes: proposal.votes };
}

/** The inner region's cells of corrections that cover the wide one, renumbered. */
function cutTones({ cells, values }: CellTones, wide: Region, inner: Region): CellTones {
  const stride = wide.width / CELL_PX;
  const [w, h] = [inner.width / CELL_PX, inner.height / CELL_PX];
  const [left, top] = [(inner.x - wide.x) / CELL_PX, (inner.y - wide.y) / CELL_PX];
  const kept: number[] = [];
  const renumbered: number[] = [];
  cells.forEach((cell, n) => {
    const [x, y] = [(cell % stride) - left, Math.floor(cell / stride) - top];
    if (x < 0 || y < 0 || x >= w || y >= h) return;
    kept.push(n);
    renumbered.push(y * w + x);
  });
  const out = new Float32Array(kept.length * VALUES_PER_CELL);
  kept.forEach((n, m) => out.set(values.subarray(n * VALUES_PER_CELL, (n + 1) * VALUES_PER_CELL), m * VALUES_PER_CELL));
  return { cells: Uint32Array.from(renumbered), values: out };
}

/** The inner region's part of a map that covers the wide one. */
export function cutCells<T extends Uint8Array | Float32Array>(data: T, wide: Region, inner: Region): T {
  const stride = wide.width / CELL_PX;
  const w = inner.width / CELL_PX;
  const h = inner.height / CELL_PX;
  const dx = (inner.x - wide.x) / CELL_PX;
  const dy = (inner.y - wide.y) / CELL_PX;
  const out = (data instanceof Uint8Array ? new Uint8Array(w * h) : new Float32Array(w * h)) as T;
  for (let y = 0; y < h; y++) {
    const at = (dy + y) * stride + dx;
    out.set(data.subarray(at, at + w), y * w);
  }
  return out;
}

export function fuseTask(request: TaskRequest<'fuse'>): null {
  const { frames, grid, regions, out, levels, tones } = request;
  const kernels = threadKernels();
  const placed = frames.map(placedFrame);
  const file = tileFile(out);
  for (const region of regions) {
    kernels.scope(() => {
      const fused = fuseRegion(kernels, placed, grid, region, file.width, file.height, {
        ...(levels !== undefined && { levels }),
        ...(tones && { tones }),
      });
      file.write(0, region.x, region.y, packPixels(kernels, fused, 16));
    });
  }
  return null;
}

export function fuseBandsTask({ frames, regions, out }: TaskRequest<'fuseBands'>): null {
  const kernels = threadKernels();
  const placed = frames.map(placedFrame);
  const file = tileFile(out);
  for (const region of regions) {
    kernels.scope(() => {
      const fused = fuseBands(kernels, placed, region, file.width, file.height);
      file.write(0, region.x, region.y, packPixels(kernels, fused, 16));
    });
  }
  return null;
}

export function pyramidTask({ tiles }: TaskRequest<'pyramid'>): null {
  buildPyramid(threadKernels(), tileFile(tiles));
  return null;
}
