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

export interface Redundancy {
  /** In the order in which to leave them out: the cheapest first. */
  readonly redundant: readonly RedundantFrame[];
  /** What neighbours both show well, as a share of what the first of them does; one less than frames. */
  readonly overlap: readonly number[];
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
 */
export function redundantSlices(frames: readonly SortFrame[]): Redundancy {
  const sharpness = tellingCells(frames);
  const lost = (kept: readonly number[]): number => {
    const losses = sharpness.map((s) => 1 - 2 ** (Math.max(...kept.map((k) => s[k]!)) - Math.max(...s)));
    return losses.length === 0 ? 0 : quantile(losses, WORST_PLACES);
  };
  const between = (k: number, kept: readonly number[]): boolean => kept.includes(k - 1) && kept.includes(k + 1);
  const shows = frames.map((_, k) => {
    const well = sharpness.flatMap((s, c) => (s[k]! > Math.max(...s) - WELL_LOG2 ? [c] : []));
    return new Set(well);
  });
  return { redundant: leaveOut(frames.length, lost, MOST_DETAIL_LOST, between), overlap: neighbours(shows) };
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
 */
export function redundantExposures(frames: readonly SortFrame[]): Redundancy {
  const shows = frames.map(() => new Set<number>());
  const pixels = frames[0]!.summary.light.length;
  for (let i = 0; i < pixels; i++) {
    const held = frames.flatMap(({ summary }, k) => (summary.valid[i] ? [k] : []));
    const light = (k: number): number => frames[k]!.summary.light[i]!;
    const clean = held.filter((k) => light(k) > CLEAN_EV);
    const brightest = held.reduce((best, k) => (best < 0 || light(k) > light(best) ? k : best), -1);
    for (const k of clean.length > 0 ? clean : brightest < 0 ? [] : [brightest]) shows[k]!.add(i);
  }
  const all = new Set(shows.flatMap((s) => [...s]));
  const lost = (kept: readonly number[]): number =>
    1 - new Set(kept.flatMap((k) => [...shows[k]!])).size / Math.max(1, all.size);
  return { redundant: leaveOut(frames.length, lost, MOST_TONES_LOST, () => true), overlap: neighbours(shows) };
}

/** Leaves out the cheapest frame again and again while what is lost stays within bounds; one is always kept. */
function leaveOut(
  count: number,
  lost: (kept: readonly number[]) => number,
  most: number,
  mayGo: (frame: number, kept: readonly number[]) => boolean,
): RedundantFrame[] {
  const redundant: RedundantFrame[] = [];
  let kept = Array.from({ length: count }, (_, k) => k);
  while (kept.length > 1) {
    const choices = kept
      .filter((k) => mayGo(k, kept))
      .map((frame) => ({ frame, cost: lost(kept.filter((k) => k !== frame)) }));
    const cheapest = choices.sort((a, b) => a.cost - b.cost)[0];
    if (!cheapest || cheapest.cost > most) break;
    redundant.push(cheapest);
    kept = kept.filter((k) => k !== cheapest.frame);
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
