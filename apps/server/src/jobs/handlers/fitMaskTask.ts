// Task `fitMask`: how far around a finding a mask has to reach for its rim to lie where merge and donor agree.
import { findComponents, noiseAt, outlineOf, type Region } from '@blendrak/core/image';
import { CELL_PX, planeView, type KernelPlanes } from '@blendrak/core/kernels';
import {
  addToneField,
  fitMask,
  fitToneField,
  layShape,
  likenessOf,
  renderRepair,
  warpSource,
  type OutlineShape,
} from '@blendrak/core/repair';
import { threadKernels } from '../kernelHost';
import type { TaskRequest, TaskResponse } from '../protocol';
import { placedFrame, plainFrame } from '../sources';
import { areaOf } from './areaOf';

/** Longer side at which pictures are compared, px. */
const LONG_SIDE = 1200;
/** Tones are told from so much beyond what the mask may reach, px. */
const AROUND_PX = 32;
/** Cells of the outline that lie in the finding to this share belong to it. */
const START_SHARE = 0.5;

export function fitMaskTask(request: TaskRequest<'fitMask'>): TaskResponse<'fitMask'> {
  const { scene, donor, polygon, bends, reach } = request;
  const kernels = threadKernels();
  const base = plainFrame(scene.merge);
  const frames = scene.frames.map(placedFrame);
  const box = boxOf(polygon, reach * CELL_PX + AROUND_PX, base.source.width, base.source.height);
  const scale = Math.max(1, Math.max(box.width, box.height) / LONG_SIDE);
  const onGrid = (v: number): number => Math.max(1, Math.ceil(v / scale / CELL_PX)) * CELL_PX;
  const region = { x: box.x / scale, y: box.y / scale, width: onGrid(box.width), height: onGrid(box.height) };
  const cells = kernels.scope(() => {
    const merge = renderRepair(kernels, base, frames, scene.operations, region, scale);
    const source = warpSource(kernels, frames[donor]!, undefined, region, scale);
    if (bends) {
      const reaches: OutlineShape = {
        kind: 'outline',
        points: polygon,
        growPx: reach * CELL_PX,
        featherPx: 0,
        strength: 1,
      };
      const mask = new Float32Array(region.width * region.height);
      layShape(mask, region, reaches, scale);
      const tone = fitToneField(viewsOf(merge, 3), viewsOf(source, 4), mask, region);
      const whole = { x: box.x, y: box.y, width: region.width * scale, height: region.height * scale };
      if (tone) addToneField(kernels, source, region, tone, whole, scale);
    }
    const noise = (noiseAt(base.noise, 0.5) + noiseAt(frames[donor]!.noise, 0.5)) / scale ** 2;
    const alike = likenessOf(viewsOf(merge, 3), viewsOf(source, 4), region.width, region.height, noise);
    const inside = areaOf([polygon], region, scale);
    const start = Array.from(alike.valid.keys()).filter(
      (i) => shareOf(inside, region.width, i, alike.width) >= START_SHARE,
    );
    return { data: fitMask(alike, start, request), width: alike.width, height: alike.height };
  });
  const largest = findComponents(cells).sort((a, b) => b.cells.length - a.cells.length)[0];
  if (!largest) return polygon;
  return outlineOf(largest, cells.width).map(
    ([x, y]) => [box.x + x * CELL_PX * scale, box.y + y * CELL_PX * scale] as const,
  );

  function viewsOf(planes: KernelPlanes, count: number): Float32Array[] {
    return Array.from({ length: count }, (_, c) => planeView(kernels, planes, c));
  }
}

/** Share of a cell's px that are marked. */
function shareOf(marks: Uint8Array, width: number, cell: number, across: number): number {
  const [x, y] = [(cell % across) * CELL_PX, Math.floor(cell / across) * CELL_PX];
  let sum = 0;
  for (let v = y; v < y + CELL_PX; v++) for (let u = x; u < x + CELL_PX; u++) sum += marks[v * width + u]!;
  return sum / CELL_PX ** 2;
}

/** A polygon's box and so much around it, within the picture. */
function boxOf(polygon: readonly (readonly [number, number])[], around: number, width: number, height: number): Region {
  const [xs, ys] = [polygon.map(([x]) => x), polygon.map(([, y]) => y)];
  const [left, top] = [Math.min(...xs), Math.min(...ys)].map((v) =>
    Math.max(0, Math.floor((v - around) / CELL_PX) * CELL_PX),
  ) as [number, number];
  return {
    x: left,
    y: top,
    width: Math.min(width, Math.max(...xs) + around) - left,
    height: Math.min(height, Math.max(...ys) + around) - top,
  };
}
