// By how much light differs between two frames of one scene, whatever is sharp in them.
import { badParameter } from '../checks';
import { quantile, robustDeviation, srgbToLinear, type Plane } from '../image';
import type { FrameMap } from './measureTies';

/** Cells across the longer side over which light is summed: blur moves light within a cell, hardly out of it. */
const CELLS = 24;
/** A cell counts where both frames show at least this share of it, clipped at neither end. */
const LEAST_SHARE = 0.75;
const TELLING = [0.02, 0.96] as const;
const ROUNDS = 4;

type Planes = readonly [Plane, Plane, Plane];

/**
 * Gain per channel that brings the source's light to the target's: the ratio of summed linear light over cells, those that changed left
 * out. A curve fitted value by value would take blur for a change of contrast: where one frame is sharp and the other soft, dark places
 * are brighter and bright ones darker in the soft one.
 * @param source, target encoded R, G, B, 0..1, at sizes of some hundred px
 * @param map px of the source's planes → px of the target's
 * @returns gains; 1 for a channel that tells nothing
 * @throws ParameterError when planes of a picture differ in size
 * Cost: about 40 ns per px of the source.
 */
export function fitLightGain(source: Planes, target: Planes, map: FrameMap): [number, number, number] {
  for (const [name, planes] of [
    ['source', source],
    ['target', target],
  ] as const)
    if (planes.some((p) => p.width !== planes[0].width || p.height !== planes[0].height))
      throw badParameter(
        `fitLightGain.${name}`,
        'planes of one size',
        planes.map((p) => [p.width, p.height]),
      );
  const { width, height } = source[0];
  const side = Math.max(1, Math.ceil(Math.max(width, height) / CELLS));
  const across = Math.ceil(width / side);
  const cells = across * Math.ceil(height / side);
  const sums = [source, target].map(() => [0, 1, 2].map(() => new Float64Array(cells)));
  const counts = new Float64Array(cells);
  const { width: wide, height: high } = target[0];
  // Pairs of values by channel, looked up without asking for planes at each px.
  const channels = ([0, 1, 2] as const).map((c) => ({ from: source[c].data, to: target[c].data }));
  for (let y = 0; y < height; y++) {
    const row = Math.floor(y / side) * across;
    for (let x = 0; x < width; x++) {
      const at = map(x + 0.5, y + 0.5);
      if (!at) continue;
      const tx = Math.floor(at[0]);
      const ty = Math.floor(at[1]);
      if (tx < 0 || ty < 0 || tx >= wide || ty >= high) continue;
      const i = y * width + x;
      const j = ty * wide + tx;
      let isTold = true;
      for (let c = 0; c < 3; c++) isTold &&= isTelling(channels[c]!.from[i]!) && isTelling(channels[c]!.to[j]!);
      if (!isTold) continue;
      const cell = row + Math.floor(x / side);
      counts[cell]! += 1;
      for (let c = 0; c < 3; c++) {
        sums[0]![c]![cell]! += LIGHTS[Math.round(channels[c]!.from[i]! * STEPS)]!;
        sums[1]![c]![cell]! += LIGHTS[Math.round(channels[c]!.to[j]! * STEPS)]!;
      }
    }
  }
  const used = [...counts.keys()].filter((n) => counts[n]! >= LEAST_SHARE * side * side);
  const gain = (c: number): number => robustRatio(used.map((n) => [sums[0]![c]![n]!, sums[1]![c]![n]!]));
  return [gain(0), gain(1), gain(2)];
}

/** Linear light by encoded value: fine enough for means over many px. */
const STEPS = 4096;
const LIGHTS = Float64Array.from({ length: STEPS + 1 }, (_, n) => srgbToLinear(n / STEPS));

function isTelling(v: number): boolean {
  return v > TELLING[0] && v < TELLING[1];
}

/** Sum of the second over sum of the first, pairs whose own ratio is far from the others' left out. */
function robustRatio(pairs: readonly (readonly [number, number])[]): number {
  if (pairs.length === 0) return 1;
  const logs = pairs.map(([a, b]) => Math.log(b / a));
  let middle = quantile(logs, 0.5);
  for (let round = 0; round < ROUNDS; round++) {
    const off = logs.map((l) => l - middle);
    const cut = 3 * Math.max(1e-4, robustDeviation(off));
    let [a, b] = [0, 0];
    pairs.forEach((p, n) => {
      if (Math.abs(off[n]!) > cut) return;
      a += p[0];
      b += p[1];
    });
    if (a > 0) middle = Math.log(b / a);
  }
  return Math.exp(middle);
}
