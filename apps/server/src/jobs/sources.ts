// Tile files kept open in this thread, and pictures made of them.
import { IDENTITY_TONE } from '@blendrak/core/image';
import { type AlignedFrame, greySource, type PixelSource, SAME_PLACE } from '@blendrak/core/frame';
import { packPixels } from '@blendrak/core/kernels';
import { renderRepair } from '@blendrak/core/repair';
import { closeDescriptors, openTileFile, type TileFile } from '../codecs';
import { threadKernels } from './kernelHost';
import { donorsOf, type InspectionScene, type PlacedPicture, type StoredPicture } from './protocol';

/** Tile files that the task at hand has opened. */
const IN_USE = new Map<string, TileFile>();

/** A tile file, opened once for a task. */
export function tileFile(path: string): TileFile {
  const known = IN_USE.get(path);
  if (known) return known;
  const file = openTileFile(path);
  IN_USE.set(path, file);
  return file;
}

/** Ends a task: what it opened is closed, so that files which are deleted or replaced meanwhile are let go. */
export function releaseTileFiles(): void {
  IN_USE.clear();
  closeDescriptors();
}

export function placedFrame(p: PlacedPicture): AlignedFrame {
  const { tiles, geometry, tone, noise, grey, mix = null, contrast } = p;
  const file = tileFile(tiles);
  const source = grey ? greySource(file, grey) : file;
  if (!contrast) return { source, geometry, tone, noise, mix };
  const raised = (1 + contrast.amount) ** 2;
  return { source, geometry, tone, mix, contrast, noise: noise.map((v) => raised * v) };
}

/** What operations paint with, by number. */
export function donorFrames(scene: Pick<InspectionScene, 'frames' | 'sources'>): AlignedFrame[] {
  return donorsOf(scene).map(placedFrame);
}

/** A merge in its own geometry and tone. */
export function plainFrame(p: StoredPicture): AlignedFrame {
  return { source: tileFile(p.tiles), geometry: SAME_PLACE, tone: IDENTITY_TONE, noise: p.noise };
}

/** The merge as repaired so far: rendered where it is read. */
export function repairedFrame(scene: InspectionScene): AlignedFrame {
  const base = plainFrame(scene.merge);
  if (scene.operations.length === 0) return base;
  const frames = donorFrames(scene);
  const kernels = threadKernels();
  const source: PixelSource = {
    width: base.source.width,
    height: base.source.height,
    bits: 16,
    levels: 1,
    read: (_level, region) =>
      kernels.scope(() => packPixels(kernels, renderRepair(kernels, base, frames, scene.operations, region), 16)),
  };
  return { ...base, source };
}
