// Repaired tiles of this thread go on where the last one ended: whoever paints on a tile with a hundred operations waits for one.
import { LRUCache } from 'lru-cache';
import { canGoOn, layOperations, renderRepair, type Operation } from '@blendrak/core/repair';
import type { AlignedFrame } from '@blendrak/core/frame';
import type { Region } from '@blendrak/core/image';
import {
  allocPlanes,
  packPixels,
  planeView,
  type KernelPlanes,
  type Kernels,
  type PixelBlock,
} from '@blendrak/core/kernels';

/** A tile as rendered with some operations. */
interface Rendered {
  /** Their names, in order. */
  readonly names: readonly string[];
  readonly planes: readonly Float32Array[];
}

/** Tiles of which each thread keeps something. */
const MOST_TILES = 6;
/** States kept of each, up to 4 MB each: whoever takes a stroke back finds the one before. */
const MOST_STATES = 3;
/** A tile with fewer operations is rendered anew. */
const WORTH_KEEPING = 4;

/** By tile, the state rendered last first. */
const kept = new LRUCache<string, readonly Rendered[]>({ max: MOST_TILES });

/**
 * Renders a tile of the repaired picture.
 * @param picture names the picture; it has to be another name for other pixels
 * @param names of the operations, in order; the same name always stands for the same operation
 */
export function repairedTile(
  kernels: Kernels,
  picture: string,
  base: AlignedFrame,
  frames: readonly AlignedFrame[],
  operations: readonly Operation[],
  names: readonly string[],
  region: Region,
  scale: number,
): PixelBlock {
  const key = [picture, region.x, region.y, region.width, region.height, scale].join(' ');
  return kernels.scope(() => {
    const states = kept.get(key) ?? [];
    const before = states
      .filter(
        (state) => state.names.every((name, k) => name === names[k]) && canGoOn(operations.slice(state.names.length)),
      )
      .sort((a, b) => b.names.length - a.names.length)[0];
    let out: KernelPlanes;
    if (before) {
      out = allocPlanes(kernels, region.width, region.height, before.planes.length);
      before.planes.forEach((plane, k) => planeView(kernels, out, k).set(plane));
      layOperations(kernels, out, base, frames, operations.slice(before.names.length), region, scale);
    } else out = renderRepair(kernels, base, frames, operations, region, scale);
    if (names.length >= WORTH_KEEPING && before?.names.length !== names.length) {
      const planes = Array.from({ length: out.count }, (_, k) => planeView(kernels, out, k).slice());
      kept.set(key, [{ names, planes }, ...states].slice(0, MOST_STATES));
    }
    return packPixels(kernels, out, 8);
  });
}
