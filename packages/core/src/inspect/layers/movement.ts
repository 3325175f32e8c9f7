// Layer: things that moved through a focus stack, and how much of each the merge shows.
import { broadLuma, oddMoments } from '../../cells';
import { dilate } from '../../image';
import { hasMoment, momentBit } from './moments';
import type { Layer } from './layer';

export interface MovementMaps extends Readonly<Record<string, Uint8Array | Float32Array>> {
  /** Frames that show another moment than their neighbours there or within reach of their detail, one bit each (see momentBit). */
  readonly odd: Float32Array;
  /** The frame, plus 1, whose thing is shown in a cell, or stands out most there; 0 where none does. */
  readonly thing: Uint8Array;
  /** How far the merge is from that frame, of what the frame stands out by: 0 shows it, 255 shows nothing of it. */
  readonly missing: Uint8Array;
  /** What the frame stands out by, encoded luma. */
  readonly contrast: Float32Array;
  /** Frames that the merge may be in such a cell: all from which it is no farther than from one whose thing is shown; one bit each. */
  readonly like: Float32Array;
}

/** A cell of a thing stands out by so much, encoded luma: what is less cannot be said to be shown or not. */
const LEAST_CONTRAST = 0.045;
/** A cell shows a thing where the merge is nearer to it than this share of what it stands out by. */
export const SHOWN = 0.3 * 255;
/** Energies of detail are smoothed: what a thing has of it reaches so many cells beyond it. */
const REACH = 3;

export const movement: Layer<MovementMaps, null, null> = {
  name: 'movement',
  kinds: ['focus-stack'],
  needs: [],
  empty: (cells) => ({
    odd: new Float32Array(cells),
    thing: new Uint8Array(cells),
    missing: new Uint8Array(cells),
    contrast: new Float32Array(cells),
    like: new Float32Array(cells),
  }),
  measure({ stack }) {
    const maps = this.empty(stack.width * stack.height);
    const { odd, contrast, luma: lumas } = oddMoments(stack);
    const merge = broadLuma(stack.merge!, stack);
    lumas.forEach((luma, k) => {
      if (!odd[k]!.includes(1)) return;
      const near = dilate({ width: stack.width, height: stack.height, data: odd[k]! }, REACH).data;
      for (let i = 0; i < luma.length; i++) {
        if (near[i] && !hasMoment(maps.odd[i]!, k)) maps.odd[i]! += momentBit(k);
        if (!odd[k]![i]) continue;
        const own = contrast[k]![i]!;
        if (own < LEAST_CONTRAST) continue;
        const missing = Math.round(255 * Math.min(1, Math.abs(merge[i]! - luma[i]!) / own));
        // Where one thing lies over another's place, the cell is that one's which the merge shows.
        const [shows, shown] = [missing < SHOWN, maps.thing[i]! > 0 && maps.missing[i]! < SHOWN];
        if (shown === shows ? own <= maps.contrast[i]! : shown) continue;
        maps.thing[i] = k + 1;
        maps.contrast[i] = own;
        maps.missing[i] = missing;
      }
    });
    for (let i = 0; i < merge.length; i++) {
      if (!maps.thing[i]) continue;
      const near = (SHOWN / 255) * maps.contrast[i]!;
      lumas.forEach((luma, k) => {
        if (Math.abs(merge[i]! - luma[i]!) < near && !hasMoment(maps.like[i]!, k)) maps.like[i]! += momentBit(k);
      });
    }
    return { maps, samples: null };
  },
  calibrate: () => null,
};
