// Layer: where the merge is at its end, and a frame has structure there.
import type { CellFrame, CellStack } from '../../cells';
import { detailAt } from '../foreignShare';
import type { Layer } from './layer';

export interface EndsMaps extends Readonly<Record<string, Uint8Array | Float32Array>> {
  /** 1 where the merge is at white, 2 where it is at black, 0 elsewhere. */
  readonly end: Uint8Array;
  /** RMS of the structure or tone that a frame has there and the merge has not, encoded, in the merge's tone; 0 where none has. */
  readonly lost: Float32Array;
  /** 1 where the merge is bright, and no frame that covers the cell holds it: all are white there. */
  readonly burnt: Uint8Array;
}

/** Encoded values at and beyond which a channel is at its end. */
const WHITE = 0.93;
const BLACK = 0.015;
/** Where no frame holds a cell, all are white if the merge is brighter than this, however far it pulled the white down; or else all are black. */
const BRIGHT = 0.55;
/** A channel at white is wrong where all frames that tell have it darker by so much: no tone curve bends so far. */
const DARKER = 0.12;
/** What is left at an end is this share of a frame's detail at most. */
const FLAT = 0.25;

/** Of two exposures one was given less light where its white lies higher by this factor, as both are toned. */
const LESS_LIGHT = 1.05;

export const ends: Layer<EndsMaps, null, null> = {
  name: 'ends',
  kinds: ['bracket'],
  needs: [],
  empty: (cells) => ({ end: new Uint8Array(cells), lost: new Float32Array(cells), burnt: new Uint8Array(cells) }),
  measure({ stack }) {
    const { width, height, frames } = stack;
    const merge = stack.merge!;
    const maps = this.empty(width * height);
    const [r, g, b] = merge.mean;
    for (let i = 0; i < maps.end.length; i++) {
      if (!merge.valid[i]) continue;
      const top = Math.max(r[i]!, g[i]!, b[i]!);
      if (top > BRIGHT && isBurnt(stack, i)) maps.burnt[i] = 1;
      const end = top >= WHITE ? 1 : top <= BLACK ? 2 : 0;
      if (end === 0) continue;
      maps.end[i] = end;
      const own = detailAt(merge, i);
      let most = 0;
      for (let k = 0; k < frames.length; k++) {
        const frame = frames[k]!;
        if (!tells(frame, i) || (end === 1 && isContradicted(frame, frames, i))) continue;
        const detail = detailAt(frame, i);
        if (detail <= most || own > FLAT * detail) continue;
        most = detail;
      }
      maps.lost[i] = Math.max(Math.sqrt(Math.max(0, most - own)), end === 1 ? tornTone(stack, i) : 0);
    }
    return { maps, samples: null };
  },
  calibrate: () => null,
};

/** Whether frames cover a cell and none of them holds it. */
function isBurnt({ frames }: CellStack, i: number): boolean {
  let isCovered = false;
  for (const { valid, relation } of frames) {
    if (!valid[i]) continue;
    if (relation?.held[i]) return false;
    isCovered = true;
  }
  return isCovered;
}

function tells({ relation }: CellFrame, i: number): boolean {
  return relation !== null && relation.telling[i] === 1;
}

/** Whether a frame shows something in front of what is white in one that was given less light: another moment, no structure that was lost. */
function isContradicted({ relation }: CellFrame, frames: readonly CellFrame[], i: number): boolean {
  return frames.some((f) => f.relation?.burnt[i] === 1 && f.relation.top > LESS_LIGHT * relation!.top);
}

/** How much brighter a channel at white is than every frame that tells has it, encoded; 0 where some frame has it as bright. */
function tornTone({ merge, frames }: CellStack, i: number): number {
  let worst = 0;
  merge!.mean.forEach((plane, c) => {
    if (plane[i]! < WHITE) return;
    let least = Infinity;
    for (const frame of frames)
      if (tells(frame, i) && !isContradicted(frame, frames, i))
        least = Math.min(least, plane[i]! - frame.mean[c as 0 | 1 | 2][i]!);
    if (least !== Infinity && least > DARKER) worst = Math.max(worst, least);
  });
  return worst / 2;
}
