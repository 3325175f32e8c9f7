// Tasks `toneField` and `evenField`: what brings a donor's tone, or the merge's own, to what surrounds a mask.
import type { AlignedFrame } from '@blendrak/core/frame';
import { evaluateTone, type Region } from '@blendrak/core/image';
import { planeView, type KernelPlanes } from '@blendrak/core/kernels';
import {
  fieldBox,
  fitEvening,
  fitToneByLight,
  fitToneField,
  layShape,
  renderRepair,
  shapeRegion,
  warpSource,
} from '@blendrak/core/repair';
import { threadKernels } from '../kernelHost';
import type { TaskRequest, TaskResponse } from '../protocol';
import { donorFrames, plainFrame } from '../sources';
import { areaOf } from './areaOf';

/** Longer side at which tones are compared, px: they change slowly. */
const LONG_SIDE = 320;

export function toneFieldTask({
  scene,
  donor,
  shape,
  shift,
  apart = [],
  marginPx = 0,
  byLight = false,
}: TaskRequest<'toneField'>): TaskResponse<'toneField'> {
  const kernels = threadKernels();
  const base = plainFrame(scene.merge);
  const frames = donorFrames(scene);
  const { region, scale } = reduced(fieldBox(shapeRegion(shape), marginPx));
  return kernels.scope(() => {
    const merge = renderRepair(kernels, base, frames, scene.operations, region, scale);
    const from = donor === null ? base : frames[donor]!;
    const source = warpSource(kernels, from, shift, region, scale);
    const mask = new Float32Array(region.width * region.height);
    layShape(mask, region, shape, scale);
    const wrong = areaOf(apart, region, scale);
    const isIn = insideOf(base.source, region, scale);
    const valid = planeView(kernels, source, 3).map((v, i) => (wrong[i] || !isIn(i) ? 0 : v));
    const fit = byLight ? fitToneByLight : fitToneField;
    const field = fit(views(merge, 3), [...views(source, 3), valid], mask, region);
    return field && { ...field, ...(marginPx > 0 && { marginPx }) };
  });
}

/** Encoded values of a file beyond which it holds nothing. */
const HELD = [0.012, 0.97] as const;

export function evenFieldTask({ scene, donor, shape, marginPx }: TaskRequest<'evenField'>): TaskResponse<'evenField'> {
  const kernels = threadKernels();
  const base = plainFrame(scene.merge);
  const frames = donorFrames(scene);
  const frame = frames[donor]!;
  const { region, scale } = reduced(fieldBox(shapeRegion(shape), marginPx));
  return kernels.scope(() => {
    const merge = renderRepair(kernels, base, frames, scene.operations, region, scale);
    const mask = new Float32Array(region.width * region.height);
    layShape(mask, region, shape, scale);
    const isIn = insideOf(base.source, region, scale);
    const planes = views(warpSource(kernels, frame, undefined, region, scale), 4);
    // Exposures differ from the merge each in its own way: one tells of all of the place, and of nothing where it is burnt or black.
    const told = planes[3]!.map((v, i) => (v && isIn(i) && holds(frame, i, planes) ? 1 : 0));
    const field = fitEvening(views(merge, 3), [...planes.slice(0, 3), told], mask, region);
    return field && { ...field, marginPx };
  });
}

/** Whether a frame is neither burnt nor black at a px in any channel: else it has no colour to compare. */
function holds({ tone }: AlignedFrame, i: number, planes: Float32Array[]): boolean {
  return tone.every(
    (curve, c) => planes[c]![i]! > evaluateTone(curve, HELD[0]) && planes[c]![i]! < evaluateTone(curve, HELD[1]),
  );
}

/** A box on the size at which tones are compared. */
function reduced(box: Region): { region: Region; scale: number } {
  const scale = Math.max(1, Math.max(box.width, box.height) / LONG_SIDE);
  const [width, height] = [box.width, box.height].map((side) => Math.max(2, Math.round(side / scale))) as [
    number,
    number,
  ];
  return { region: { x: box.x / scale, y: box.y / scale, width, height }, scale };
}

/** Whether a px of a region lies within the picture: beyond its edge the merge repeats itself, and nothing is compared there. */
function insideOf(size: { width: number; height: number }, region: Region, scale: number): (i: number) => boolean {
  return (i) => {
    const x = (region.x + (i % region.width) + 0.5) * scale;
    const y = (region.y + Math.floor(i / region.width) + 0.5) * scale;
    return x >= 0 && y >= 0 && x < size.width && y < size.height;
  };
}

function views(planes: KernelPlanes, count: number): Float32Array[] {
  return Array.from({ length: count }, (_, c) => planeView(threadKernels(), planes, c));
}
