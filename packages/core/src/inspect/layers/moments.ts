// Layer: where a merge surely shows one frame, in whatever tone, and surely not another: the two show different moments.
import { explanation } from './explanation';
import type { Layer } from './layer';

export interface MomentsMaps extends Readonly<Record<string, Uint8Array | Float32Array>> {
  /** Frame that is surely shown, plus 1; 0 where none is. */
  readonly shown: Uint8Array;
  /** Frames that are surely not, one bit each (see momentBit). */
  readonly not: Float32Array;
}

/** Bits that a map's numbers hold without rounding. */
export const BITS = 24;

/** The bit of a frame. In long series frames share bits: those of one place are neighbours, and have their own. */
export function momentBit(frame: number): number {
  return 2 ** (frame % BITS);
}

/** Whether a set of bits has a frame's. */
export function hasMoment(bits: number, frame: number): boolean {
  return Math.floor(bits / momentBit(frame)) % 2 === 1;
}

/** Misfit up to which a frame is the same picture: a third of a px off (see provenance). */
const SAME_MISFIT = 6;
/** A frame is another picture from so many times that, and so many times what the shown one has. */
const OTHER_MISFIT = 3 * SAME_MISFIT;
const OTHER_TIMES = 4;

export const moments: Layer<MomentsMaps, null, null> = {
  name: 'moments',
  kinds: ['panorama', 'bracket'],
  needs: [explanation],
  empty: (cells) => ({ shown: new Uint8Array(cells), not: new Float32Array(cells) }),
  measure(view) {
    const { stack } = view;
    const { frames } = stack;
    const { closest } = view.of(explanation);
    const maps = this.empty(closest.length);
    for (let i = 0; i < closest.length; i++) {
      const own = frames[closest[i]!]?.relation;
      if (!own?.telling[i] || own.misfit[i]! > SAME_MISFIT) continue;
      const limit = Math.max(OTHER_MISFIT, OTHER_TIMES * own.misfit[i]!);
      let not = 0;
      frames.forEach(({ relation }, k) => {
        if (relation?.telling[i] && relation.misfit[i]! > limit && !hasMoment(not, k)) not += momentBit(k);
      });
      maps.shown[i] = closest[i]! + 1;
      maps.not[i] = not;
    }
    return { maps, samples: null };
  },
  calibrate: () => null,
};
