// Tile files kept open in this thread, and pictures made of them.
import { IDENTITY, IDENTITY_TONE } from '@blendrak/core/image';
import type { AlignedFrame, PixelSource } from '@blendrak/core/align';
import { packPixels } from '@blendrak/core/kernels';
import { renderRepair } from '@blendrak/core/repair';
import { openTileFile, type TileFile } from '../codecs';
import { threadKernels } from './kernelHost';
import type { InspectionScene, PlacedPicture, StoredPicture } from './protocol';

const MOST_OPEN = 128;
const OPEN = new Map<string, TileFile>();

/** An open tile file; the least recently used one is closed when there are many. */
export function tileFile(path: string): TileFile {
  const known = OPEN.get(path);
  if (known) {
    OPEN.delete(path);
    OPEN.set(path, known);
    return known;
  }
  const file = openTileFile(path);
  OPEN.set(path, file);
  if (OPEN.size > MOST_OPEN) {
    const [oldest, first] = OPEN.entries().next().value!;
    OPEN.delete(oldest);
    first.close();
  }
  return file;
}

/** Forgets a file that is about to be deleted or replaced. */
export function forgetTileFile(path: string): void {
  OPEN.get(path)?.close();
  OPEN.delete(path);
}

export function placedFrame(p: PlacedPicture): AlignedFrame {
  const { tiles, toMerge, tone, noise, view } = p;
  return { source: tileFile(tiles), toMerge, tone, noise, ...(view && { view }) };
}

/** A merge in its own geometry and tone. */
export function plainFrame(p: StoredPicture): AlignedFrame {
  return { source: tileFile(p.tiles), toMerge: IDENTITY, tone: IDENTITY_TONE, noise: p.noise };
}

/** The merge as repaired so far: rendered where it is read. */
export function repairedFrame(scene: InspectionScene): AlignedFrame {
  const base = plainFrame(scene.merge);
  if (scene.strokes.length === 0) return base;
  const frames = scene.frames.map(placedFrame);
  const kernels = threadKernels();
  const source: PixelSource = {
    width: base.source.width,
    height: base.source.height,
    bits: 16,
    levels: 1,
    read: (_level, region) =>
      kernels.scope(() => packPixels(kernels, renderRepair(kernels, base, frames, scene.strokes, region), 16)),
  };
  return { ...base, source };
}
