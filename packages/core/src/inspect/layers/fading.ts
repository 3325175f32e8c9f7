// Layer: how much of its closest frame's forms a merge shows. A thing that is mixed with the ground of another moment is that thing, only
// fainter: no misfit tells it from one that is toned otherwise, but all around it the tone is as usual.
import { cellLuma, cellTent } from '../../cells';
import { median, quantile } from '../../image';
import { explanation } from './explanation';
import type { Layer } from './layer';

export interface FadingMaps extends Readonly<Record<string, Float32Array>> {
  /** Amplitude of forms wider than a cell in the merge over that in its closest frame; 0 where they are not the same forms. */
  readonly gain: Float32Array;
  /** RMS of those forms in that frame, encoded. */
  readonly form: Float32Array;
}

export interface FadingYardstick {
  /** Gain of the most of the merge, and how far below it a twentieth lies; null where too little of it tells. */
  readonly usual: { readonly gain: number; readonly spread: number } | null;
}

/** Forms are the same from this correlation on. */
const ALIKE = 0.9;
/** Forms from this RMS on tell a gain well enough to be measured by. */
const TELLING = 0.02;
const LEAST_SAMPLES = 100;
const TAIL = 0.05;

export const fading: Layer<FadingMaps, readonly number[], FadingYardstick> = {
  name: 'fading',
  kinds: ['panorama'],
  needs: [explanation],
  empty: (cells) => ({ gain: new Float32Array(cells), form: new Float32Array(cells) }),
  measure(view) {
    const { frames, width, height, merge } = view.stack;
    const { closest } = view.of(explanation);
    const maps = this.empty(width * height);
    const { textureAt } = cellTent(width, height);
    const own = cellLuma(merge!);
    const samples: number[] = [];
    frames.forEach((frame, k) => {
      const telling = frame.relation?.telling;
      if (!telling?.includes(1)) return;
      const theirs = cellLuma(frame);
      const difference = own.map((v, i) => v - theirs[i]!);
      for (let i = 0; i < own.length; i++) {
        if (closest[i] !== k || !telling[i]) continue;
        const form = textureAt(theirs, i);
        if (form === 0) continue;
        // Of a sum of squares: 2·m·f = m² + f² − (m − f)².
        const shown = textureAt(own, i);
        const both = (shown + form - textureAt(difference, i)) / 2;
        if (both <= 0 || both ** 2 < ALIKE ** 2 * shown * form) continue;
        maps.gain[i] = both / form;
        maps.form[i] = Math.sqrt(form);
        if (maps.form[i]! > TELLING && i % 4 === 0) samples.push(maps.gain[i]!);
      }
    });
    return { maps, samples };
  },
  calibrate(samples) {
    const all = samples.flat();
    if (all.length < LEAST_SAMPLES) return { usual: null };
    const gain = median(all);
    return { usual: { gain, spread: gain - quantile(all, TAIL) } };
  },
};
