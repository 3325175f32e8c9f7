// A bracket as light: the noise-weighted mean of what all exposures say, and a plain tone curve to show it.
import { linearToSrgb, noiseAt, srgbToLinear, type NoiseCurve, type Region } from '../image';
import { allocPlanes, planeView, type KernelPlanes, type Kernels } from '../kernels';
import { sharesIn, type ExposureFrame } from './fuseExposures';
import { warpFrame } from '../frame';

/** A frame whose exposure against the reference is known, EV. */
export interface LightFrame extends ExposureFrame {
  readonly ev: number;
}

/** The tone curve: light is scaled by `key`, and what reaches `white` becomes white. */
export interface LightTone {
  readonly key: number;
  readonly white: number;
}

const STEPS = 1024;
/** Encoded values from here on are clipped. */
const HIGHLIGHT_CLIPPED = 0.97;

/**
 * Merges light in a region.
 * @param frames toned as they are (identity), so that values are the camera's
 * @param tone from `toneForLight`
 * @returns R, G, B planes in kernel memory, encoded 0..1
 * Cost: about 60 ns per px and frame.
 * Source: weights by inverse variance after M. Granados et al., CVPR 2010; the curve after E. Reinhard et al., ACM Trans. Graphics
 * 21(3), 2002 (global operator), on the brightest channel, so that hues stay.
 */
export function mergeLight(
  kernels: Kernels,
  frames: readonly LightFrame[],
  tone: LightTone,
  region: Region,
  width: number,
  height: number,
): KernelPlanes {
  const n = region.width * region.height;
  const out = allocPlanes(kernels, region.width, region.height, 3);
  const sums = [0, 1, 2].map(() => new Float64Array(n));
  const total = new Float64Array(n);
  const darkest = Math.min(...frames.map((f) => f.ev));
  for (const frame of frames) {
    kernels.scope(() => {
      const planes = warpFrame(kernels, frame, region);
      const [r, g, b, valid] = [0, 1, 2, 3].map((c) => planeView(kernels, planes, c)) as [
        Float32Array,
        Float32Array,
        Float32Array,
        Float32Array,
      ];
      const share = frame.share && sharesIn(frame.share, region, width, height);
      const { light, weight } = tablesOf(frame.noise, frame.ev, darkest);
      const [sr, sg, sb] = sums as [Float64Array, Float64Array, Float64Array];
      for (let i = 0; i < n; i++) {
        if (valid[i]! < 0.5) continue;
        const p = entry(r[i]!);
        const q = entry(g[i]!);
        const s = entry(b[i]!);
        // One weight for all channels, that of the worst: a clipped channel makes the colour wrong.
        let w = weight[p]! < weight[q]! ? weight[p]! : weight[q]!;
        if (weight[s]! < w) w = weight[s]!;
        if (share) w *= share[i]!;
        w += 1e-20;
        sr[i]! += w * light[p]!;
        sg[i]! += w * light[q]!;
        sb[i]! += w * light[s]!;
        total[i]! += w;
      }
    });
  }
  const [or, og, ob] = [0, 1, 2].map((c) => planeView(kernels, out, c)) as [Float32Array, Float32Array, Float32Array];
  for (let i = 0; i < n; i++) {
    const scale = total[i]! > 0 ? tone.key / total[i]! : 0;
    const r = sums[0]![i]! * scale;
    const g = sums[1]![i]! * scale;
    const b = sums[2]![i]! * scale;
    const top = r > g ? (r > b ? r : b) : g > b ? g : b;
    const k = top > 0 ? shownLight(top, tone) / top : 0;
    or[i] = linearToSrgb(r * k);
    og[i] = linearToSrgb(g * k);
    ob[i] = linearToSrgb(b * k);
  }
  return out;
}

/** Light on the picture, 0..1, of scaled light: L·(1 + L/white²)/(1 + L). */
export function shownLight(light: number, { white }: LightTone): number {
  return Math.min(1, (light * (1 + light / (white * white))) / (1 + light));
}

const MIDDLE_GREY = 0.18;
const WHITE_QUANTILE = 0.998;

/**
 * The curve that shows the middle of the scene's light as middle grey and lets only the very brightest burn.
 * @param light linear light of the whole merge, some 10,000 values
 */
export function toneForLight(light: ArrayLike<number>): LightTone {
  const sorted = Float64Array.from(light).sort();
  if (sorted.length === 0) return { key: 1, white: 1 };
  let logs = 0;
  for (const v of sorted) logs += Math.log(Math.max(1e-5, v));
  // A scene that fits one exposure keeps its brightness; the key brings the geometric mean to middle grey.
  const mean = Math.exp(logs / sorted.length);
  const key = MIDDLE_GREY / mean;
  const white = sorted[Math.floor(WHITE_QUANTILE * (sorted.length - 1))]! * key;
  return { key, white: Math.max(1, white) };
}

function entry(v: number): number {
  return v <= 0 ? 0 : v >= 1 ? STEPS : (v * STEPS + 0.5) | 0;
}

const TABLES = new Map<string, LightTables>();

interface LightTables {
  readonly light: Float64Array;
  readonly weight: Float64Array;
}

/** Light at the reference's exposure and its inverse variance, by encoded value. */
function tablesOf(noise: NoiseCurve, ev: number, darkestEv: number): LightTables {
  const key = `${ev} ${darkestEv} ${noise.join()}`;
  const known = TABLES.get(key);
  if (known) return known;
  const gain = 2 ** ev;
  const light = new Float64Array(STEPS + 1);
  const weight = new Float64Array(STEPS + 1);
  for (let i = 0; i <= STEPS; i++) {
    const v = i / STEPS;
    // Clipped is as bright as the darkest frame can tell: a clipped place without another frame becomes white, not grey.
    light[i] = v < HIGHLIGHT_CLIPPED ? srgbToLinear(v) / gain : 1 / 2 ** darkestEv;
    const slope = (srgbToLinear(Math.min(1, v + 0.005)) - srgbToLinear(Math.max(0, v - 0.005))) / 0.01 / gain;
    const sigma = Math.sqrt(Math.max(1e-7, noiseAt(noise, v))) * slope;
    // Trust fades towards clipped values.
    const trust = smooth(0.005, 0.05, v) * (1 - smooth(0.88, HIGHLIGHT_CLIPPED, v));
    // Where all are clipped the darkest frame is nearest to the truth, where all are lost in shadow the brightest.
    weight[i] = trust / (sigma * sigma + 1e-12) + 1e-9 * gain ** (v > 0.5 ? -6 : 6);
  }
  const made = { light, weight };
  if (TABLES.size > 64) TABLES.clear();
  TABLES.set(key, made);
  return made;
}

function smooth(from: number, to: number, v: number): number {
  const t = Math.min(1, Math.max(0, (v - from) / (to - from)));
  return t * t * (3 - 2 * t);
}
