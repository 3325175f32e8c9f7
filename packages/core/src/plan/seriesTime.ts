// How long a series takes, and what happens meanwhile.

export interface Pace {
  readonly exposureS: number;
  /** Wait before each release, for vibration to die. */
  readonly settleS: number;
  /** Wait after each frame: flash, rail, ring or head. */
  readonly delayS: number;
  /** Wait for the camera's buffer, once. */
  readonly bufferS: number;
}

/** Σ(exposure + delay + settle) + buffer, s. */
export function seriesTimeS(frames: number, pace: Pace): number {
  return frames * (pace.exposureS + pace.delayS + pace.settleS) + pace.bufferS;
}

/** More change of light over a series than this shows as a step in tone. */
export const LIGHT_DRIFT_LIMIT_EV = 0.1;

/** Drift of the light over a series, EV. */
export function lightDriftEv(rateEvPerMin: number, timeS: number): number {
  return (rateEvPerMin * timeS) / 60;
}

/** Bytes of a series as uncompressed 14-bit camera files and as 16-bit RGB TIFF. */
export function seriesBytes(frames: number, pixels: number): { readonly raw: number; readonly tiff: number } {
  return { raw: frames * pixels * (14 / 8), tiff: frames * pixels * 6 };
}
