// Tasks `layerPng`, `screenJpeg`, `sharpenTiff`, `openRaster` and `edges`: what a merge on its way out is delivered as, and how it leans.
import sharp from 'sharp';
import { findLines } from '@blendrak/core/align';
import { planeView } from '@blendrak/core/kernels';
import {
  addToneField,
  changesInPlace,
  isPulled,
  layShape,
  operationRegion,
  partsOf,
  renderRepair,
  shapeRegion,
  warpSource,
} from '@blendrak/core/repair';
import { screenJpeg, sharpenTiff, writeOpenRaster } from '../../codecs';
import { threadKernels } from '../kernelHost';
import type { TaskRequest, TaskResponse } from '../protocol';
import { donorFrames, plainFrame, tileFile } from '../sources';
import { levelFor, tellingPlane } from '../workingLevels';

/** Edges are looked for in a view of this size: a horizon is hundreds of px long there, and texture is none. */
const EDGES_LONG_SIDE = 1100;

export async function layerPngTask({ scene, operation, out }: TaskRequest<'layerPng'>): Promise<null> {
  const kernels = threadKernels();
  const base = plainFrame(scene.merge);
  const frames = donorFrames(scene);
  const act = scene.operations[operation]!;
  const region = layerRegion(operationRegion(act), base.source);
  const { width, height } = region;
  // What the parts show by themselves, and how much of what is below they leave: later parts cover earlier ones.
  const colour = [0, 1, 2].map(() => new Float32Array(width * height));
  const cover = new Float32Array(width * height);
  for (const part of partsOf(act))
    kernels.scope(() => {
      const { donor, shape, tone, shift } = part;
      // What changes in place shows what the layers below it show: in another tone, or moved.
      const below = scene.operations.slice(0, operation);
      const planes = changesInPlace(part)
        ? renderRepair(kernels, base, frames, isPulled(part) ? [...below, part] : below, region)
        : warpSource(kernels, donor === null ? base : frames[donor]!, shift, region);
      if (tone) addToneField(kernels, planes, region, tone, shapeRegion(shape));
      const mask = new Float32Array(width * height);
      layShape(mask, region, shape);
      const valid = planeView(kernels, planes, 3);
      for (let i = 0; i < mask.length; i++) {
        const m = Math.min(1, mask[i]! * valid[i]!);
        const all = m + cover[i]! * (1 - m);
        if (all === 0) continue;
        for (let c = 0; c < 3; c++)
          colour[c]![i] = (m * planeView(kernels, planes, c)[i]! + cover[i]! * (1 - m) * colour[c]![i]!) / all;
        cover[i] = all;
      }
    });
  const rgba = Uint16Array.from({ length: width * height * 4 }, (_, k) => {
    const v = k % 4 === 3 ? cover[k >> 2]! : colour[k % 4]![k >> 2]!;
    return Math.round(65535 * Math.min(1, Math.max(0, v)));
  });
  await sharp(rgba, { raw: { width, height, channels: 4 }, limitInputPixels: false })
    .toColourspace('rgb16')
    .png({ compressionLevel: 4 })
    .toFile(out);
  return null;
}

/** The part of a shape's box that lies on the picture. */
function layerRegion(
  { x, y, width, height }: ReturnType<typeof shapeRegion>,
  picture: { readonly width: number; readonly height: number },
): ReturnType<typeof shapeRegion> {
  const [left, top] = [Math.max(0, Math.floor(x)), Math.max(0, Math.floor(y))];
  return {
    ...{ x: left, y: top },
    width: Math.min(picture.width, Math.ceil(x + width)) - left,
    height: Math.min(picture.height, Math.ceil(y + height)) - top,
  };
}

export function screenJpegTask({
  tiff,
  out,
  longSidePx,
  mostBytes,
  sharpen,
}: TaskRequest<'screenJpeg'>): Promise<TaskResponse<'screenJpeg'>> {
  return screenJpeg(tiff, out, longSidePx, mostBytes, sharpen);
}

export async function sharpenTiffTask({ tiff, out, sigmaPx }: TaskRequest<'sharpenTiff'>): Promise<null> {
  await sharpenTiff(tiff, out, sigmaPx);
  return null;
}

export async function openRasterTask(request: TaskRequest<'openRaster'>): Promise<null> {
  const { out, width, height, layers, merged } = request;
  await writeOpenRaster(out, { width, height }, layers, merged);
  return null;
}

export function edgesTask({ merge }: TaskRequest<'edges'>): TaskResponse<'edges'> {
  const file = tileFile(merge.tiles);
  const level = levelFor(file, EDGES_LONG_SIDE);
  const { plane } = tellingPlane(merge, file, level);
  const unit = file.width / plane.width;
  const [width, height] = [file.width, file.height];
  const halfDiagonalPx = Math.hypot(width, height) / 2;
  return findLines(plane, unit, { centre: [width / 2, height / 2], halfDiagonalPx, distortion: [0, 0] });
}
