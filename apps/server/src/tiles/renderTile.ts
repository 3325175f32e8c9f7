// Pixels of a tile: picture, frame in merge geometry, merge, or merge as repaired.
import { readFileSync } from 'node:fs';
import sharp from 'sharp';
import { IDENTITY, IDENTITY_TONE } from '@blendrak/core/image';
import { warpFrame, type AlignedFrame } from '@blendrak/core/align';
import { packPixels, type PixelBlock } from '@blendrak/core/kernels';
import { renderRepair } from '@blendrak/core/repair';
import { tiffBuffer } from '../codecs';
import { placedFrame, plainFrame, threadKernels, tileFile, type InspectionScene, type PlacedPicture } from '../jobs';
import type { TileRequest } from './parseIiif';

/** A picture that tiles can be asked of. */
export interface TilePicture {
  readonly width: number;
  readonly height: number;
  /** Path of its profile; null for sRGB. */
  readonly icc: string | null;
  render(request: TileRequest): PixelBlock;
}

/** A stored picture by itself. */
export function renderPictureTile(path: string, icc: string | null): TilePicture {
  const source = tileFile(path);
  const frame = { source, toMerge: IDENTITY, tone: IDENTITY_TONE, noise: [0, 0] };
  return { width: source.width, height: source.height, icc, render: (request) => warped(frame, request) };
}

/** A frame where it lies in a merge, toned like it. */
export function renderFrameTile(frame: PlacedPicture, request: TileRequest): PixelBlock {
  return warped(placedFrame(frame), request);
}

/** A merge with the scene's strokes painted in. */
export function renderRepairedTile(scene: InspectionScene, request: TileRequest): PixelBlock {
  const kernels = threadKernels();
  const { region, scale } = scaled(request);
  const frames = scene.frames.map(placedFrame);
  return kernels.scope(() =>
    packPixels(kernels, renderRepair(kernels, plainFrame(scene.merge), frames, scene.strokes, region, scale), 8),
  );
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

const PROFILES = new Map<string, Buffer>();

/** Encodes pixels for a browser: in sRGB, converted when the picture has a profile of its own. */
export async function encodeTile(block: PixelBlock, icc: string | null, format: 'jpg' | 'png'): Promise<Buffer> {
  let input = sharp(block.data as Uint8Array, { raw: { width: block.width, height: block.height, channels: 3 } });
  if (icc) {
    const profile = PROFILES.get(icc) ?? readFileSync(icc);
    PROFILES.set(icc, profile);
    input = sharp(tiffBuffer(block, 8, profile));
  }
  return format === 'png'
    ? input.png({ compressionLevel: 1 }).toBuffer()
    : input.jpeg({ quality: 90, chromaSubsampling: '4:4:4' }).toBuffer();
}
