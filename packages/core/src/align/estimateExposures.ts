// How much more light each frame of a bracket got, from the pictures themselves.
import { badParameter } from '../checks';
import { median, srgbToLinear, type Plane } from '../image';

/** Encoded values between which a pixel tells its light: neither in the noise nor clipped. */
const DARKEST = 0.04;
const BRIGHTEST = 0.94;
const FEWEST = 40;

/**
 * Estimates exposures against one frame, EV, from aligned small planes of encoded luma (sRGB's curve is assumed).
 * Neighbours in brightness are compared, where both are well exposed, and the steps are added up.
 * @param frames equal sizes; negative values mark places without picture
 * @returns EV per frame, 0 for the reference; NaN for a frame that shares no well exposed place with its neighbours
 * @throws ParameterError when sizes differ
 */
export function estimateExposures(frames: readonly Plane[], reference: number): number[] {
  const size = frames[0]?.data.length ?? 0;
  const odd = frames.findIndex((f) => f.data.length !== size);
  if (odd >= 0) throw badParameter(`estimateExposures.frames.${odd}`, `${size} values`, frames[odd]!.data.length);
  const brightness = frames.map((f) => median(f.data));
  const order = frames.map((_, k) => k).sort((a, b) => brightness[a]! - brightness[b]! || a - b);
  const ev = new Array<number>(frames.length).fill(NaN);
  ev[order[0]!] = 0;
  for (let n = 1; n < order.length; n++) {
    const step = stepBetween(frames[order[n - 1]!]!, frames[order[n]!]!);
    ev[order[n]!] = ev[order[n - 1]!]! + step;
  }
  return ev.map((v) => v - ev[reference]!);
}

/** Median ratio of light where both are well exposed, EV. */
function stepBetween(darker: Plane, brighter: Plane): number {
  const steps: number[] = [];
  for (let i = 0; i < darker.data.length; i++) {
    const a = darker.data[i]!;
    const b = brighter.data[i]!;
    if (a < DARKEST || b < DARKEST || a > BRIGHTEST || b > BRIGHTEST) continue;
    steps.push(Math.log2(srgbToLinear(b) / srgbToLinear(a)));
  }
  return steps.length < FEWEST ? NaN : median(steps);
}
