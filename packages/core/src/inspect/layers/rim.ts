// Layer: what the merge shows at all, and where frames reach: for what lies beyond them.
import { MERGE_KINDS, type Layer } from './layer';

export interface RimMaps extends Readonly<Record<string, Uint8Array | Float32Array>> {
  /** 1 where some frame covers the whole cell. */
  readonly reached: Uint8Array;
  /** Mean luma of the merge, encoded. */
  readonly level: Float32Array;
}

export const rim: Layer<RimMaps, null, null> = {
  name: 'rim',
  kinds: MERGE_KINDS,
  needs: [],
  empty: (cells) => ({ reached: new Uint8Array(cells), level: new Float32Array(cells) }),
  measure({ stack }) {
    const { frames, width, height } = stack;
    const [r, g, b] = stack.merge!.mean;
    const maps = this.empty(width * height);
    for (const { valid } of frames) for (let i = 0; i < valid.length; i++) if (valid[i]) maps.reached[i] = 1;
    for (let i = 0; i < maps.level.length; i++) maps.level[i] = 0.2126 * r[i]! + 0.7152 * g[i]! + 0.0722 * b[i]!;
    return { maps, samples: null };
  },
  calibrate: () => null,
};
