// Task `tile`: pixels of a tile: picture, frame in merge geometry, merge as repaired; and other small pictures of a merge.
import { readFileSync } from 'node:fs';
import { type AlignedFrame, warpFrame, SAME_PLACE } from '@blendrak/core/frame';
import sharp from 'sharp';
import { IDENTITY_TONE } from '@blendrak/core/image';
import { packPixels, type PixelBlock } from '@blendrak/core/kernels';
import { cutLayout, featherFrames, layOutPanorama } from '@blendrak/core/merge';
import { renderMask } from '@blendrak/core/repair';
import { tiffBuffer } from '../../codecs';
import type { TileRequest } from '../../tiles';
import { threadKernels } from '../kernelHost';
import type { TaskRequest, TaskResponse, TileSource } from '../protocol';
import { placedFrame, plainFrame, tileFile } from '../sources';
import { drawMap } from './drawMap';
import { repairedTile } from './repairedTile';

export async function tileTask({ source, tile, icc }: TaskRequest<'tile'>): Promise<Uint8Array> {
  return encodeTile(pixelsOf(source, tile), icc, tile.format);
}

export async function warmUpTask(): Promise<null> {
  threadKernels();
  await encodeTile({ width: 8, height: 8, data: new Uint8Array(8 * 8 * 3) }, null, 'jpg');
  return null;
}

function pixelsOf(source: TileSource, tile: TileRequest): PixelBlock {
  switch (source.kind) {
    case 'picture': {
      const plain = { source: tileFile(source.tiles), geometry: SAME_PLACE, tone: IDENTITY_TONE, noise: [0, 0] };
      return warped(plain, tile);
    }
    case 'frame':
      return warped(placedFrame(source.frame), tile);
    case 'map':
      return drawMap(source, tile);
    case 'repaired':
      return repaired(source, tile);
  }
}

function repaired({ scene, names }: Extract<TileSource, { kind: 'repaired' }>, request: TileRequest): PixelBlock {
  const { region, scale } = scaled(request);
  const frames = scene.frames.map(placedFrame);
  const base = plainFrame(scene.merge);
  return repairedTile(threadKernels(), scene.merge.tiles, base, frames, scene.operations, names, region, scale);
}

function warped(frame: AlignedFrame, request: TileRequest): PixelBlock {
  const kernels = threadKernels();
  const { region, scale } = scaled(request);
  return kernels.scope(() => packPixels(kernels, warpFrame(kernels, frame, region, scale), 8));
}

function scaled({ region, width, height }: TileRequest): { region: TileRequest['region']; scale: number } {
  const scale = region.width / width;
  return { region: { x: region.x / scale, y: region.y / scale, width, height }, scale };
}

/** Encodes pixels for a browser: in sRGB, converted when the picture has a profile of its own. */
async function encodeTile(block: PixelBlock, icc: string | null, format: 'jpg' | 'png'): Promise<Uint8Array> {
  const { width, height } = block;
  const input = icc
    ? sharp(tiffBuffer(block, 8, readFileSync(icc)))
    : sharp(block.data as Uint8Array, { raw: { width, height, channels: 3 } });
  return format === 'png'
    ? input.png({ compressionLevel: 1 }).toBuffer()
    : input.jpeg({ quality: 90, chromaSubsampling: '4:4:4' }).toBuffer();
}

/** A place as each of some frames shows it, side by side in one JPEG: one request for the whole trace strip. */
export async function renderPatches(
  frames: readonly AlignedFrame[],
  place: TileRequest['region'],
  icc: string | null,
): Promise<{ patches: Uint8Array; patchPx: number }> {
  const kernels = threadKernels();
  const side = place.width;
  const width = side * frames.length;
  const data = new Uint8Array(width * side * 3);
  frames.forEach((frame, k) => {
    const patch = kernels.scope(() => packPixels(kernels, warpFrame(kernels, frame, place), 8)).data;
    for (let row = 0; row < side; row++) {
      data.set(patch.subarray(row * side * 3, (row + 1) * side * 3), (row * width + k * side) * 3);
    }
  });
  return { patches: await encodeTile({ width, height: side, data }, icc, 'jpg'), patchPx: side };
}

export async function projectionTask(request: TaskRequest<'projection'>): Promise<TaskResponse<'projection'>> {
  const { cameras, projection, longSidePx, icc } = request;
  const { rig, down, vignetting, locals } = cameras;
  const frames = cameras.frames.map(placedFrame);
  const sizes = frames.map(({ source }) => ({ width: source.width, height: source.height }));
  const whole = layOutPanorama({ rig, sizes, down, vignetting, locals }, projection);
  if (!whole) return null;
  const { width, height, views } = cutLayout(whole, whole.crop);
  const scale = Math.max(1, Math.max(width, height) / longSidePx);
  const region = {
    x: 0,
    y: 0,
    width: Math.max(1, Math.floor(width / scale)),
    height: Math.max(1, Math.floor(height / scale)),
  };
  const kernels = threadKernels();
  const placed = frames.map((f, k) => ({ ...f, geometry: views[k]! }));
  const block = kernels.scope(() => packPixels(kernels, featherFrames(kernels, placed, region, scale), 8));
  return encodeTile(block, icc, 'jpg');
}

const MASK_ROWS = 256;

export function maskTask({ operations, frame, width, height }: TaskRequest<'mask'>): Promise<Uint8Array> {
  const grey = Buffer.alloc(width * height);
  for (let y = 0; y < height; y += MASK_ROWS) {
    const region = { x: 0, y, width, height: Math.min(MASK_ROWS, height - y) };
    const mask = renderMask(frame, operations, region);
    for (let i = 0; i < mask.length; i++) grey[y * width + i] = mask[i]! * 255 + 0.5;
  }
  return sharp(grey, { raw: { width, height, channels: 1 } })
    .toColourspace('b-w')
    .png()
    .toBuffer();
}

export function labelPictureTask({ labels, width, height }: TaskRequest<'labelPicture'>): Promise<Uint8Array> {
  const data = readFileSync(labels);
  const n = width * height;
  const rgb = Buffer.alloc(n * 3);
  for (let i = 0; i < n; i++) {
    const shown = data[n + i]!;
    rgb[3 * i] = shown === 255 ? 0 : shown + 1;
    rgb[3 * i + 1] = data[i] === 255 ? 0 : data[i]! + 1;
  }
  return sharp(rgb, { raw: { width, height, channels: 3 } })
    .png()
    .toBuffer();
}
