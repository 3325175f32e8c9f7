// Which frames of a set may be left out, all together, and what that costs.
import { quantile } from '../image';
import type { SortFrame } from './sortFrame';

/** A frame that may be left out together with those named before it. */
export interface RedundantFrame {
  /** Index within the list. */
  readonly frame: number;
  /** What the merge has lost once this one and all named before it are gone: see the function that says it. */
  readonly cost: number;
}

/** Most of the finest detail that may be lost in the worst places, as a share of its energy: an eye at 100 % misses less. */
export const MOST_DETAIL_LOST = 0.1;
/** Most of the view that may lose its clean exposure. */
export const MOST_TONES_LOST = 0.004;
/** Worst places: one in fifty. */
const WORST_PLACES = 0.98;
/** A frame shows a place well when it lacks no more than this of the best frame's finest detail there, log2 of energy. */
const WELL_LOG2 = 0.4;
/** Where frames differ by less than this, any of them will do. */
const TELLING_LOG2 = 0.6;

/**
 * Slices of a focus stack that may be left out together. Never the first or the last, nor two neighbours: a cell of 1/32 of the
 * width holds depths that it does not tell apart, and between two slices that are both kept those stay within one step.
 * Cost of a choice: share of the finest detail's energy that the best frame of all shows and the best one kept does not, in the
 * worst 2 % of the cells; at most `MOST_DETAIL_LOST`. Sway and breathing of up to a cell do not matter.
 * @param frames of one view and one exposure, in order of focus
 * @returns in the order in which to leave them out, the cheapest first
 * Cost: some ten passes over cells × frames².
 */
export function redundantSlices(frames: readonly SortFrame[]): RedundantFrame[] {
  const sharpness = tellingCells(frames);
  const best = sharpness.map((s) => largest(s));
  const lost = (kept: readonly number[]): number => {
    const losses = sharpness.map((s, c) => 1 - 2 ** (largestOf(s, kept) - best[c]!));
    return losses.length === 0 ? 0 : quantile(losses, WORST_PLACES);
  };
  const between = (k: number, kept: readonly number[]): boolean => kept.includes(k - 1) && kept.includes(k + 1);
  return leaveOut(frames.length, lost, MOST_DETAIL_LOST, between);
}

/**
 * What neighbouring slices of a focus stack both show well.
 * @returns per frame but the last, as a share of what it shows well, 0..1
 */
export function sliceOverlap(frames: readonly SortFrame[]): number[] {
  const sharpness = tellingCells(frames);
  const shows = frames.map(() => new Set<number>());
  sharpness.forEach((s, c) => {
    const least = largest(s) - WELL_LOG2;
    s.forEach((v, k) => v > least && shows[k]!.add(c));
  });
  return neighbours(shows);
}

function largest(values: readonly number[]): number {
  return values.reduce((most, v) => Math.max(most, v), -Infinity);
}

function largestOf(values: readonly number[], some: readonly number[]): number {
  let most = -Infinity;
  for (const k of some) if (values[k]! > most) most = values[k]!;
  return most;
}

/** Of each cell in which frames differ, the ratio of finest to coarser detail per frame, log2 of energy. */
function tellingCells(frames: readonly SortFrame[]): number[][] {
  const details = frames.map((f) => f.summary.detail);
  const strongest = Math.max(...details.map((d) => d.coarse.reduce((m, v) => Math.max(m, v), 0)), 1e-9);
  const cells: number[][] = [];
  for (let c = 0; c < details[0]!.fine.length; c++) {
    if (details.every((d) => d.coarse[c]! < strongest * 1e-3)) continue;
    const ratios = details.map((d) => Math.log2((d.fine[c]! + strongest * 1e-7) / (d.coarse[c]! + strongest * 1e-5)));
    if (Math.max(...ratios) - Math.min(...ratios) >= TELLING_LOG2) cells.push(ratios);
  }
  return cells;
}

/** Darker than this under white, noise shows: EV. */
const CLEAN_EV = -4.5;

/**
 * Exposures of a bracket that may be left out together. Cost of a choice: share of the view that has a clean exposure in the whole
 * set (neither clipped nor in the noise; where there is none, the brightest that is not clipped) and none among those kept; at
 * most `MOST_TONES_LOST`.
 * @param frames of one view, in any order of exposure
 * @returns in the order in which to leave them out, the cheapest first
 */
export function redundantExposures(frames: readonly SortFrame[]): RedundantFrame[] {
  const shows = cleanPlaces(frames);
  const all = new Set(shows.flatMap((s) => [...s]));
  const lost = (kept: readonly number[]): number => {
    let gone = 0;
    for (const i of all) if (!kept.some((k) => shows[k]!.has(i))) gone += 1;
    return gone / Math.max(1, all.size);
  };
  return leaveOut(frames.length, lost, MOST_TONES_LOST, () => true);
}

/**
 * What neighbouring exposures of a bracket both show clean.
 * @returns per frame but the last, as a share of what it shows clean, 0..1
 */
export function exposureOverlap(frames: readonly SortFrame[]): number[] {
  return neighbours(cleanPlaces(frames));
}

/** Pixels of the small view that each frame shows clean; where none does, the brightest that is not clipped. */
function cleanPlaces(frames: readonly SortFrame[]): Set<number>[] {
  const shows = frames.map(() => new Set<number>());
  const pixels = frames[0]!.summary.light.length;
  for (let i = 0; i < pixels; i++) {
    const held = frames.flatMap(({ summary }, k) => (summary.valid[i] ? [k] : []));
    const light = (k: number): number => frames[k]!.summary.light[i]!;
    const clean = held.filter((k) => light(k) > CLEAN_EV);
    const brightest = held.reduce((best, k) => (best < 0 || light(k) > light(best) ? k : best), -1);
    for (const k of clean.length > 0 ? clean : brightest < 0 ? [] : [brightest]) shows[k]!.add(i);
  }
  return shows;
}

/**
 * Leaves out the cheapest frame again and again while what is lost stays within bounds; one is always kept. What a frame costs only
 * grows as others go, and one that may not go never may again: a cost that was known before is a lower bound (lazy greedy, M. Minoux
 * 1978), and most need not be found again.
 */
function leaveOut(
  count: number,
  lost: (kept: readonly number[]) => number,
  most: number,
  mayGo: (frame: number, kept: readonly number[]) => boolean,
): RedundantFrame[] {
  const redundant: RedundantFrame[] = [];
  let kept = Array.from({ length: count }, (_, k) => k);
  let open = kept.map((frame) => ({ frame, cost: 0, of: 0 }));
  while (kept.length > 1) {
    open = open.filter((o) => mayGo(o.frame, kept)).sort((a, b) => a.cost - b.cost || a.frame - b.frame);
    const first = open[0];
    if (!first || first.cost > most) break;
    if (first.of !== kept.length) {
      first.cost = lost(kept.filter((k) => k !== first.frame));
      first.of = kept.length;
      continue;
    }
    redundant.push({ frame: first.frame, cost: first.cost });
    kept = kept.filter((k) => k !== first.frame);
    open = open.slice(1);
  }
  return redundant;
}

function neighbours(shows: readonly ReadonlySet<number>[]): number[] {
  return shows.slice(1).map((s, k) => {
    const before = shows[k]!;
    let both = 0;
    for (const c of before) if (s.has(c)) both += 1;
    return before.size === 0 ? 1 : both / before.size;
  });
}
