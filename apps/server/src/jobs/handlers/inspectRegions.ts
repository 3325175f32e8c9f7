// Tasks `evidence`, `trace`, `recheck` and `probe`: looking at a merge beside its frames.
import { emptyEvidence, findDefects, placeEvidence, reduceEvidence, type Detection } from '@blendrak/core/inspect';
import type { Region } from '@blendrak/core/image';
import { CELL_PX } from '@blendrak/core/kernels';
import { gatherCells } from '@blendrak/core/cells';
import { traceDetection } from '@blendrak/core/trace';
import { threadKernels } from '../kernelHost';
import type { InspectionScene, TaskRequest, TaskResponse } from '../protocol';
import { placedFrame, repairedFrame } from '../sources';
import { withMargin } from './mergeRegions';

export function evidenceTask({ scene, axis, region, sides }: TaskRequest<'evidence'>): TaskResponse<'evidence'> {
  const { stack, wide } = readCells(scene, region);
  const { maps, samples } = reduceEvidence(stack, axis, sides);
  const inner = emptyEvidence(region.width / CELL_PX, region.height / CELL_PX);
  placeEvidence(inner, maps, { ...wide, x: wide.x - region.x, y: wide.y - region.y }, { ...region, x: 0, y: 0 });
  return { maps: inner, samples };
}

export function traceTask(request: TaskRequest<'trace'>): TaskResponse<'trace'> {
  const { stack } = readCells(request.scene, onCells(request.detection.bbox));
  return traceDetection(request.detection, stack, request.gridWidth, request.nearSide, request.names);
}

export function recheckTask(request: TaskRequest<'recheck'>): TaskResponse<'recheck'> {
  const { scene, axis, calibration, gridWidth, gridHeight } = request;
  const { stack, wide } = readCells(scene, onCells(request.region));
  const { maps } = reduceEvidence(stack, axis, [calibration.nearSide]);
  return findDefects({ maps, calibration, axis }, 'focus-stack', gridWidth * gridHeight).map((d): Detection => {
    const x0 = wide.x / CELL_PX;
    const y0 = wide.y / CELL_PX;
    const cells = d.cells.map((i) => (Math.floor(i / maps.width) + y0) * gridWidth + (i % maps.width) + x0);
    const polygon = d.polygon.map(([x, y]): [number, number] => [x + wide.x, y + wide.y]);
    return { ...d, cells, polygon, bbox: { ...d.bbox, x: d.bbox.x + wide.x, y: d.bbox.y + wide.y } };
  });
}

export function probeTask({ scene, x, y, sizePx }: TaskRequest<'probe'>): TaskResponse<'probe'> {
  const half = Math.max(CELL_PX, sizePx / 2);
  const region = onCells({ x: x - half, y: y - half, width: 2 * half, height: 2 * half });
  const { stack, wide } = readCells(scene, clampTo(region, scene));
  const inside: number[] = [];
  for (let cy = 0; cy < stack.height; cy++) {
    for (let cx = 0; cx < stack.width; cx++) {
      const px = wide.x + (cx + 0.5) * CELL_PX;
      const py = wide.y + (cy + 0.5) * CELL_PX;
      if (Math.abs(px - x) <= half && Math.abs(py - y) <= half) inside.push(cy * stack.width + cx);
    }
  }
  const mean = (data: ArrayLike<number>): number =>
    inside.reduce((s, i) => s + data[i]!, 0) / Math.max(1, inside.length);
  const sharp = stack.frames.map((f) => mean(f.middle));
  const top = Math.max(...sharp, 1e-12);
  const differences = stack.frames.map((f) => mean(f.residual));
  const shown = differences.reduce((k, d, i) => (d < differences[k]! ? i : k), 0);
  return {
    shown: inside.length > 0 ? shown : null,
    frames: stack.frames.map((f, k) => ({
      sharpness: Math.sqrt(sharp[k]! / top),
      difference: Math.sqrt(differences[k]!),
      predictedError: Math.sqrt(Math.max(0, top - sharp[k]!)),
      coverage: mean(f.valid),
      shownShare: k === shown ? 1 : 0,
    })),
  };
}

function readCells(scene: InspectionScene, region: Region): { stack: ReturnType<typeof gatherCells>; wide: Region } {
  const merge = repairedFrame(scene);
  const wide = withMargin(region, merge.source.width, merge.source.height);
  return { stack: gatherCells(threadKernels(), merge, scene.frames.map(placedFrame), wide), wide };
}

function onCells(r: Region): Region {
  const x = Math.floor(r.x / CELL_PX) * CELL_PX;
  const y = Math.floor(r.y / CELL_PX) * CELL_PX;
  return {
    x,
    y,
    width: Math.ceil((r.x + r.width - x) / CELL_PX) * CELL_PX,
    height: Math.ceil((r.y + r.height - y) / CELL_PX) * CELL_PX,
  };
}

function clampTo(r: Region, scene: InspectionScene): Region {
  const { width, height } = repairedFrame({ ...scene, strokes: [] }).source;
  const x = Math.max(0, Math.min(r.x, Math.floor(width / CELL_PX) * CELL_PX - r.width));
  const y = Math.max(0, Math.min(r.y, Math.floor(height / CELL_PX) * CELL_PX - r.height));
  return { ...r, x, y };
}
