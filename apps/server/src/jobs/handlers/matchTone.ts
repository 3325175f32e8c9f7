// Tasks `toneField` and `evenField`: what brings a donor's tone, or the merge's own, to what surrounds a mask.
import { heldRanges } from '@blendrak/core/cells';
import type { Region } from '@blendrak/core/image';
import { planeView, type KernelPlanes } from '@blendrak/core/kernels';
import {
  addToneField,
  fieldBox,
  fitEvening,
  fitToneByLight,
  fitToneField,
  fitToneWithin,
  layShape,
  renderRepair,
  shapeRegion,
  warpSource,
} from '@blendrak/core/repair';
import { threadKernels } from '../kernelHost';
import type { TaskRequest, TaskResponse } from '../protocol';
import { donorFrames, plainFrame } from '../sources';
import { areaOf } from './areaOf';
import { toldTones } from './toldTones';

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
  within = false,
}: TaskRequest<'toneField'>): TaskResponse<'toneField'> {
  const kernels = threadKernels();
  const base = plainFrame(scene.merge);
  const frames = donorFrames(scene);
  const touched = shapeRegion(shape);
  const { region, scale } = reduced(fieldBox(touched, marginPx));
  return kernels.scope(() => {
    const merge = renderRepair(kernels, base, frames, scene.operations, region, scale);
    const from = donor === null ? base : frames[donor]!;
    const source = warpSource(kernels, from, shift, region, scale);
    const mask = new Float32Array(region.width * region.height);
    layShape(mask, region, shape, scale);
    const wrong = areaOf(apart, region, scale);
    const isIn = insideOf(base.source, region, scale);
    const isExposure = byLight && donor !== null && donor < scene.frames.length;
    const told = toldTones(merge, source, isExposure ? from : null);
    const valid = told.map((v, i) => (wrong[i] || !isIn(i) ? 0 : v));
    const fit = byLight ? fitToneByLight : fitToneField;
    const around = fit(views(merge, 3), [...views(source, 3), valid], mask, region);
    if (!around) return null;
    const field = { ...around, ...(marginPx > 0 && { marginPx }) };
    if (!within) return field;
    addToneField(kernels, source, region, field, touched, scale);
    return fitToneWithin(views(merge, 3), [...views(source, 3), valid], field, region);
  });
}

export function evenFieldTask({
  scene,
  donors,
  shape,
  marginPx,
  found,
}: TaskRequest<'evenField'>): TaskResponse<'evenField'> {
  const kernels = threadKernels();
  const base = plainFrame(scene.merge);
  const frames = donorFrames(scene);
  const { region, scale } = reduced(fieldBox(shapeRegion(shape), marginPx));
  const isIn = insideOf(base.source, region, scale);
  const mask = new Float32Array(region.width * region.height);
  layShape(mask, region, shape, scale);
  // Exposures differ from the merge each in its own way: each tells of places for itself, and of nothing where it is burnt or black.
  const shown = donors.map((donor) =>
    kernels.scope(() => {
      const planes = views(warpSource(kernels, frames[donor]!, undefined, region, scale), 4).map((v) => v.slice());
      const ranges = heldRanges(frames[donor]!.tone);
      const held = planes[3]!.map((v, i) => (v && isIn(i) && holds(ranges, i, planes) ? 1 : 0));
      return [...planes.slice(0, 3), held];
    }),
  );
  return kernels.scope(() => {
    const merge = renderRepair(kernels, base, frames, scene.operations, region, scale);
    const ofFound = found && areaOf([found], region, scale);
    const field = fitEvening(views(merge, 3), shown, mask, region, ofFound);
    return field && { ...field, marginPx };
  });
}

/** Whether a frame is neither burnt nor black at a px in any channel: else it has no colour to compare. */
function holds(ranges: ReturnType<typeof heldRanges>, i: number, planes: readonly Float32Array[]): boolean {
  return ranges.every(([black, white], c) => planes[c]![i]! > black && planes[c]![i]! < white);
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
