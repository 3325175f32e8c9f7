// How the light of two frames of one view differs: as a whole, in contrast, in colour.
import { boxSmooth, median } from '../image';
import type { FrameSummary } from './frameSummary';

const SMOOTH_PX = 3;

export interface LightChange {
  /** Second minus first, EV, over what both hold. */
  readonly gainEv: number;
  /** Change of the second's contrast against the first's: 1 for a mere gain, other for another tone curve. */
  readonly slope: number;
  /** Change of red and blue against green, EV. */
  readonly redEv: number;
  readonly blueEv: number;
  /** Share of the view that both hold well exposed. */
  readonly common: number;
}

/**
 * Compares light place by place. Medians and a line through quartiles: what moves or is out of focus does not count.
 * @returns null when the frames have no well exposed part in common
 */
export function compareLight(a: FrameSummary, b: FrameSummary): LightChange | null {
  if (a.width !== b.width || a.height !== b.height) return null;
  const at: number[] = [];
  for (let i = 0; i < a.light.length; i++) if (a.valid[i]! & b.valid[i]!) at.push(i);
  // Smoothed alike: blur of a place out of focus must not pass for a change of contrast.
  const { width, height } = a;
  const smooth = (summary: FrameSummary) => boxSmooth({ width, height, data: summary.light }, SMOOTH_PX).data;
  const [la, lb] = [smooth(a), smooth(b)];
  if (at.length < a.light.length * 0.02) return null;
  const ratio = (plane: 0 | 2, summary: FrameSummary, i: number): number =>
    Math.log2((summary.rgb[plane][i]! + 1e-4) / (summary.rgb[1][i]! + 1e-4));
  const byLight = [...at].sort((p, q) => la[p]! - la[q]!);
  const third = Math.max(1, Math.floor(byLight.length / 3));
  const [low, high] = [byLight.slice(0, third), byLight.slice(-third)];
  const mean = (list: readonly number[], light: Float32Array): number => median(list.map((i) => light[i]!));
  const spreadA = mean(high, la) - mean(low, la);
  return {
    gainEv: median(at.map((i) => lb[i]! - la[i]!)),
    slope: spreadA > 0.5 ? (mean(high, lb) - mean(low, lb)) / spreadA : 1,
    redEv: median(at.map((i) => ratio(0, b, i) - ratio(0, a, i))),
    blueEv: median(at.map((i) => ratio(2, b, i) - ratio(2, a, i))),
    common: at.length / a.light.length,
  };
}
