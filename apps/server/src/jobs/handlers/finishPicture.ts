// Tasks `layerPng`, `screenJpeg`, `sharpenTiff`, `openRaster` and `edges`: what a merge on its way out is delivered as, and how it leans.
import sharp from 'sharp';
import { findLines } from '@blendrak/core/align';
import { packPixels, planeView } from '@blendrak/core/kernels';
import { addToneField, layShape, shapeRegion, warpSource } from '@blendrak/core/repair';
import { screenJpeg, sharpenTiff, writeOpenRaster } from '../../codecs';
import { threadKernels } from '../kernelHost';
import type { TaskRequest, TaskResponse } from '../protocol';
import { placedFrame, plainFrame, tileFile } from '../sources';
import { levelFor, tellingPlane } from '../workingLevels';

/** Edges are looked for in a view of this size: a horizon is hundreds of px long there, and texture is none. */
const EDGES_LONG_SIDE = 1100;

export async function layerPngTask({ scene, operation, out }: TaskRequest<'layerPng'>): Promise<null> {
  const kernels = threadKernels();
  const base = plainFrame(scene.merge);
  const { donor, shape, tone, shift } = scene.operations[operation]!;
  const source = donor === null ? base : placedFrame(scene.frames[donor]!);
  const region = layerRegion(shapeRegion(shape), base.source);
  const { width, height } = region;
  const data = kernels.scope(() => {
    const planes = warpSource(kernels, source, shift, region);
    if (tone) addToneField(kernels, planes, region, tone, shapeRegion(shape));
    const mask = new Float32Array(width * height);
    layShape(mask, region, shape);
    const valid = planeView(kernels, planes, 3);
    const colours = packPixels(kernels, planes, 16).data;
    const rgba = new Uint16Array(width * height * 4);
    for (let i = 0; i < mask.length; i++) {
      rgba.set(colours.subarray(3 * i, 3 * i + 3), 4 * i);
      rgba[4 * i + 3] = Math.round(65535 * Math.min(1, mask[i]! * valid[i]!));
    }
    return rgba;
  });
  await sharp(data, { raw: { width, height, channels: 4 }, limitInputPixels: false })
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
