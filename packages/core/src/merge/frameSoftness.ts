// How soft each frame of a panorama is against those that show the same places: a shaken frame must not be shown where a sharp one covers.
import { Matrix, solve } from 'ml-matrix';
import { badParameter } from '../checks';
import type { AlignedFrame } from '../frame';
import { warpFrameLuma } from '../frame';
import { blurVarianceFromBands, noiseAt, quantile, tonedNoise, type NoiseCurve, type Region } from '../image';
import { BAND_NOISE_GAIN, focusBands, planeView, type Kernels } from '../kernels';

/** What two frames differ by in blur. */
export interface SoftnessTie {
  readonly i: number;
  readonly j: number;
  /** Per place: blur of frame i less that of frame j, variance in px² of the merge. */
  readonly differences: readonly number[];
}

/** Detail, over noise, that a place needs before its blur is told. */
const LEAST_DETAIL = 4;
/** Blur beyond this is told as this: the bands see no more. */
const LARGEST_PX2 = 9;
/** Places that two frames must share before they say anything of each other. */
const LEAST_PLACES = 6;
/** Prior sigma of a frame's softness, px²: what holds frames that share too little. */
const DOUBT_PX2 = 10;
/** Least scatter of a median, px²: frames alike differ by as much through where a place lies in them. */
const LEAST_SCATTER_PX2 = 0.05;

/**
 * What the blur of two frames differs by at places that both show.
 * @param windows of the merge, px; sides multiples of 4; both frames must fill them
 * @returns one difference of variances per window that has detail, a less b, px²
 * Cost: about 60 ns per px of the windows.
 */
export function compareBlur(kernels: Kernels, a: AlignedFrame, b: AlignedFrame, windows: readonly Region[]): number[] {
  const [noiseA, noiseB] = [a, b].map(({ noise, tone }) => tonedNoise(noise, tone)) as [NoiseCurve, NoiseCurve];
  return windows.flatMap((window) => {
    const [p, q] = [detailIn(kernels, a, noiseA, window), detailIn(kernels, b, noiseB, window)];
    const tells =
      Math.min(p.coarse / p.noiseCoarse, q.coarse / q.noiseCoarse) > LEAST_DETAIL &&
      Math.max(p.middle / p.noiseMiddle, q.middle / q.noiseMiddle) > LEAST_DETAIL;
    return tells ? [blurOf(p) - blurOf(q)] : [];
  });
}

interface WindowDetail {
  /** Energies beyond noise, and of noise, encoded². */
  readonly middle: number;
  readonly coarse: number;
  readonly noiseMiddle: number;
  readonly noiseCoarse: number;
}

function detailIn(kernels: Kernels, frame: AlignedFrame, noise: NoiseCurve, window: Region): WindowDetail {
  return kernels.scope(() => {
    const luma = warpFrameLuma(kernels, frame, window);
    const brightness = mean(planeView(kernels, luma, 0));
    const bands = focusBands(kernels, luma);
    const variance = noiseAt(noise, brightness);
    const [noiseMiddle, noiseCoarse] = [BAND_NOISE_GAIN[1] * variance, BAND_NOISE_GAIN[2] * variance];
    return {
      middle: mean(planeView(kernels, bands, 1)) - noiseMiddle,
      coarse: mean(planeView(kernels, bands, 2)) - noiseCoarse,
      noiseMiddle,
      noiseCoarse,
    };
  });
}

function blurOf({ middle, coarse }: WindowDetail): number {
  return Math.min(LARGEST_PX2, blurVarianceFromBands(middle, coarse));
}

function mean(values: Float32Array): number {
  let sum = 0;
  for (const v of values) sum += v;
  return sum / values.length;
}

/**
 * Softness of each frame: the medians of pairs brought together by weighted least squares.
 * @param count number of frames
 * @returns px² of blur variance beyond that of the sharpest frame, 0 or more; a frame that shares no detail with others lies among them
 * @throws ParameterError when a tie names a frame that is not there
 */
export function fitSoftness(count: number, ties: readonly SoftnessTie[]): number[] {
  const stray = ties.find((t) => t.i >= count || t.j >= count);
  if (stray) throw badParameter('fitSoftness.ties', `frames below ${count}`, [stray.i, stray.j]);
  if (count === 0) return [];
  const normal = Matrix.eye(count).mul(DOUBT_PX2 ** -2);
  const right = Matrix.zeros(count, 1);
  for (const { i, j, differences } of ties) {
    if (differences.length < LEAST_PLACES) continue;
    const step = quantile(differences, 0.5);
    const spread =
      1.4826 *
      quantile(
        differences.map((d) => Math.abs(d - step)),
        0.5,
      );
    const weight = 1 / (LEAST_SCATTER_PX2 ** 2 + spread ** 2 / differences.length);
    normal.set(i, i, normal.get(i, i) + weight);
    normal.set(j, j, normal.get(j, j) + weight);
    normal.set(i, j, normal.get(i, j) - weight);
    normal.set(j, i, normal.get(j, i) - weight);
    right.set(i, 0, right.get(i, 0) + weight * step);
    right.set(j, 0, right.get(j, 0) - weight * step);
  }
  const softness = solve(normal, right).getColumn(0);
  const least = Math.min(...softness);
  return softness.map((s) => s - least);
}
