// Layer: what the merge shows at all, and where frames reach: for what lies beyond them.
import type { CellPicture } from '../../cells';
import { MERGE_KINDS, type Layer } from './layer';

export interface RimMaps extends Readonly<Record<string, Uint8Array | Float32Array>> {
  /** 1 where some frame covers the whole cell. */
  readonly reached: Uint8Array;
  /** Mean luma of the merge, encoded. */
  readonly level: Float32Array;
  /** How far that is from the frame nearest to it; 0 where none reaches. */
  readonly apart: Float32Array;
}

export const rim: Layer<RimMaps, null, null> = {
  name: 'rim',
  kinds: MERGE_KINDS,
  needs: [],
  empty: (cells) => ({
    reached: new Uint8Array(cells),
    level: new Float32Array(cells),
    apart: new Float32Array(cells),
  }),
  measure({ stack }) {
    const { frames, width, height } = stack;
    const maps = this.empty(width * height);
    const lumaAt = ([r, g, b]: CellPicture['mean'], i: number): number =>
      0.2126 * r[i]! + 0.7152 * g[i]! + 0.0722 * b[i]!;
    for (let i = 0; i < maps.level.length; i++) maps.level[i] = lumaAt(stack.merge!.mean, i);
    for (const { valid, mean } of frames)
      for (let i = 0; i < valid.length; i++) {
        if (!valid[i]) continue;
        const apart = Math.abs(lumaAt(mean, i) - maps.level[i]!);
        maps.apart[i] = maps.reached[i] ? Math.min(maps.apart[i]!, apart) : apart;
        maps.reached[i] = 1;
      }
    return { maps, samples: null };
  },
  calibrate: () => null,
};
