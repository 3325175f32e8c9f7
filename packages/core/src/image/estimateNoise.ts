// Sensor noise of a picture from its own flattest places, as a function of brightness.
import { badParameter } from '../checks';
import { BAND_NOISE_GAIN } from '../kernels';
import { quantile } from './statistics';
import { tentSmooth } from './smooth';
import type { Plane } from './raster';
import { toneOfGrey, type ToneCurve } from './tone';

/** Luma noise variance at equally spaced brightness 0..1 (encoded units squared). */
export type NoiseCurve = readonly number[];

const BINS = 8;
const MIN_CELLS = 40;
// Quantile of the smoothed fine-band energy taken as noise. Smoothing over r = 2 (σ ≈ 2 cells, some 50 cells of 16 px)
// leaves a spread of a few per cent, so a low quantile of flat cells sits close to their mean.
const FLAT_QUANTILE = 0.05;
const LARGEST_STEP = 2;

/**
 * Noise variance per brightness bin.
 * @param fine fine-band energy per cell (first plane of `focusBands`)
 * @param brightness mean luma per cell, same size, 0..1
 * @returns BINS values; bins without enough cells take their neighbours' value
 * @throws ParameterError when the sizes differ
 */
export function estimateNoise(fine: Plane, brightness: Plane): NoiseCurve {
  if (fine.data.length !== brightness.data.length) {
    throw badParameter('estimateNoise.brightness.size', `${fine.width} × ${fine.height} cells`, [
      brightness.width,
      brightness.height,
    ]);
  }
  const smooth = tentSmooth(fine, 2);
  const bins: number[][] = Array.from({ length: BINS }, () => []);
  for (let i = 0; i < smooth.data.length; i++) {
    const v = brightness.data[i]!;
    // Clipped and black cells carry no noise and would say "no noise at all".
    if (v < 0.01 || v > 0.985) continue;
    bins[Math.min(BINS - 1, Math.floor(v * BINS))]!.push(smooth.data[i]!);
  }
  const raw = bins.map((cells) =>
    cells.length < MIN_CELLS ? NaN : quantile(cells, FLAT_QUANTILE) / BAND_NOISE_GAIN[0],
  );
  return fillGaps(raw);
}

/** Noise variance at a brightness 0..1. */
export function noiseAt(curve: NoiseCurve, brightness: number): number {
  const t = Math.min(curve.length - 1, Math.max(0, brightness * curve.length - 0.5));
  const k = Math.min(curve.length - 2, Math.floor(t));
  return curve[k]! + (t - k) * (curve[k + 1]! - curve[k]!);
}

/**
 * Bins without flat cells report texture as noise, or nothing: noise in encoded values changes slowly with brightness, so
 * a bin is held to twice what each neighbour says, per bin of distance.
 */
function fillGaps(raw: readonly number[]): number[] {
  // Quantisation to 8 bits alone leaves 1/12 of a squared level: nothing is quieter than that.
  const floor = 1 / 12 / 255 ** 2;
  return raw.map((_, i) => {
    let least = Infinity;
    raw.forEach((v, j) => {
      if (!Number.isNaN(v)) least = Math.min(least, v * LARGEST_STEP ** Math.abs(i - j));
    });
    return least === Infinity ? floor : Math.max(floor, least);
  });
}

/**
 * Noise of pictures made alike, from the estimates of each: the least per brightness, as texture that looks like noise can
 * only add to an estimate.
 * @param curves one or more
 */
export function leastNoise(curves: readonly NoiseCurve[]): NoiseCurve {
  const bins = Math.max(2, ...curves.map((c) => c.length));
  return Array.from({ length: bins }, (_, i) => Math.min(...curves.map((c) => noiseAt(c, (i + 0.5) / bins))));
}

const TONED_BINS = 24;
const TONED_STEPS = 240;

/**
 * Noise of a picture after a tone curve: variance times the square of the curve's slope, by brightness after toning.
 * @param curve noise before
 * @returns a curve of 24 bins; brightnesses that the tone curve never gives have what their neighbours have
 */
export function tonedNoise(curve: NoiseCurve, tone: ToneCurve): NoiseCurve {
  const bins = new Array<number>(TONED_BINS).fill(0);
  for (let i = 0; i < TONED_STEPS; i++) {
    const [low, high] = [toneOfGrey(tone, i / TONED_STEPS), toneOfGrey(tone, (i + 1) / TONED_STEPS)];
    const slope = (high - low) * TONED_STEPS;
    const variance = noiseAt(curve, (i + 0.5) / TONED_STEPS) * slope * slope;
    const [from, to] = [Math.min(low, high), Math.max(low, high)].map((v) =>
      Math.min(TONED_BINS - 1, Math.max(0, Math.floor(v * TONED_BINS))),
    ) as [number, number];
    for (let b = from; b <= to; b++) bins[b] = Math.max(bins[b]!, variance);
  }
  for (let b = 1; b < TONED_BINS; b++) if (bins[b] === 0) bins[b] = bins[b - 1]!;
  for (let b = TONED_BINS - 2; b >= 0; b--) if (bins[b] === 0) bins[b] = bins[b + 1]!;
  return bins;
}
