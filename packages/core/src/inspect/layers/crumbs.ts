// Layer: single cells that show another frame than all around them, where that can be seen.
import { cellLuma, sharpestFrames, type CellStack } from '../../cells';
import { findComponents } from '../../image';
import { PEAK_OVER_NOISE } from './sharpness';
import type { Layer } from './layer';

export interface CrumbsMaps extends Readonly<Record<string, Uint8Array | Float32Array>> {
  /** 1 where a cell and at most a few beside it show another frame than their surround, visibly. */
  readonly odd: Uint8Array;
  /** RMS by which the merge departs there from the frame around, encoded; 0 elsewhere. */
  readonly departure: Float32Array;
}

/** Cells around one that say which frame belongs there. */
const REACH = 4;
/** An island of more cells than this is a choice, not a crumb. */
const LARGEST = 5;
/** The surround must agree on its frame to this share. */
const AGREED = 0.3;
/** Misfit up to which a frame in another tone is the same picture. */
const EXPLAINS = 6;
/** The sharpest frame of a stack has so many times the detail of a crumb's. */
const SHARPER = 2.5;
/** Cells around one that must be of one depth. */
const NEAR = 2;
/** Frames by which the sharpest one may vary within one depth. */
const ONE_DEPTH = 2;
/** A crumb's own frame must explain it this many times better than the one around. */
const CLEARLY = 2;
/** Where the merge departs from the frame around all about the cell by this share of what it departs by here, the place is toned. */
const TONED = 0.35;

export const crumbs: Layer<CrumbsMaps, null, null> = {
  name: 'crumbs',
  kinds: ['focus-stack'],
  needs: [],
  empty: (cells) => ({ odd: new Uint8Array(cells), departure: new Float32Array(cells) }),
  measure({ stack }) {
    const { width, height, frames, picked, unexplained } = stack;
    const maps = this.empty(width * height);
    const best = sharpestFrames(stack);
    const counts = new Uint16Array(frames.length);
    const toneAround = makeToneAround(stack);
    for (let y = REACH; y < height - REACH; y++) {
      for (let x = REACH; x < width - REACH; x++) {
        const i = y * width + x;
        const own = picked[i]!;
        if (!stack.merge!.valid[i] || own >= frames.length) continue;
        if (picked[i - 1] === own && picked[i + 1] === own && picked[i - width] === own && picked[i + width] === own)
          continue;
        const right = frames[own]!.relation ? frameAround(picked, width, i, counts) : best[i]!;
        if (right === own || right >= frames.length || !frames[right]!.valid[i]) continue;
        const { residual, relation, middle } = frames[right]!;
        // In whatever tone, the frame around is shown here, too; in a stack, a crumb is one that is out of focus.
        // Under grain frames that show nothing are chosen by it: the sharpest must show something.
        const least = stack.grain ? PEAK_OVER_NOISE * stack.noiseMiddle[i]! : 0;
        const sharp = Math.max(SHARPER * frames[own]!.middle[i]!, least);
        if (relation ? relation.misfit[i]! < EXPLAINS : middle[i]! < sharp) continue;
        if (!relation && !isOneDepth(stack, best, i)) continue;
        const apart = residual[i]!;
        // Grain scatters by about as much as it is: what differs by no more says nothing.
        if (apart < CLEARLY * (unexplained[i]! + (stack.grain?.[i] ?? 0))) continue;
        // In a place that was toned no frame is told, and noise chooses in our eyes alone.
        if (!relation && toneAround(right, i) ** 2 > TONED * apart) continue;
        maps.odd[i] = 1;
        maps.departure[i] = Math.sqrt(apart);
      }
    }
    dropIslands(maps.odd, width, height);
    return { maps, samples: null };
  },
  calibrate: () => null,
};

/** Whether all that is textured around a cell is sharp in nearly the same frame: at the edge of a depth each cell chooses for itself. */
function isOneDepth({ frames, noiseMiddle, width }: CellStack, best: Uint8Array, i: number): boolean {
  let [least, most, told] = [255, 0, 0];
  for (let dy = -NEAR; dy <= NEAR; dy++) {
    for (let dx = -NEAR; dx <= NEAR; dx++) {
      const j = i + dy * width + dx;
      const k = best[j]!;
      if (frames[k]!.middle[j]! < PEAK_OVER_NOISE * noiseMiddle[j]!) continue;
      told += 1;
      if (k < least) least = k;
      if (k > most) most = k;
    }
  }
  return told > 0 && most - least <= ONE_DEPTH;
}

/** By how much a merge is lighter than a frame around a cell, the cell and those beside it left out, encoded. */
function makeToneAround({ merge, frames, width, height }: CellStack): (frame: number, cell: number) => number {
  const lumas: (Float32Array | undefined)[] = [];
  let own: Float32Array | null = null;
  return (k, i) => {
    own ??= cellLuma(merge!);
    const theirs = (lumas[k] ??= cellLuma(frames[k]!));
    const [x, y] = [i % width, Math.floor(i / width)];
    let [sum, n] = [0, 0];
    for (let cy = Math.max(0, y - REACH); cy <= Math.min(height - 1, y + REACH); cy++)
      for (let cx = Math.max(0, x - REACH); cx <= Math.min(width - 1, x + REACH); cx++) {
        const j = cy * width + cx;
        if (Math.max(Math.abs(cx - x), Math.abs(cy - y)) < 2 || !frames[k]!.valid[j]) continue;
        sum += own[j]! - theirs[j]!;
        n += 1;
      }
    return n === 0 ? 0 : sum / n;
  };
}

/** The frame that most cells around one picked, the cell's own when none is agreed on. */
function frameAround(picked: Uint8Array, width: number, i: number, counts: Uint16Array): number {
  const own = picked[i]!;
  counts.fill(0);
  let around = own;
  for (let dy = -REACH; dy <= REACH; dy++) {
    for (let dx = -REACH; dx <= REACH; dx++) {
      const k = picked[i + dy * width + dx]!;
      if (k < counts.length && ++counts[k]! > counts[around]!) around = k;
    }
  }
  return counts[around]! < AGREED * (2 * REACH + 1) ** 2 ? own : around;
}

/** Crumbs are single: where many cells beside each other show what is not around, that is a choice, right or wrong. */
function dropIslands(odd: Uint8Array, width: number, height: number): void {
  for (const { cells } of findComponents({ width, height, data: odd }))
    if (cells.length > LARGEST) for (const i of cells) odd[i] = 0;
}
