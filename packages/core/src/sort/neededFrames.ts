// How many frames of a set are needed: the smallest choice that shows each place as well as all of them do, within a bound.
import type { SortFrame } from './sortFrame';

export interface NeededFrames {
  /** Indices within the list, in order. */
  readonly needed: readonly number[];
  readonly spare: readonly number[];
  /** What neighbours both show well, as a share of what the first of them does; one less than frames. */
  readonly overlap: readonly number[];
}

/** A frame shows a place well when it lacks no more than this of the best frame's finest detail there, log2 of energy. */
const SPARE_BOUND_LOG2 = 0.4;
/** Places so rare that no one would keep a frame for them. */
const REST_SHARE = 0.004;
/** Where frames differ by less than this, any of them will do. */
const TELLING_LOG2 = 0.6;

/**
 * Chooses frames of a focus stack: cells of 1/32 of the width, each to be shown by a frame that is nearly the sharpest there.
 * Greedy set cover (Chvátal 1979), within a logarithm of the smallest choice. Sway and breathing of up to a cell do not matter.
 * @param frames of one view and one exposure, in order
 */
export function neededSlices(frames: readonly SortFrame[]): NeededFrames {
  const details = frames.map((f) => f.look.detail);
  const strongest = Math.max(...details.map((d) => d.coarse.reduce((m, v) => Math.max(m, v), 0)), 1e-9);
  const shows = frames.map(() => new Set<number>());
  for (let c = 0; c < details[0]!.fine.length; c++) {
    if (details.every((d) => d.coarse[c]! < strongest * 1e-3)) continue;
    const sharpness = details.map((d) =>
      Math.log2((d.fine[c]! + strongest * 1e-7) / (d.coarse[c]! + strongest * 1e-5)),
    );
    const best = Math.max(...sharpness);
    if (best - Math.min(...sharpness) < TELLING_LOG2) continue;
    sharpness.forEach((s, k) => s > best - SPARE_BOUND_LOG2 && shows[k]!.add(c));
  }
  return choose(shows);
}

/** Darker than this under white, noise shows: EV. */
const CLEAN_EV = -4.5;

/**
 * Chooses exposures of a bracket: each pixel of the small view is to be unburnt and clear of noise in one of them; where none is,
 * in the brightest that does not burn it.
 */
export function neededExposures(frames: readonly SortFrame[]): NeededFrames {
  const shows = frames.map(() => new Set<number>());
  const pixels = frames[0]!.look.light.length;
  for (let i = 0; i < pixels; i++) {
    const held = frames.flatMap(({ look }, k) => (look.valid[i] ? [k] : []));
    const clean = held.filter((k) => frames[k]!.look.light[i]! > CLEAN_EV);
    const brightest = held.reduce(
      (best, k) => (best < 0 || frames[k]!.look.light[i]! > frames[best]!.look.light[i]! ? k : best),
      -1,
    );
    for (const k of clean.length > 0 ? clean : brightest < 0 ? [] : [brightest]) shows[k]!.add(i);
  }
  return choose(shows);
}

function choose(shows: readonly ReadonlySet<number>[]): NeededFrames {
  const open = new Set(shows.flatMap((s) => [...s]));
  const rest = open.size * REST_SHARE;
  const chosen: number[] = [];
  while (open.size > rest && chosen.length < shows.length) {
    let best = -1;
    let gain = 0;
    shows.forEach((s, k) => {
      if (chosen.includes(k)) return;
      let n = 0;
      for (const c of s) if (open.has(c)) n += 1;
      if (n > gain) [best, gain] = [k, n];
    });
    if (best < 0) break;
    chosen.push(best);
    for (const c of shows[best]!) open.delete(c);
  }
  const needed = chosen.length > 0 ? [...chosen].sort((a, b) => a - b) : shows.slice(0, 1).map((_, k) => k);
  return {
    needed,
    spare: shows.flatMap((_, k) => (needed.includes(k) ? [] : [k])),
    overlap: shows.slice(1).map((s, k) => {
      const before = shows[k]!;
      let both = 0;
      for (const c of before) if (s.has(c)) both += 1;
      return before.size === 0 ? 1 : both / before.size;
    }),
  };
}
