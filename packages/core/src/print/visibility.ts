// How plainly a difference shows: its contrast against what the eye sees at the size and distance at which the picture is looked at.
import { badParameter } from '../checks';
import { contrastSensitivity } from './contrastSensitivity';

/** Part of a difference, about an octave wide. */
export interface SightBand {
  readonly cyclesPerPx: number;
  /** RMS of the difference in this band, encoded 0..1. */
  readonly rms: number;
  /** RMS of what the picture itself shows there: strong texture hides faint differences. */
  readonly mask: number;
}

/** What of a place decides how plainly it shows; kept with a finding, so that it can be asked about any way of looking. */
export interface Sight {
  readonly bands: readonly SightBand[];
  /** Mean luma of the place, encoded 0..1. */
  readonly luma: number;
  /** Side of a square of the same area, px. */
  readonly sizePx: number;
  /** Difference of the mean colours, ΔE00. */
  readonly colour: number;
}

/** How a picture is looked at. */
export interface Viewing {
  /** Size of one of its px where it is looked at, mm. */
  readonly pitchMm: number;
  readonly distanceMm: number;
}

/** At full size on a screen. */
export const ON_SCREEN: Viewing = { pitchMm: 0.25, distanceMm: 600 };

/** Light that surface and room lay over everything, as a share of white. */
const VEIL = 0.01;
/** Thresholds rise with the contrast of what lies over them, to this power (Legge and Foley, J. Opt. Soc. Am. 70, 1980: 0.6 to 0.7). */
const MASKING = 0.65;
/** Summation over bands (Minkowski; Watson 1979 gives 3.5 for probability summation). */
const SUMMATION = 3.5;
/** ΔE00 of mean colours that is just seen side by side. */
const SEEN_DIFFERENCE = 1;
/** A place is no larger to the eye than it can take in at once, degrees. */
const WIDEST_DEG = 10;

const DEG_PER_RAD = 180 / Math.PI;

/**
 * Just noticeable steps by which a place differs from what it should be; 1 is seen half of the time by who looks there.
 * @throws ParameterError for a pitch or distance that is not above 0
 */
export function noticeableSteps({ bands, luma, sizePx, colour }: Sight, { pitchMm, distanceMm }: Viewing): number {
  for (const [name, value] of Object.entries({ pitchMm, distanceMm }))
    if (!(value > 0)) throw badParameter(`noticeableSteps.viewing.${name}`, 'more than 0 mm', value);
  const pxDeg = Math.atan(pitchMm / distanceMm) * DEG_PER_RAD;
  const fieldDeg = Math.min(WIDEST_DEG, Math.max(sizePx, 1) * pxDeg);
  const perEncoded = contrastPerEncoded(luma);
  const seen = bands.map(({ cyclesPerPx, rms, mask }) => {
    // An RMS is that of a grating of √2 times its amplitude.
    const sensitivity = Math.SQRT2 * contrastSensitivity(cyclesPerPx / pxDeg, 100, fieldDeg);
    const masked = Math.max(1, sensitivity * perEncoded * mask) ** MASKING;
    return (sensitivity * perEncoded * rms) / masked;
  });
  // Colours are compared over places that are not too small: there ΔE00 tells, which is about large fields.
  const flat = (colour / SEEN_DIFFERENCE) * Math.min(1, fieldDeg);
  return [...seen, flat].reduce((sum, s) => sum + s ** SUMMATION, 0) ** (1 / SUMMATION);
}

/** Steps at which a place is seen, plain, and spoils the picture; and what they are as a visibility of 0 to 100. */
const SCALE = [
  [0, 0],
  [1, 20],
  [4, 50],
  [12, 100],
] as const;

/** Visibility from which a place is seen at all. */
export const SEEN = SCALE[1][1];

/** Just noticeable steps as a visibility of 0 to 100: 20 is seen, 50 plain, 100 spoils the picture. */
export function visibilityOf(steps: number): number {
  for (let k = 1; k < SCALE.length; k++) {
    const [[from, low], [to, high]] = [SCALE[k - 1]!, SCALE[k]!];
    if (steps >= to) continue;
    // By ratio, as the eye takes it, but for what is below the first step.
    const share = from === 0 ? steps / to : Math.log(steps / from) / Math.log(to / from);
    return low + share * (high - low);
  }
  return 100;
}

/** Visibility of a place as it is looked at, 0 to 100. */
export function visibilityIn(sight: Sight, viewing: Viewing): number {
  return visibilityOf(noticeableSteps(sight, viewing));
}

/** Farthest that anybody stands from a print, and nearest that eyes see sharp, mm. */
const [FARTHEST_MM, NEAREST_MM] = [100_000, 200];

/**
 * The farthest distance from which a place shows, mm; 0 when it does not show from near either.
 * @param pitchMm size of a px where it is looked at
 */
export function farthestSeen(sight: Sight, pitchMm: number): number {
  const isSeen = (distanceMm: number): boolean => noticeableSteps(sight, { pitchMm, distanceMm }) >= 1;
  // Coarse things are lost from near, too: the farthest of all distances is looked for from afar.
  let far = FARTHEST_MM;
  if (isSeen(far)) return far;
  while (far > NEAREST_MM && !isSeen(far)) far /= 1.25;
  if (far <= NEAREST_MM) return isSeen(NEAREST_MM) ? NEAREST_MM : 0;
  let [near, beyond] = [far, far * 1.25];
  while (beyond - near > 0.005 * near) {
    const middle = (near + beyond) / 2;
    if (isSeen(middle)) near = middle;
    else beyond = middle;
  }
  return near;
}

/** Contrast that a small encoded change makes, as luminance over luminance (sRGB, with the veil of surface and room). */
function contrastPerEncoded(luma: number): number {
  const v = Math.min(1, Math.max(0, luma));
  const [light, slope] =
    v <= 0.04045
      ? [v / 12.92, 1 / 12.92]
      : [((v + 0.055) / 1.055) ** 2.4, (2.4 / 1.055) * ((v + 0.055) / 1.055) ** 1.4];
  return slope / (light + VEIL);
}
