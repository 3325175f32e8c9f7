// Drafts that show a wrong degree of sharpness: soft patches, glow beside near edges, crumbs in the mask.
import { between } from '../world/random';
import { CLIPPED_SHARE } from './cleanLabels';
import { blob, claim, covering, isShifted, tryBlobs, type Draft, type Scout } from './draft';
import { MIN_CELLS, VISIBLE_RMS } from './fault';
import { cellBlurPx } from './survey';
import { shotOf } from './placeFrame';

/** A patch from a frame that is blurred there, although the merge knows a sharper one. */
export function softPatchDraft(scout: Scout): Draft | null {
  const { survey, clean, random, strength } = scout;
  const { plan, depthMm, errors } = survey;
  const shaken = plan.frames.findIndex((f) => f.shot === plan.assignment.settings.shakenFrame);
  const stack = plan.kind === 'focus-stack';
  if (!stack && shaken < 0) return null;
  const [low, high] = strength >= 1 ? [2.5, 7] : [1.2, 2.5];
  return tryBlobs(scout, [0.03, 0.07], (cells) => {
    if (cells.length < MIN_CELLS * 2 || isShifted(scout, cells)) return null;
    const depths = cells.map((c) => depthMm[c]!);
    if (stack && Math.max(...depths) - Math.min(...depths) > 4) return null;
    const able = covering(survey, cells);
    const shown = stack ? able[Math.floor(random() * able.length)] : shaken;
    if (shown === undefined || !able.includes(shown) || isClipped(scout, cells, shown)) return null;
    const middle = cells[cells.length >> 1]!;
    if (stack) {
      const added = cellBlurPx(survey, shown, middle) - cellBlurPx(survey, clean[middle]!, middle);
      if (added < low || added > high) return null;
    }
    const seen = cells.filter((c) => errors[shown]![c]! - errors[clean[c]!]![c]! > VISIBLE_RMS ** 2);
    if (seen.length < cells.length * 0.4) return null;
    return relabel('soft-patch', cells, shown);
  });
}

/** Lateral colour of the one frame that was not corrected, where another is as sharp. */
export function fringeDraft(scout: Scout): Draft | null {
  const { survey, clean } = scout;
  const { plan, errors, detail } = survey;
  const odd = plan.frames.findIndex((f) => f.shot === plan.assignment.settings.fringedFrame);
  if (odd < 0) return null;
  return tryBlobs(scout, [0.03, 0.07], (cells) => {
    if (!covering(survey, cells).includes(odd) || isClipped(scout, cells, odd) || isShifted(scout, cells)) return null;
    const middle = cells[cells.length >> 1]!;
    const added = cellBlurPx(survey, odd, middle) - cellBlurPx(survey, clean[middle]!, middle);
    if (added > 0.8) return null;
    const seen = cells.filter(
      (c) => detail[c]! > 0.03 && clean[c] !== odd && errors[odd]![c]! - errors[clean[c]!]![c]! > VISIBLE_RMS ** 2,
    );
    return seen.length < Math.max(MIN_CELLS, cells.length * 0.12) ? null : relabel('fringe', cells, odd);
  });
}

/** Whether a frame is clipped in some of the cells: that would be another defect. */
function isClipped({ survey }: Scout, cells: readonly number[], frame: number): boolean {
  return cells.some((c) => survey.clipped[frame]![c]! > CLIPPED_SHARE);
}

function relabel(defect: Draft['defect'], cells: readonly number[], shown: number): Draft {
  return {
    defect,
    cells,
    shown: [shown],
    donors: 'best',
    donorOptional: false,
    apply(recipe) {
      for (const c of cells) recipe.labels[c] = shown;
    },
  };
}

const TRIES = 400;

/** The far side of a near edge taken from the frame focused there, over which the defocused near thing has spread. */
export function glowDraft(scout: Scout): Draft | null {
  const { survey, clean, random } = scout;
  const { grid, depthMm, errors, plan } = survey;
  if (plan.kind !== 'focus-stack') return null;
  const size = Math.min(grid.width, grid.height);
  const focus = plan.frames.map((_, k) => shotOf(plan, k).focusMm!);
  for (let t = 0; t < TRIES; t++) {
    const cx = Math.floor(between(random, 0.08, 0.92) * grid.width);
    const cy = Math.floor(between(random, 0.08, 0.92) * grid.height);
    const round = blob(grid, cx, cy, size * between(random, 0.06, 0.11), t + 1000);
    const nearest = round.reduce((d, c) => Math.min(d, depthMm[c]!), Infinity);
    const far = round.filter((c) => depthMm[c]! > nearest + 12);
    if (far.length < MIN_CELLS * 2 || far.length > round.length * 0.85) continue;
    const farDepth = far.map((c) => depthMm[c]!).sort((a, b) => a - b)[far.length >> 1]!;
    const shown = focus.reduce((k, f, i) => (Math.abs(f - farDepth) < Math.abs(focus[k]! - farDepth) ? i : k), 0);
    // Glow worth the name: the frame focused on the far side is clearly off beside the near edge, and the clean merge is not.
    const cells = far.filter(
      (c) =>
        Math.abs(depthMm[c]! - farDepth) < 6 &&
        clean[c] !== shown &&
        survey.covers[shown]![c] &&
        errors[shown]![c]! - errors[clean[c]!]![c]! > VISIBLE_RMS ** 2 * 1.5,
    );
    if (cells.length < MIN_CELLS * 2 || !claim(scout, cells)) continue;
    return relabel('halo', cells, shown);
  }
  return null;
}

/** Crumbs: single cells of other frames scattered over a place where the choice was left to noise. */
export function speckleDraft(scout: Scout): Draft | null {
  const { survey, clean, random } = scout;
  const { errors, grid } = survey;
  const least = VISIBLE_RMS ** 2 * (scout.strength >= 1 ? 2 : 1);
  return tryBlobs(scout, [0.035, 0.065], (cells) => {
    const able = covering(survey, cells);
    const crumbs = new Map<number, number>();
    for (const c of cells) {
      const odd = able.filter(
        (k) => errors[k]![c]! - errors[clean[c]!]![c]! > least && survey.clipped[k]![c]! <= CLIPPED_SHARE,
      );
      // Every third cell at most, and none beside another in its row, so that islands stay islands.
      if (odd.length === 0 || random() > 0.34 || crumbs.has(c - 1) || crumbs.has(c - grid.width)) continue;
      crumbs.set(c, odd[Math.floor(random() * odd.length)]!);
    }
    if (crumbs.size < Math.max(15, cells.length * 0.08)) return null;
    return {
      defect: 'mask-speckle',
      cells,
      shown: [...new Set(crumbs.values())],
      donors: 'best',
      donorOptional: false,
      apply(recipe) {
        for (const [c, k] of crumbs) recipe.labels[c] = k;
      },
    };
  });
}
