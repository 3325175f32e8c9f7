// Drafting a defect: finding a place that suits it, and changing the recipe there.
import { between, valueNoise, type Random } from '../world/random';
import { forNear, type CellGrid } from './cells';
import type { MotionZone } from './cleanLabels';
import type { Defect } from './fault';
import type { Recipe } from './recipe';
import type { Survey } from './survey';

/** What drafting needs to know. */
export interface Scout {
  readonly survey: Survey;
  readonly clean: Uint8Array;
  readonly zones: readonly MotionZone[];
  /** Cells that another fault or a motion zone has claimed. */
  readonly taken: Uint8Array;
  readonly random: Random;
  /** 1 for plain faults, less for subtle ones. */
  readonly strength: number;
}

/** A defect as planned, before it is known how well it can be seen. */
export interface PlannedFault {
  readonly defect: Defect;
  /** Cells in which it may be seen. */
  readonly cells: readonly number[];
  readonly shown: readonly number[];
  /** Right donors: frames with the least error there, or any frame that covers the place. */
  readonly donors: 'best' | 'covering';
  readonly donorOptional: boolean;
  /** For what moves: all of the place in which it does, and the frames that show that whole. */
  readonly zone?: MotionZone;
}

/** A planned defect with the change of recipe that makes it. */
export interface Draft extends PlannedFault {
  apply(recipe: Recipe): void;
}

/** Things nearer than this shift against the rest when the camera turns off its pupil, mm. */
export const NEAR_MM = 12000;

/** Whether frames of a panorama differ there by their viewpoint already: what was seeded could not be told from that. */
export function isShifted({ survey }: Scout, cells: readonly number[]): boolean {
  return survey.plan.kind === 'panorama' && cells.some((c) => survey.depthMm[c]! < NEAR_MM);
}

const TRIES = 400;
/** Cells kept free around a fault, so that each is its own. */
const RIM = 8;

/** A wobbly blob of cells about a centre; radius in cells. */
export function blob(grid: CellGrid, cx: number, cy: number, radius: number, seed: number): number[] {
  const cells: number[] = [];
  for (let y = Math.max(0, Math.floor(cy - 1.5 * radius)); y < Math.min(grid.height, cy + 1.5 * radius); y++) {
    for (let x = Math.max(0, Math.floor(cx - 1.5 * radius)); x < Math.min(grid.width, cx + 1.5 * radius); x++) {
      const a = Math.atan2(y - cy, x - cx);
      const r = radius * (1 + 0.3 * valueNoise(Math.cos(a) * 1.5 + 9, Math.sin(a) * 1.5 + 9, seed));
      if (Math.hypot(x - cx, y - cy) < r) cells.push(y * grid.width + x);
    }
  }
  return cells;
}

/** Marks cells and a rim around them as taken; false when one already was. */
export function claim({ survey, taken }: Scout, cells: readonly number[]): boolean {
  if (cells.length === 0 || cells.some((c) => taken[c])) return false;
  for (const c of cells) forNear(survey.grid, c, RIM, (near) => (taken[near] = 1));
  return true;
}

/**
 * Tries blobs in random places until one suits.
 * @param share radius as a share of the picture's shorter side, from and to
 * @param suit makes a draft of a blob, or null where it does not suit
 */
export function tryBlobs(
  scout: Scout,
  share: readonly [number, number],
  suit: (cells: readonly number[], attempt: number) => Draft | null,
): Draft | null {
  const { random } = scout;
  const { grid } = scout.survey;
  const size = Math.min(grid.width, grid.height);
  for (let t = 0; t < TRIES; t++) {
    const cx = between(random, 0.06, 0.94) * grid.width;
    const cy = between(random, 0.06, 0.94) * grid.height;
    const cells = blob(grid, cx, cy, Math.max(3.5, size * between(random, share[0], share[1])), t);
    if (cells.some((c) => scout.taken[c])) continue;
    const draft = suit(cells, t);
    if (draft && claim(scout, cells)) return draft;
  }
  return null;
}

/** Frames that cover all of the cells. */
export function covering({ covers }: Survey, cells: readonly number[]): number[] {
  return covers.flatMap((c, k) => (cells.every((i) => c[i]) ? [k] : []));
}

/** Root mean square error of each frame over cells. */
export function errorsOver({ errors }: Survey, cells: readonly number[]): number[] {
  return errors.map((e) => Math.sqrt(cells.reduce((s, c) => s + e[c]!, 0) / cells.length));
}

/** Frames that cover the cells and whose error there is within 5 % of the least. */
export function bestFrames(survey: Survey, cells: readonly number[]): number[] {
  const able = covering(survey, cells);
  const errors = errorsOver(survey, cells);
  const least = Math.min(...able.map((k) => errors[k]!));
  return able.filter((k) => errors[k]! <= least * 1.05 + 0.001);
}
