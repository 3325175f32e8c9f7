// Is one frame enough? The question before any stack.
import { defocusBlurMm, totalBlurMm } from './blur';
import { nearLimitAtInfinityMm, type SliceOptics } from './depthOfField';
import type { DepthRange } from './planFocusSeries';

/** Whether one frame would do. */
export interface SingleFrame {
  /** Focus distance that shares the blur between both ends. */
  readonly focusMm: number;
  /** Blur in all at both ends, px. */
  readonly blurPx: number;
  readonly enough: boolean;
  /** Near limit focused at infinity, and the distance that careful people trust. */
  readonly nearLimitMm: number;
  readonly trustedMm: number;
  /** Focus a third into the scene, and the blur at its near and far end; null where the scene is endless. */
  readonly third: { readonly focusMm: number; readonly nearBlurPx: number; readonly farBlurPx: number } | null;
}

/**
 * Judges a single frame of a subject: focused half way in dioptres, at infinity, and a third into the scene.
 * @param diffractionMm diameter of the diffraction disc
 */
export function judgeSingleFrame(
  optics: SliceOptics,
  { nearestMm, farthestMm }: DepthRange,
  diffractionMm: number,
  pitchMm: number,
): SingleFrame {
  const { focalLengthMm, fNumber, cocMm } = optics;
  const defocus = (focusMm: number, depthMm: number): number => defocusBlurMm(focalLengthMm, fNumber, focusMm, depthMm);
  const blurAt = (focusMm: number, depthMm: number): number =>
    totalBlurMm(defocus(focusMm, depthMm), diffractionMm, pitchMm) / pitchMm;
  const focusMm = 2 / (1 / nearestMm + 1 / farthestMm);
  const thirdMm = nearestMm + (farthestMm - nearestMm) / 3;
  const nearLimitMm = nearLimitAtInfinityMm(optics);
  return {
    focusMm,
    blurPx: blurAt(focusMm, nearestMm),
    enough: defocus(focusMm, nearestMm) <= cocMm,
    nearLimitMm,
    trustedMm: 2 * nearLimitMm,
    third: Number.isFinite(thirdMm)
      ? { focusMm: thirdMm, nearBlurPx: blurAt(thirdMm, nearestMm), farBlurPx: blurAt(thirdMm, farthestMm) }
      : null,
  };
}
