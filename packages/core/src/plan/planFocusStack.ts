// From a subject and a lens to the frames of a focus stack, with what each choice costs.
import { airyDiscMm, closeUpBlurMm, defocusBlurMm, longestExposureS, totalBlurMm } from './blur';
import { recommendFNumber } from './apertures';
import { checkFocusRequest } from './checkFocusRequest';
import { circleOfConfusionMm, pixelPitchMm } from './circleOfConfusion';
import { closeUpDepthMm, sliceAt, type Slice } from './depthOfField';
import type { FocusRequest } from './focusRequest';
import { findGaps, MOST_FRAMES, overlapOf, planFocusSeries, type DepthGap, type DepthRange } from './planFocusSeries';
import { judgeSingleFrame, type SingleFrame } from './judgeSingleFrame';
import { planRailSeries, railSlices } from './planRailSeries';
import { hasErrors, type FieldProblem } from './problem';
import { lightDriftEv, seriesBytes, seriesTimeS } from './seriesTime';
import { breathing, effectiveFNumber, extendedMagnification, magnificationAt } from './thinLens';

/** One way to shoot the stack. */
export interface FocusSchool {
  readonly fNumber: number;
  readonly frames: number;
  readonly timeS: number;
  /** Blur in all at the worst place between slices, px. */
  readonly worstBlurPx: number;
  /** Blur in all in the plane of focus: what diffraction and the pixel leave, px. */
  readonly bestBlurPx: number;
}

export interface FocusStackPlan {
  readonly cocMm: number;
  readonly pitchMm: number;
  /** In depth order, near → far. */
  readonly slices: readonly Slice[];
  readonly gaps: readonly DepthGap[];
  readonly range: DepthRange;
  /** Smallest overlap of neighbours, share; negative where there is a gap; null for one frame. */
  readonly leastOverlap: number | null;
  readonly magnification: number;
  readonly chosen: FocusSchool;
  /** The lens's sharpest aperture with more frames; stopped down with fewer. */
  readonly schools: { readonly sharpest: FocusSchool | null; readonly stoppedDown: FocusSchool | null };
  readonly recommendedFNumber: number;
  /** Null for a rail, where the magnification stays. */
  readonly single: SingleFrame | null;
  /** Change of scale over the series and the share of a side that cropping will cost. */
  readonly breathing: { readonly scale: number; readonly margin: number };
  readonly rail: { readonly stepMm: number; readonly travelMm: number } | null;
  readonly timeS: number;
  readonly driftEv: number;
  /** Longest exposure that keeps what moves within its limit; Infinity when nothing does. */
  readonly longestExposureS: number;
  readonly bytes: { readonly raw: number; readonly tiff: number };
}

export interface FocusAnswer {
  readonly problems: readonly FieldProblem[];
  /** Null as long as a problem is an error. */
  readonly plan: FocusStackPlan | null;
}

/** Plans a stack; never throws for what a person can type: problems name the field. */
export function planFocusStack(request: FocusRequest): FocusAnswer {
  const gathered = checkFocusRequest(request);
  if (hasErrors(gathered.problems)) return { problems: gathered.problems, plan: null };
  const slices = slicesOf(request, request.fNumber);
  if (!slices) {
    gathered.error(
      request.drive === 'rail' ? 'depthMm' : 'overlap',
      `This takes more than ${MOST_FRAMES} frames. Up to ${MOST_FRAMES} are accepted: stop down, overlap less, accept more blur or leave depth out.`,
    );
    return { problems: gathered.problems, plan: null };
  }
  const plan = describe(request, slices);
  if (plan.driftEv > 0.1)
    gathered.warn(
      'lightDriftEvPerMin',
      `The light changes by ${plan.driftEv.toFixed(2)} EV over the series: more than 0.1 EV shows as a step in tone. Shoot faster, or wait for steady light.`,
    );
  if (plan.longestExposureS < request.exposureS)
    gathered.warn('exposureS', 'Longer than what moves allows: it will blur or show twice.');
  if (slices.length >= 200)
    gathered.warn('overlap', `${slices.length} frames: check card, battery and light before you start.`);
  if (plan.gaps.length > 0)
    gathered.warn(
      'focusMm',
      `${plan.gaps.length} ${plan.gaps.length === 1 ? 'part' : 'parts'} of the subject would be sharp in no frame.`,
    );
  return { problems: gathered.problems, plan };
}

/**
 * Blur in all at a depth of the subject in the best slice there, px.
 * @param depthMm distance, or depth in the subject for a rail
 */
export function blurAtPx(request: FocusRequest, slices: readonly Slice[], depthMm: number): number {
  const pitch = pixelPitchMm(request.camera);
  let least = Infinity;
  for (const { focusMm } of slices) least = Math.min(least, defocusOf(request, focusMm, depthMm));
  return totalBlurMm(least, airyDiscMm(effectiveOf(request, request.fNumber)), pitch) / pitch;
}

/** Magnification of the nearest point, with tubes. */
export function magnificationOf({ drive, lens, magnification, nearestMm, extensionMm }: FocusRequest): number {
  const plain = drive === 'rail' ? magnification : magnificationAt(lens.focalLengthMm, nearestMm);
  return drive === 'rail' ? extendedMagnification(plain, extensionMm, lens.focalLengthMm) : plain;
}

function effectiveOf(request: FocusRequest, fNumber: number): number {
  return effectiveFNumber(fNumber, magnificationOf(request), request.lens.pupilMagnification);
}

function defocusOf(request: FocusRequest, focusMm: number, depthMm: number): number {
  const { drive, lens, fNumber } = request;
  if (drive === 'rail')
    return closeUpBlurMm(fNumber, magnificationOf(request), depthMm - focusMm, lens.pupilMagnification);
  return defocusBlurMm(lens.focalLengthMm, fNumber, focusMm, depthMm);
}

function rangeOf({ drive, depthMm, nearestMm, farthestMm }: FocusRequest): DepthRange {
  return drive === 'rail' ? { nearestMm: 0, farthestMm: depthMm } : { nearestMm, farthestMm: farthestMm ?? Infinity };
}

function slicesOf(request: FocusRequest, fNumber: number): readonly Slice[] | null {
  const { camera, lens, drive, overlap, spare, depthMm } = request;
  const cocMm = circleOfConfusionMm(camera, request.accepted);
  if (drive === 'rail') {
    const depth = closeUpDepthMm(fNumber, cocMm, magnificationOf(request), lens.pupilMagnification);
    const series = planRailSeries(depthMm, depth, overlap);
    return series.frames + 2 * spare > MOST_FRAMES ? null : railSlices(series, depth, spare);
  }
  const optics = { focalLengthMm: lens.focalLengthMm, fNumber, cocMm };
  if (request.focusMm && fNumber === request.fNumber)
    return request.focusMm.map((mm) => sliceAt(optics, mm ?? Infinity)).sort((a, b) => a.focusMm - b.focusMm);
  return planFocusSeries(optics, rangeOf(request), overlap, spare);
}

function schoolOf(request: FocusRequest, fNumber: number): FocusSchool | null {
  const slices = slicesOf(request, fNumber);
  if (!slices) return null;
  const at = { ...request, fNumber, focusMm: fNumber === request.fNumber ? request.focusMm : null };
  const range = rangeOf(request);
  const pitch = pixelPitchMm(request.camera);
  const inside = slices
    .flatMap((s) => [s.nearMm, s.farMm])
    .filter((d) => d >= range.nearestMm && d <= range.farthestMm);
  const ends = [range.nearestMm, range.farthestMm, ...inside, ...between(slices, range)];
  return {
    fNumber,
    frames: slices.length,
    timeS: seriesTimeS(slices.length, request),
    worstBlurPx: Math.max(...ends.map((d) => blurAtPx(at, slices, d))),
    bestBlurPx: totalBlurMm(0, airyDiscMm(effectiveOf(request, fNumber)), pitch) / pitch,
  };
}

/** Points between neighbouring slices that both show equally blurred: half way in dioptres. */
function between(slices: readonly Slice[], { nearestMm, farthestMm }: DepthRange): number[] {
  return slices
    .slice(1)
    .map(({ focusMm }, k) => {
      const before = slices[k]!.focusMm;
      return nearestMm === 0 ? (before + focusMm) / 2 : 2 / (1 / before + 1 / focusMm);
    })
    .filter((d) => d > nearestMm && d < farthestMm);
}

function describe(request: FocusRequest, slices: readonly Slice[]): FocusStackPlan {
  const { camera, lens, drive } = request;
  const cocMm = circleOfConfusionMm(camera, request.accepted);
  const pitchMm = pixelPitchMm(camera);
  const range = rangeOf(request);
  const magnification = magnificationOf(request);
  const chosen = schoolOf(request, request.fNumber)!;
  const overlaps = slices
    .slice(1)
    .map((s, k) => (drive === 'rail' ? railOverlap(slices[k]!, s) : overlapOf(slices[k]!, s)));
  const rail = drive === 'rail' ? railOf(slices) : null;
  // Working distance of the thin lens: what lies nearer by the travel is drawn larger by that share.
  const workingMm = lens.focalLengthMm * (1 + 1 / magnification);
  return {
    cocMm,
    pitchMm,
    slices,
    gaps: findGaps(slices, range),
    range,
    leastOverlap: overlaps.length === 0 ? null : Math.min(...overlaps),
    magnification,
    chosen,
    schools: {
      sharpest: schoolOf(request, lens.sharpestFNumber),
      stoppedDown: schoolOf(request, stoppedDown(request)),
    },
    recommendedFNumber: recommendFNumber(cocMm, magnification, lens.pupilMagnification, lens),
    single:
      drive === 'rail'
        ? null
        : judgeSingleFrame(
            { focalLengthMm: lens.focalLengthMm, fNumber: request.fNumber, cocMm },
            range,
            airyDiscMm(effectiveOf(request, request.fNumber)),
            pitchMm,
          ),
    breathing: rail
      ? { scale: workingMm / (workingMm - rail.travelMm), margin: rail.travelMm / workingMm }
      : breathing(lens.focalLengthMm, slices[0]!.focusMm, slices.at(-1)!.focusMm),
    rail,
    timeS: chosen.timeS,
    driftEv: Math.abs(lightDriftEv(request.lightDriftEvPerMin, chosen.timeS)),
    longestExposureS: longestExposureS(
      {
        speedMmPerS: request.motionMmPerS,
        distanceMm: drive === 'rail' ? workingMm : range.nearestMm,
        focalLengthMm: lens.focalLengthMm,
        pixelPitchMm: pitchMm,
      },
      request.motionLimitPx,
    ),
    bytes: seriesBytes(slices.length, camera.pixelsWide * camera.pixelsHigh),
  };
}

/** School B: f/11, or a stop past the sharpest aperture where that lies there already; never beyond the lens. */
function stoppedDown({ lens }: FocusRequest): number {
  const wanted = lens.sharpestFNumber < 11 ? 11 : lens.sharpestFNumber * Math.SQRT2;
  return Math.min(lens.smallestFNumber, wanted);
}

function railOverlap(nearer: Slice, farther: Slice): number {
  return (nearer.farMm - farther.nearMm) / (nearer.farMm - nearer.nearMm);
}

function railOf(slices: readonly Slice[]): { stepMm: number; travelMm: number } {
  const travelMm = slices.at(-1)!.focusMm - slices[0]!.focusMm;
  return { stepMm: slices.length > 1 ? travelMm / (slices.length - 1) : 0, travelMm };
}
