// Faults that a merge of the set has without anyone seeding them, because the frames have them or leave no choice.
import { castRow, makeRayRow, projectPoint, projectRay } from '../optics/view';
import type { Vec3 } from '../optics/pose';
import { CELL, forNear, groups } from './cells';
import { covering, NEAR_MM } from './draft';
import { isPlain, MIN_CELLS, visibleRms, VISIBLE_RMS, type Defect, type Fault } from './fault';
import { shotOf } from './placeFrame';
import { cellBlurPx, type Survey } from './survey';

/** Radius in px of the least blur from which a slice counts as missing. */
const GAP_BLUR_PX = 1.4;
const BROKEN_PX = 1.5;
/** Parts of one fault lie at most this many cells apart. */
const JOIN_CELLS = 6;

/** What every merge of the set shows, and cells whose error no frame can mend. */
export interface NaturalFaults {
  readonly faults: readonly Fault[];
  /** Glow beside near edges and slices never shot: what no frame shows as it should be. */
  readonly unavoidable: Uint8Array;
  /** Really there, but too little to be asked for. */
  readonly faint: Uint8Array;
}

/** Share of light that a speck takes to be seen. */
const VISIBLE_SPECK = 0.04;

/** Radius in px from which a cell that is sharp in no frame counts as blurred at all. */
const FAINT_BLUR_PX = 1.1;

/**
 * @param survey of the frames at hand
 * @param full of all frames that were shot, those left out included
 * @param labels of the merge
 * @param taken cells in which seeded faults lie
 */
export function naturalFaults(survey: Survey, full: Survey, labels: Uint8Array, taken: Uint8Array): NaturalFaults {
  const { errors, covers, grid } = survey;
  const n = labels.length;
  const unavoidable = new Uint8Array(n);
  const mask = (test: (cell: number) => boolean): Uint8Array =>
    Uint8Array.from({ length: n }, (_, c) => (test(c) ? 1 : 0));
  const least = (s: Survey, c: number): number =>
    s.errors.reduce((best, e, k) => (s.covers[k]![c] ? Math.min(best, e[c]!) : best), Infinity);
  const leastOf = Float32Array.from({ length: n }, (_, c) => least(survey, c));
  const sharp = sharpError(survey, leastOf);
  for (let c = 0; c < n; c++) if (isStack(survey) && leastOf[c]! - sharp(c) > VISIBLE_RMS ** 2) unavoidable[c] = 1;
  // Whoever takes a moving thing whole takes what is around it as soft as it is there.
  const near = nearMoving(survey);
  const isSofter = (c: number): boolean => near[c] === 1 && errors[labels[c]!]![c]! - leastOf[c]! > VISIBLE_RMS ** 2;
  const faint = mask(
    (c) => isStack(survey) && (isSofter(c) || errors.every((_, k) => cellBlurPx(survey, k, c) > FAINT_BLUR_PX)),
  );
  if (survey.plan.kind === 'panorama') {
    markDisagreement(survey, labels, sharp, faint);
    markWorse(survey, labels, sharp, faint);
  }
  const found = (defect: Defect, cells: number[], repairable: boolean, rms: (c: number) => number): Fault => {
    const meanRms = cells.reduce((s, c) => s + rms(c), 0) / cells.length;
    const donors = repairable ? covering(survey, cells).filter((k) => isFree(survey, defect, k, cells)) : [];
    const shown = [...new Set(cells.map((c) => labels[c]!))];
    const plain = isPlain(defect, meanRms);
    return {
      defect,
      cells,
      shown,
      donors,
      donorOptional: true,
      repairable,
      plain,
      meanRms,
      natural: true,
      moments: [],
    };
  };
  const faults: Fault[] = [];
  const add = (
    defect: Defect,
    marked: Uint8Array,
    smallest: number,
    repairable: boolean,
    rms: (c: number) => number,
  ): void => {
    for (const cells of groups(marked, grid, JOIN_CELLS)) {
      if (cells.length >= smallest) faults.push(found(defect, cells, repairable, rms));
    }
  };
  const lost = (c: number): number => Math.sqrt(Math.max(0, least(survey, c) - least(full, c)));
  if (isStack(survey)) {
    const gap = mask((c) => {
      if (taken[c] || lost(c) ** 2 <= VISIBLE_RMS ** 2 * 0.5) return false;
      return errors.every((_, k) => cellBlurPx(survey, k, c) > GAP_BLUR_PX);
    });
    add('focus-gap', gap, MIN_CELLS * 3, false, lost);
  }
  const labelError = (c: number): number => Math.sqrt(errors[labels[c]!]![c]!);
  add(
    'border',
    mask((c) => covers.every((k) => !k[c])),
    MIN_CELLS,
    false,
    () => 0.2,
  );
  // A highlight that one exposure burns is a choice; what no exposure of a bracket holds is a fault.
  if (survey.plan.kind === 'bracket')
    add(
      'clipping',
      mask((c) => survey.clippedEverywhere[c]! > 0.5),
      MIN_CELLS,
      false,
      () => 0.1,
    );
  add(
    'fringe',
    mask((c) => survey.fringe[c]! > VISIBLE_RMS && !taken[c]),
    MIN_CELLS,
    true,
    (c) => survey.fringe[c]!,
  );
  const speck = (c: number): boolean =>
    survey.dust[labels[c]!]![c]! > VISIBLE_SPECK && labelError(c) > visibleRms('dust');
  // Specks that are too small to be asked for are there all the same.
  for (let c = 0; c < n; c++) if (survey.dust[labels[c]!]![c]! > VISIBLE_SPECK && !taken[c]) faint[c] = 1;
  add(
    'dust',
    mask((c) => speck(c) && !taken[c]),
    4,
    true,
    labelError,
  );
  add(
    'misalignment',
    mask((c) => !taken[c] && isBroken(survey, labels, c)),
    MIN_CELLS / 2,
    true,
    () => VISIBLE_RMS * 3,
  );
  return { faults, unavoidable, faint };
}

/** Frames meet within so many cells of a border between them, and what breaks there is seen a little farther. */
const [AT_BORDER, AROUND_BREAK] = [2, 2];

/**
 * Marks where the frames on both sides of a border show visibly different things: parallax doubles or breaks thin things there, which no
 * single ray through a cell tells.
 */
function markDisagreement(
  { errors, covers, grid }: Survey,
  labels: Uint8Array,
  sharp: (cell: number) => number,
  faint: Uint8Array,
): void {
  for (let c = 0; c < labels.length; c++) {
    const shown = new Set<number>();
    forNear(grid, c, AT_BORDER, (near) => shown.add(labels[near]!));
    if (shown.size < 2) continue;
    const there = [...shown].filter((k) => covers[k]?.[c]);
    const worst = Math.max(0, ...there.map((k) => errors[k]![c]!));
    if (worst - sharp(c) > VISIBLE_RMS ** 2) forNear(grid, c, AROUND_BREAK, (near) => (faint[near] = 1));
  }
}

/**
 * Marks where the shown frame by itself is visibly worse than a sharp one: soft towards its corners, coloured at edges by its lens. A careful
 * merge shows that, too, and whoever says so is not wrong.
 */
function markWorse(
  { errors, covers }: Survey,
  labels: Uint8Array,
  sharp: (cell: number) => number,
  faint: Uint8Array,
): void {
  for (let c = 0; c < labels.length; c++) {
    const shown = labels[c]!;
    if (covers[shown]?.[c] && errors[shown]![c]! - sharp(c) > VISIBLE_RMS ** 2) faint[c] = 1;
  }
}

/** Cells where something moves in some frame, and those around them. */
function nearMoving({ moving, grid }: Survey): Uint8Array {
  const out = new Uint8Array(grid.width * grid.height);
  for (const cover of moving)
    cover.forEach((v, c) => {
      if (v > MOVES) forNear(grid, c, AROUND_MOVING, (near) => (out[near] = 1));
    });
  return out;
}

/** Share of a cell that a moving thing covers to count, and cells around it that come from the same frame. */
const MOVES = 0.04;
const AROUND_MOVING = 3;

function isStack({ plan }: Survey): boolean {
  return plan.kind === 'focus-stack';
}

/** A frame is a donor for dust where its own specks are not; for the rest any frame will do as well as the shown one. */
function isFree(survey: Survey, defect: Defect, frame: number, cells: readonly number[]): boolean {
  return defect === 'dust' ? cells.every((c) => survey.dust[frame]![c]! < 0.01) : defect !== 'fringe';
}

const LEVELS = 24;

/**
 * Error that even a sharp frame has against the ideal: noise, compression, and the loss of resampling, which grows with the
 * detail of the place. The median of the best frame's error among cells of like detail, since most cells are sharp in some
 * frame.
 */
function sharpError({ detail }: Survey, least: Float32Array): (cell: number) => number {
  const levelOf = (c: number): number =>
    Math.min(LEVELS - 1, Math.max(0, Math.floor(4 * Math.log2(detail[c]! / 0.003))));
  const byLevel: number[][] = Array.from({ length: LEVELS }, () => []);
  for (let c = 0; c < least.length; c += 3) byLevel[levelOf(c)]!.push(least[c]!);
  const medians = byLevel.map((list) => list.sort((a, b) => a - b)[list.length >> 1] ?? 0);
  return (c) => medians[levelOf(c)]!;
}

/** Whether a near thing breaks at the border of two frames because the camera turned beside its pupil. */
function isBroken(survey: Survey, labels: Uint8Array, cell: number): boolean {
  const { plan, grid, depthMm, detail } = survey;
  if (plan.kind !== 'panorama' || depthMm[cell]! > NEAR_MM || detail[cell]! < 0.02) return false;
  const x = cell % grid.width;
  const own = labels[cell]!;
  for (const [step, inside] of [
    [1, x < grid.width - 1],
    [-1, x > 0],
    [grid.width, true],
    [-grid.width, true],
  ] as const) {
    const other = labels[cell + step];
    if (!inside || other === undefined || other === own) continue;
    const a = parallaxShift(survey, own, cell);
    const b = parallaxShift(survey, other, cell);
    if (a && b && Math.hypot(a[0] - b[0], a[1] - b[1]) > BROKEN_PX) return true;
  }
  return false;
}

/** Where a frame really has the thing in a cell, against where a merge that only turns frames looks for it, px. */
function parallaxShift({ plan, grid, depthMm }: Survey, frame: number, cell: number): [number, number] | null {
  const rays = makeRayRow(1);
  const x = cell % grid.width;
  const y = (cell - x) / grid.width;
  castRow(plan.canvas, y * CELL + 2, x * CELL + 1.5, 1, 1, rays);
  const ray: Vec3 = [rays.x[0]!, rays.y[0]!, rays.z[0]!];
  const { view } = shotOf(plan, frame);
  const far = projectRay(view, ...ray);
  const scale = depthMm[cell]! / ray[2];
  const near = projectPoint(view, [ray[0] * scale, ray[1] * scale, ray[2] * scale]);
  return far && near ? [near[0] - far[0], near[1] - far[1]] : null;
}
