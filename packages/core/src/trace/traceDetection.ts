// From a detection to the frames behind it.
import { sharpestFrames, type CellStack } from '../cells';
import { CELL_PX } from '../kernels';
import { makeSpillFinder, type NearSide } from '../defocus';
import { detectorOf, nearEndIn, scaledMeasurements, type Detection, type Yardsticks } from '../inspect';
import { noticeableSteps, ON_SCREEN, SEEN, visibilityOf, type Sight } from '../print';
import { explainCells } from '../provenance';
import { otherMoments } from './otherMoments';
import { sightOf, type Departure } from './sightOf';

/** What one frame shows at a finding. */
export interface FrameMeasure {
  /** Detail energy relative to the sharpest frame's, 0..1 (square root: amplitude). */
  readonly sharpness: number;
  /** RMS difference from the merge, encoded units. */
  readonly difference: number;
  /** Predicted RMS error if this frame were shown: lost detail and spread light, encoded units. */
  readonly predictedError: number;
  /** Share of the finding the frame covers, 0..1. */
  readonly coverage: number;
  /** Share of the finding's cells the merge took from it, 0..1. */
  readonly shownShare: number;
}

export interface TracedFinding {
  readonly frames: readonly FrameMeasure[];
  /** Frame to repair from; null when none helps. */
  readonly donor: number | null;
  /** How many times the donor's detail exceeds the merge's (amplitude). */
  readonly gain: number;
  readonly repairable: boolean;
  readonly cause: string;
  /** 0..100. */
  readonly severity: number;
  /** What decides that, for other ways of looking. */
  readonly sight: Sight;
  /** False where what spoke for a defect turned out to speak for nothing. */
  readonly isReal: boolean;
  /** Whether it is real and seen on a screen at full size: a place without texture loses nothing to a focus gap. */
  readonly isVisible: boolean;
}

/** A donor covers so much of what it is to repair. */
export const MIN_COVERAGE = 0.9;
/** A donor worth its name has an eighth more detail than the merge, as an amplitude. */
const LEAST_GAIN = 1.125;
/** A frame that shows less than this of the merge's detail has to be sharp beside the place, where the near thing is, to have less of its light. */
const LEAST_SPILL_GAIN = 0.6;
/** One that shows less than this of it shows the place itself out of focus, whatever it is beside it. */
const SPILL_GAIN_FLOOR = 0.35;
/** It is where its detail is so many times the merge's, as energy, in so many cells for each of the finding's. */
const [SHARPER, SHARPER_CELLS] = [1.6, 0.05];
/** Then it also has to leave no more than this of the error of what is shown. */
const MOST_SPILL_LEFT = 0.7;
/** Squared error of a place that is clipped: a tenth of full scale and more. */
const CLIPPED_SQUARED = 0.01;

/**
 * Traces a detection.
 * @param detection in working px and cells
 * @param stack cells around the detection (margin of 8 cells or more where the picture allows)
 * @param gridWidth width of the whole picture's working grid, in which the detection's cells are counted
 * @param yardsticks of the picture, by layer
 * @param frameNames for the words of the cause, in order
 */
export function traceDetection(
  detection: Detection,
  stack: CellStack,
  gridWidth: number,
  yardsticks: Yardsticks,
  frameNames: readonly string[],
): TracedFinding {
  const cells = localCells(detection, stack, gridWidth);
  const detector = detectorOf(detection.defect);
  const best = sharpestFrames(stack);
  // A bracket's halo is no spread light: there detail tells.
  const nearSide = detector.donorBy === 'spill' ? nearEndIn(yardsticks) : null;
  const byMoment = detector.donorBy === 'moment' ? errorsOfMoments(stack, cells) : [];
  // What the merge shows whole already mends nothing: then detail tells, as anywhere.
  const isMixed = byMoment.length > 0 && Math.min(...byMoment) > SHOWN_WHOLE * OTHER_THING;
  const errors = isMixed ? byMoment : predictErrors(stack, cells, best, nearSide);
  const sharp = stack.frames.map((f) => mean(cells, (i) => f.middle[i]!));
  const top = Math.max(...sharp, 1e-12);
  const shown = shownShares(explainCells(stack).closest, cells, stack.frames.length);
  const frames = stack.frames.map((f, k): FrameMeasure => ({
    sharpness: Math.sqrt(sharp[k]! / top),
    difference: Math.sqrt(mean(cells, (i) => f.residual[i]!)),
    predictedError: Math.sqrt(errors[k]!),
    coverage: mean(cells, (i) => f.valid[i]!),
    shownShare: shown[k]!,
  }));
  // Beside a near edge frames differ by the light it spreads: there that is looked at instead.
  const moments = detector.donorBy === 'detail' ? otherMoments(stack, cells) : frames.map(() => false);
  const mergeDetail = stack.merge ? mean(cells, (i) => stack.merge!.middle[i]!) : 0;
  const gainOf = (k: number): number => (k < 0 ? 1 : Math.sqrt((sharp[k]! + 1e-9) / (mergeDetail + 1e-9)));
  const able = frames
    .map((_, k) => k)
    .filter((k) => frames[k]!.coverage >= MIN_COVERAGE && !detection.shownBy?.includes(k) && !moments[k])
    .sort((a, b) => frames[a]!.predictedError - frames[b]!.predictedError);
  const shownError = frames.reduce((best, f) => (f.shownShare > best.shownShare ? f : best)).predictedError;
  // Least spill is not enough: a frame that is soft all around has no near thing in focus, and shows nothing better.
  const sound = (k: number): boolean => {
    const isDetailed = gainOf(k) >= LEAST_SPILL_GAIN;
    if (k === able[0] && isDetailed) return true;
    return (
      gainOf(k) >= SPILL_GAIN_FLOOR &&
      frames[k]!.predictedError <= MOST_SPILL_LEFT * shownError &&
      (isDetailed || showsMoreBeside(stack, cells, k))
    );
  };
  const inParts = detector.mendsInParts && able.length === 0 ? mostCovering(stack, cells) : -1;
  const donor = (nearSide === null ? able[0] : (able.find(sound) ?? able[0])) ?? inParts;
  const nameOf = (k: number): string => frameNames[k] ?? `frame ${k + 1}`;
  const gain = gainOf(donor);
  const hasDonor = detector.donorBy !== null && donor >= 0 && !detection.noFrameHasIt;
  const repairable = hasDonor || (detector.fillsFromAround ?? false);
  // No frame that could repair it is sharper than the merge: what spoke for it was another moment, or the way in which tones were flattened.
  const isNoLoss = detection.defect === 'soft-patch' && (donor >= 0 || moments.includes(true)) && gain < LEAST_GAIN;
  const isNoSpill = nearSide !== null && hasDonor && !sound(donor);
  const source = hasDonor ? stack.frames[donor]! : null;
  const sight = sightOf(stack, cells, departureOf(detection, source, frames[donor]?.difference ?? 0, top));
  const isEnough = repairable || lostToBlur(detection, top) >= (detector.leastChange ?? 0);
  const severity = Math.round(visibilityOf(noticeableSteps(sight, ON_SCREEN)));
  return {
    frames,
    donor: hasDonor ? donor : null,
    gain,
    repairable,
    cause: detector.cause({
      measurements: scaledMeasurements(detection.measurements, stack.unitPx),
      shown: nameOf(frames.reduce((k, f, i) => (f.shownShare > frames[k]!.shownShare ? i : k), 0)),
      donor: hasDonor ? nameOf(donor) : '',
      frames: frameNames,
    }),
    severity,
    sight,
    isReal: !isNoLoss && !isNoSpill,
    isVisible: !isNoLoss && !isNoSpill && isEnough && severity >= SEEN,
  };
}

/** How the merge differs from what should be there: as the detector says, else from the donor, else by what blur takes. */
function departureOf(
  detection: Detection,
  donor: CellStack['frames'][number] | null,
  difference: number,
  sharpestMiddle: number,
): Departure {
  const { defect, rms } = detection;
  if (rms !== undefined) return detectorOf(defect).isOfTone ? { step: rms } : { structure: rms };
  return donor ? { from: donor, rms: difference } : { structure: lostToBlur(detection, sharpestMiddle) };
}

function lostToBlur(detection: Detection, sharpestMiddle: number): number {
  // What a focus gap takes away cannot be compared with a frame: from blur and the detail that is left.
  const blur = detection.measurements['unresolvedBlur']?.value ?? 0.6;
  return Math.sqrt(sharpestMiddle) * Math.min(3, Math.expm1(blur * blur * 1.2));
}

function localCells(detection: Detection, stack: CellStack, gridWidth: number): number[] {
  const x0 = stack.region.x / CELL_PX;
  const y0 = stack.region.y / CELL_PX;
  return detection.cells.flatMap((i) => {
    const x = (i % gridWidth) - x0;
    const y = Math.floor(i / gridWidth) - y0;
    return x >= 0 && y >= 0 && x < stack.width && y < stack.height ? [y * stack.width + x] : [];
  });
}

function mean(cells: readonly number[], value: (cell: number) => number): number {
  return cells.length === 0 ? 0 : cells.reduce((s, i) => s + value(i), 0) / cells.length;
}

/**
 * Whether a frame shows more detail than the merge somewhere around a finding. Beside a near edge the frame that spreads least light is
 * focused on the near thing; one that is soft all around only shows the place itself out of focus.
 */
function showsMoreBeside(
  { frames, merge, width, height }: CellStack,
  cells: readonly number[],
  donor: number,
): boolean {
  if (!merge) return true;
  const usual = mean(cells, (i) => merge.middle[i]!);
  const theirs = frames[donor]!.middle;
  let sharper = 0;
  for (let i = 0; i < width * height; i++)
    if (theirs[i]! > 0.25 * usual && theirs[i]! > SHARPER * merge.middle[i]!) sharper += 1;
  return sharper >= SHARPER_CELLS * cells.length;
}

/** Of frames that only together cover cells, the one that covers most of them; −1 where they do not. */
function mostCovering({ frames }: CellStack, cells: readonly number[]): number {
  if (mean(cells, (i) => (frames.some((f) => f.valid[i]) ? 1 : 0)) < MIN_COVERAGE) return -1;
  const covered = frames.map((f) => mean(cells, (i) => f.valid[i]!));
  return covered.indexOf(Math.max(...covered));
}

function shownShares(closest: Uint8Array, cells: readonly number[], count: number): number[] {
  const counts = new Array<number>(count).fill(0);
  for (const i of cells) counts[closest[i]!]!++;
  return counts.map((c) => c / Math.max(1, cells.length));
}

/** Mean squared error per frame: detail lost against the sharpest frame of each cell, or light spread from near edges. */
function predictErrors(
  stack: CellStack,
  cells: readonly number[],
  best: Uint8Array,
  nearSide: NearSide | null,
): number[] {
  if (nearSide) {
    const finder = makeSpillFinder(stack, best);
    const spills = cells.flatMap((i) => finder.inMerge(i, nearSide) ?? []);
    if (spills.length > 0) {
      return stack.frames.map((_, k) => spills.reduce((s, g) => s + g.errorOf(k), 0) / spills.length);
    }
  }
  return stack.frames.map((frame) =>
    mean(cells, (i) => {
      const top = detail(stack.frames[best[i]!]!, i);
      // A frame that is clipped there shows nothing of it, whatever its noise looks like.
      const blind = frame.valid[i] && frame.relation && !frame.relation.telling[i];
      return blind ? top + CLIPPED_SQUARED : Math.max(0, top - detail(frame, i));
    }),
  );
}

/** What differs by more than this, squared, is another thing: how much does not matter. */
const OTHER_THING = 0.01;
/** A frame is shown whole that differs in less than this share of a place. */
const SHOWN_WHOLE = 0.05;
/** In whatever tone, a place is another thing where the merge is so many times as far from a frame as noise and resampling leave. */
const OTHER_MISFIT = 12;

/**
 * Mean squared error per frame where the whole of a moving thing is to be as one frame shows it: by how much that changes what the merge
 * shows already, so that least is changed beside what is wrong.
 */
function errorsOfMoments({ frames }: CellStack, cells: readonly number[]): number[] {
  return frames.map(({ residual, valid, relation }) =>
    mean(cells, (i) => {
      if (!relation) return Math.min(OTHER_THING, residual[i]!);
      if (relation.telling[i]) return OTHER_THING * Math.min(1, relation.misfit[i]! / OTHER_MISFIT);
      return valid[i] ? OTHER_THING + CLIPPED_SQUARED : OTHER_THING;
    }),
  );
}

function detail(frame: CellStack['frames'][number], cell: number): number {
  return frame.fine[cell]! + frame.middle[cell]! + frame.coarse[cell]!;
}
