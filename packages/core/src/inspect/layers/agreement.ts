// Layer: whether the merge is any of its frames, in whatever tone, and whether the frames agree among each other.
import { cellLuma, cellTent } from '../../cells';
import { quantile } from '../../image';
import { explanation } from './explanation';
import type { Layer } from './layer';

export interface AgreementMaps extends Readonly<Record<string, Uint8Array | Float32Array>> {
  /** Frames that say something of the cell. */
  readonly telling: Uint8Array;
  /** Misfit of the frame that fits best, in units of what resampling leaves; 0 where none says anything. */
  readonly misfit: Float32Array;
  /** RMS by which the merge departs from its closest frame beyond a difference of tone, encoded. */
  readonly departure: Float32Array;
  /** RMS by which another telling frame differs from the closest one in forms wider than a cell, encoded; of the one that differs most. */
  readonly apart: Float32Array;
  /** The same over what noise and resampling make frames differ by. */
  readonly apartOverNoise: Float32Array;
  /** RMS of the merge's own texture wider than a cell, encoded. */
  readonly texture: Float32Array;
}

export interface AgreementYardstick {
  /** Misfit below which three of four cells lie: how well this merge shows its frames at all, whatever is wrong with a part of it. */
  readonly usual: number;
}

/** Share of a cell's texture that resampling may change. */
const RESAMPLING = 0.05;
/** Noise of a cell's mean against that of a px. */
const PER_CELL = 1 / 16;

export const agreement: Layer<AgreementMaps, readonly number[], AgreementYardstick> = {
  name: 'agreement',
  kinds: ['panorama', 'bracket'],
  needs: [explanation],
  empty: (cells) => ({
    telling: new Uint8Array(cells),
    misfit: new Float32Array(cells),
    departure: new Float32Array(cells),
    apart: new Float32Array(cells),
    apartOverNoise: new Float32Array(cells),
    texture: new Float32Array(cells),
  }),
  measure(view) {
    const { stack } = view;
    const { frames, width, height, unexplained } = stack;
    const { closest } = view.of(explanation);
    const maps = this.empty(width * height);
    const { textureAt } = cellTent(width, height);
    const lumas = frames.map(cellLuma);
    const own = cellLuma(stack.merge!);
    const difference = new Float32Array(width * height);
    const samples: number[] = [];
    for (let k = 0; k < frames.length; k++) {
      const { relation } = frames[k]!;
      if (!relation?.telling.includes(1)) continue;
      const { telling } = relation;
      for (let i = 0; i < difference.length; i++) difference[i] = lumas[closest[i]!]![i]! - lumas[k]![i]!;
      for (let i = 0; i < difference.length; i++) {
        if (!telling[i]) continue;
        maps.telling[i]! += 1;
        if (k === closest[i]) continue;
        const varies = differs(difference, lumas, closest, k, i, width, textureAt);
        if (varies <= maps.apart[i]! ** 2) continue;
        maps.apart[i] = Math.sqrt(varies);
        const own = frames[closest[i]!]!.relation!.noise[i]! + relation.noise[i]!;
        const noise = PER_CELL * own + RESAMPLING * textureAt(lumas[k]!, i) + 1e-8;
        maps.apartOverNoise[i] = varies / noise;
      }
    }
    for (let i = 0; i < closest.length; i++) {
      maps.texture[i] = Math.sqrt(textureAt(own, i));
      const relation = frames[closest[i]!]!.relation;
      if (!relation?.telling[i]) continue;
      maps.misfit[i] = relation.misfit[i]!;
      maps.departure[i] = Math.sqrt(unexplained[i]!);
      if (i % 8 === 0) samples.push(maps.misfit[i]!);
    }
    return { maps, samples };
  },
  calibrate(samples) {
    const all = samples.flat();
    return { usual: all.length >= 50 ? quantile(all, 0.75) : 1 };
  },
};

/** Variance of a difference of two frames around a cell, where one and the same pair is compared all around; 0 elsewhere. */
function differs(
  difference: Float32Array,
  lumas: readonly Float32Array[],
  closest: Uint8Array,
  k: number,
  i: number,
  width: number,
  textureAt: (plane: Float32Array, cell: number) => number,
): number {
  const own = closest[i]!;
  const even = [-2 * width, -2, 2, 2 * width].every((step) => {
    const at = closest[i + step];
    return at === undefined || at === own;
  });
  if (even) return textureAt(difference, i);
  // Along a border between shown frames the pair changes: the one of this cell is compared by itself.
  const x = i % width;
  const y = Math.floor(i / width);
  const height = difference.length / width;
  let [sum, squares, n] = [0, 0, 0];
  for (let dy = -2; dy <= 2; dy++) {
    for (let dx = -2; dx <= 2; dx++) {
      if (x + dx < 0 || y + dy < 0 || x + dx >= width || y + dy >= height) continue;
      const at = i + dy * width + dx;
      const d = lumas[own]![at]! - lumas[k]![at]!;
      sum += d;
      squares += d * d;
      n += 1;
    }
  }
  return Math.max(0, squares / n - (sum / n) ** 2);
}
