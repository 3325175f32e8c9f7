// Runs: frames taken one after the other with the camera standing still, and the separators between sets.
import { median } from '../image';
import { foreignPiece, HAND_SHARE, isCovered } from './findSeparator';
import { likenessOutside, makePyramid, relateFrames, type Pyramid, type Relation } from './relateFrames';
import type { SortFrame } from './sortFrame';

export interface Run {
  /** Indices of frames, in shooting order. */
  readonly frames: readonly number[];
  /** Likeness of neighbours, least first; 1 for a single frame. */
  readonly likeness: number;
}

export interface Runs {
  readonly runs: readonly Run[];
  readonly separators: readonly number[];
}

/** A view that moved by less than this share of the frame is the same: a tripod's give, a hand's sway, breathing. */
export const STILL_SHARE = 0.15;
/** The same for frames whose focus was moved between them, by hand close up. */
const SWAY_SHARE = 0.4;
const LEAST_LIKENESS = 0.5;
/** The rest of a view behind a hand is as like as this to the view before. */
const SAME_REST = 0.65;

/** A pause this long ends a set, however steady the camera. */
const PAUSE_S = 25;
const PAUSE_TIMES = 6;

/**
 * Cuts a card into runs.
 * @param order frames in shooting order
 */
export function findRuns(frames: readonly SortFrame[], order: readonly number[]): Runs {
  const pyramids = frames.map((f) => makePyramid(f.summary));
  const separators: number[] = [];
  const runs: { frames: number[]; likeness: number }[] = [];
  let run: { frames: number[]; likeness: number } | null = null;
  for (const [at, k] of order.entries()) {
    const last = run?.frames.at(-1);
    const relation = last === undefined ? null : stillRelation(frames, pyramids, last, k);
    const goesOn = run !== null && relation !== null && !isPause(frames, run.frames, k);
    if (isSeparator(frames, pyramids, goesOn && run ? run.frames : [], k, order[at + 1])) {
      separators.push(k);
      run = null;
      continue;
    }
    if (goesOn && run && relation) {
      run.frames.push(k);
      run.likeness = Math.min(run.likeness, relation.correlation);
      continue;
    }
    run = { frames: [k], likeness: 1 };
    runs.push(run);
  }
  return dropLoneHands(frames, pyramids, order, runs, separators);
}

/**
 * Whether a frame is the hand, or the covered lens, that ends a run.
 * @param run frames of its view before it; empty for none
 */
function isSeparator(
  frames: readonly SortFrame[],
  pyramids: readonly Pyramid[],
  run: readonly number[],
  k: number,
  next: number | undefined,
): boolean {
  if (isCovered(frames[k]!.summary)) return run.length === 0 || sameSettings(frames[run.at(-1)!]!, frames[k]!);
  if (run.length === 0) return false;
  const before = frames[run.at(-1)!]!;
  const share = foreignPiece(frames[k]!.summary, before.summary).share;
  if (share < HAND_SHARE) return false;
  const ends =
    next === undefined || isPause(frames, [...run, k], next) || stillRelation(frames, pyramids, k, next) === null;
  if (!ends) {
    // Within a view a hand comes and goes: what is before and after it is more alike than either to it.
    const after = foreignPiece(frames[next]!.summary, frames[k]!.summary).share;
    const across = foreignPiece(frames[next]!.summary, before.summary).share;
    return across < 0.5 * Math.min(share, after) && sameSettings(before, frames[k]!);
  }
  // Nothing was set anew and yet much of the view is another: something was held before it.
  if (tellsFocusOrExposure(frames[k]!) && run.length > 1) return sameSettings(before, frames[k]!);
  const usual = run.slice(1).map((f, i) => foreignPiece(frames[f]!.summary, frames[run[i]!]!.summary).share);
  return share > 2.5 * Math.max(0.01, ...usual);
}

const related = new WeakMap<Pyramid, WeakMap<Pyramid, Relation>>();

/** Neighbours are asked about several times: their relation is found once. */
function relateOnce(a: Pyramid, b: Pyramid): Relation {
  const known = related.get(a)?.get(b);
  if (known) return known;
  const found = relateFrames(a, b);
  const of = related.get(a) ?? new WeakMap<Pyramid, Relation>();
  of.set(b, found);
  related.set(a, of);
  return found;
}

function focusMoved(a: SortFrame, b: SortFrame): boolean {
  const [p, q] = [a.settings.focusMm, b.settings.focusMm];
  return p !== null && q !== null && Math.abs(Math.log(p / q)) > 0.003;
}

/** Focus and exposure are what they were, as far as the files say. */
function sameSettings(a: SortFrame, b: SortFrame): boolean {
  const [p, q] = [a.settings, b.settings];
  return p.focusMm === q.focusMm && p.exposureS === q.exposureS && p.fNumber === q.fNumber && p.iso === q.iso;
}

function tellsFocusOrExposure({ settings }: SortFrame): boolean {
  return settings.focusMm !== null && settings.exposureS !== null;
}

function stillRelation(
  frames: readonly SortFrame[],
  pyramids: readonly Pyramid[],
  a: number,
  b: number,
): Relation | null {
  if (!sameCamera(frames[a]!, frames[b]!)) return null;
  const relation = relateOnce(pyramids[a]!, pyramids[b]!);
  // Who turns the camera does not turn the focus: where the focus moved, even a large sway is the same view.
  const limit = focusMoved(frames[a]!, frames[b]!) ? SWAY_SHARE : STILL_SHARE;
  const still = Math.abs(relation.dx) < limit && Math.abs(relation.dy) < limit;
  return still && relation.correlation > LEAST_LIKENESS ? relation : null;
}

/** Same size, camera and focal length, as far as the files say. */
export function sameCamera(a: SortFrame, b: SortFrame): boolean {
  const agree = (x: number | null, y: number | null): boolean =>
    x === null || y === null || Math.abs(Math.log(x / y)) < 0.02;
  return (
    a.width === b.width &&
    a.height === b.height &&
    (a.settings.camera === null || b.settings.camera === null || a.settings.camera === b.settings.camera) &&
    agree(a.settings.focalLengthMm, b.settings.focalLengthMm)
  );
}

/** Whether a pause before frame k is long against the pace of the frames before it. */
export function isPause(frames: readonly SortFrame[], before: readonly number[], k: number): boolean {
  const times = [...before, k].map((i) => frames[i]!.settings.takenS);
  if (times.some((t) => t === null)) return false;
  const gaps = times.slice(1).map((t, i) => t! - times[i]!);
  const last = gaps.at(-1)!;
  const usual = gaps.length > 1 ? median(gaps.slice(0, -1)) : 0;
  return last > Math.max(PAUSE_S, PAUSE_TIMES * usual);
}

/**
 * A hand may cover so much that the frame has lost its likeness to the one before: a lone frame whose rest, without the piece
 * that is foreign, still shows the view before it.
 */
function dropLoneHands(
  frames: readonly SortFrame[],
  pyramids: readonly Pyramid[],
  order: readonly number[],
  runs: readonly Run[],
  separators: number[],
): Runs {
  const kept = runs.filter((run, r) => {
    if (run.frames.length > 1) return true;
    const k = run.frames[0]!;
    const before = runs[r - 1]?.frames.at(-1);
    if (before === undefined || order.indexOf(before) !== order.indexOf(k) - 1) return true;
    if (!sameCamera(frames[before]!, frames[k]!)) return true;
    // What goes on in this view or in the one before is no end of it.
    const next = order[order.indexOf(k) + 1];
    const goesOn =
      next !== undefined &&
      !isPause(frames, [k], next) &&
      [k, before].some((f) => stillRelation(frames, pyramids, f, next) !== null);
    if (goesOn) return true;
    const { share, mask } = foreignPiece(frames[k]!.summary, frames[before]!.summary);
    if (share < HAND_SHARE || likenessOutside(pyramids[before]!, pyramids[k]!, mask) < SAME_REST) return true;
    separators.push(k);
    return false;
  });
  return { runs: kept, separators: [...separators].sort((a, b) => order.indexOf(a) - order.indexOf(b)) };
}
