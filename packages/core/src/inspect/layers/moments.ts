// Layer: where a merge surely shows one frame, in whatever tone, and surely not another: the two show different moments.
import { cellLuma } from '../../cells';
import { explanation } from './explanation';
import type { Layer } from './layer';
import { nearestTone, otherTone, toldTones } from './toldTones';

export interface MomentsMaps extends Readonly<Record<string, Uint8Array | Float32Array>> {
  /** Frame that is surely shown, plus 1; 0 where none is. */
  readonly shown: Uint8Array;
  /** Frames that are surely not, one bit each (see momentBit). */
  readonly not: Float32Array;
  /** Frame that is likely shown by its tone, plus 1, where others say another; 0 elsewhere. */
  readonly likely: Uint8Array;
  /** Frames that say another tone, one bit each. */
  readonly unlikely: Float32Array;
  /** By how much, encoded; of the one that says the farthest. */
  readonly toneApart: Float32Array;
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
  empty: (cells) => ({
    shown: new Uint8Array(cells),
    not: new Float32Array(cells),
    likely: new Uint8Array(cells),
    unlikely: new Float32Array(cells),
    toneApart: new Float32Array(cells),
  }),
  measure(view) {
    const { stack } = view;
    const { frames } = stack;
    const tones = toldTones(stack);
    const merged = cellLuma(stack.merge!);
    const { closest } = view.of(explanation);
    const maps = this.empty(closest.length);
    for (let i = 0; i < closest.length; i++) {
      const own = frames[closest[i]!]?.relation;
      const isTold = own ? own.telling[i]! > 0 && own.misfit[i]! <= SAME_MISFIT : false;
      const shown = isTold ? closest[i]! : nearestTone(tones, merged[i]!, i);
      const tone = tones[shown];
      if (!tone) continue;
      const limit = own ? Math.max(OTHER_MISFIT, OTHER_TIMES * own.misfit[i]!) : 0;
      let [not, unlikely] = [0, 0];
      frames.forEach(({ relation }, k) => {
        if (!relation) return;
        const other = otherTone(tone, tones[k]!, merged[i]!, i);
        const byForm = isTold && relation.telling[i]! > 0 && relation.misfit[i]! > limit;
        if ((byForm || other?.isSure) && !hasMoment(not, k)) not += momentBit(k);
        if (!other) return;
        if (!hasMoment(unlikely, k)) unlikely += momentBit(k);
        maps.toneApart[i] = Math.max(maps.toneApart[i]!, other.apart);
      });
      if (isTold || not) [maps.shown[i], maps.not[i]] = [shown + 1, not];
      if (unlikely) [maps.likely[i], maps.unlikely[i]] = [shown + 1, unlikely];
    }
    return { maps, samples: null };
  },
  calibrate: () => null,
};
