// The simulated camera: a thin lens with unit focusing, and a sensor.
import type { Similarity } from '@blendrak/core/image';
import { between, makeRandom, normalPair } from './random';

/** Settings that stay the same over a series. */
export interface CameraSettings {
  readonly focalLengthMm: number;
  readonly fNumber: number;
  readonly pixelPitchMm: number;
  readonly iso: number;
  /** Standard deviation of sensor noise at full brightness, as a share of full scale, linear. */
  readonly photonNoise: number;
  readonly readNoise: number;
  /** Standard deviation of the frame-to-frame exposure, as a share. */
  readonly flicker: number;
  /** Standard deviation of the camera's shift between frames, in px. */
  readonly jitterPx: number;
  /** Standard deviation of its roll, in degrees. */
  readonly rollDeg: number;
}

export const DEFAULT_CAMERA: CameraSettings = {
  focalLengthMm: 60,
  fNumber: 8,
  pixelPitchMm: 0.0059,
  iso: 100,
  photonNoise: 0.008,
  readNoise: 0.0012,
  flicker: 0.008,
  jitterPx: 2.5,
  rollDeg: 0.02,
};

/** One exposure of a focus series. */
export interface Shot {
  readonly focusMm: number;
  readonly gain: number;
  /** Canonical picture px → px of this frame. */
  readonly toFrame: Similarity;
  readonly noiseSeed: number;
}

/**
 * Diameter of the blur disc on the sensor in px of a point at depthMm when focused at focusMm.
 * b = (f/N) · f/(s−f) · |d−s|/d, thin lens, lengths in mm.
 */
export function blurDiameterPx(camera: CameraSettings, depthMm: number, focusMm: number): number {
  const { focalLengthMm: f, fNumber, pixelPitchMm } = camera;
  return ((f / fNumber) * (f / (focusMm - f)) * (Math.abs(depthMm - focusMm) / depthMm)) / pixelPitchMm;
}

/** Image distance v = f·s/(s−f): the picture's scale follows it (breathing of a unit-focusing lens). */
export function imageDistanceMm(camera: CameraSettings, focusMm: number): number {
  return (camera.focalLengthMm * focusMm) / (focusMm - camera.focalLengthMm);
}

/**
 * Plans a series with equal steps in dioptres from near to far.
 * @param count frames, 1 or more
 * @param seed of jitter, roll, flicker and noise
 * @param width, height picture size in px; shifts act about its centre
 */
export function planShots(
  camera: CameraSettings,
  nearMm: number,
  farMm: number,
  count: number,
  seed: number,
  width: number,
  height: number,
): Shot[] {
  const random = makeRandom(seed * 104729 + 5);
  // The canonical picture has the magnification of the nearest focus: all other frames show a little more.
  const vNear = imageDistanceMm(camera, nearMm);
  return Array.from({ length: count }, (_, k) => {
    const t = count === 1 ? 0.5 : k / (count - 1);
    const focusMm = 1 / (1 / nearMm + t * (1 / farMm - 1 / nearMm));
    const [gx, gy] = normalPair(random);
    const [gr, gg] = normalPair(random);
    const scale = imageDistanceMm(camera, focusMm) / vNear;
    const roll = (gr * camera.rollDeg * Math.PI) / 180;
    const re = scale * Math.cos(roll);
    const im = scale * Math.sin(roll);
    const cx = width / 2;
    const cy = height / 2;
    return {
      focusMm,
      gain: 1 + gg * camera.flicker,
      toFrame: {
        re,
        im,
        tx: cx - re * cx + im * cy + gx * camera.jitterPx,
        ty: cy - im * cx - re * cy + gy * camera.jitterPx,
      },
      noiseSeed: Math.floor(between(random, 1, 2 ** 31)),
    };
  });
}
