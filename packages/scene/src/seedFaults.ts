// Faults for a merge "made elsewhere", each made from the frames by a wrong label or a wrong place, never painted on.
import { smoothCells, CELL, type CellGrid } from './cells';
import { composeMerges, type LabelMap, type SourceFrame } from './composeMerge';
import { between, makeRandom, valueNoise, type Random } from './random';
import { blurRadiusPx, type StackTruth, type Studio } from './renderStack';

/** What composing needs to know of the studio the frames were shot in. */
export type StudioFacts = Pick<Studio, 'camera' | 'width' | 'height'>;

export type SeededDefect = 'soft-patch' | 'halo' | 'focus-gap' | 'misalignment';

/** The truth of one seeded defect. */
export interface SeededFault {
  readonly defect: SeededDefect;
  /** Cells in which it can be seen. */
  readonly cells: readonly number[];
  /** Frame the merge shows there. */
  readonly shown: number;
  /** Frames whose error over the cells is within 5 % of the best. */
  readonly donors: readonly number[];
  readonly repairable: boolean;
}

export interface FaultPlan {
  readonly softPatches: number;
  readonly halos: number;
  readonly misplaced: number;
  /** Blur radius added by a soft patch in px, from and to. */
  readonly softRadiusPx: readonly [number, number];
}

export const PLAIN_FAULTS: FaultPlan = { softPatches: 3, halos: 3, misplaced: 1, softRadiusPx: [2.5, 7] };

/** A merge with its faults, and the same merge without them. */
export interface FaultyMerge {
  readonly faulty: Float32Array;
  readonly clean: Float32Array;
  readonly faults: readonly SeededFault[];
  /** Cells whose error no frame of the set can mend: glow beside near edges, and slices never shot. */
  readonly unavoidable: Uint8Array;
}

/** Below this difference (RMS over a cell, encoded units: about 5 levels of 255) a fault counts as invisible. */
export const VISIBLE_RMS = 0.02;
/** A defect must cover this many cells to be asked for (about 18 × 18 px in all). */
const MIN_CELLS = 20;

interface Draft {
  readonly defect: SeededDefect;
  readonly cells: readonly number[];
  readonly shown: number;
}

/**
 * Composes a clean and a faulty merge from the same frames.
 * @param truth of the frames at hand (left-out frames excluded)
 * @param fullTruth of the whole series, to know which slices are missing; the same as `truth` when none is
 * @param loadFrame delivers the frames at hand in order
 */
export async function composeFaultyMerge(
  studio: StudioFacts,
  truth: StackTruth,
  fullTruth: StackTruth,
  plan: FaultPlan,
  seed: number,
  loadFrame: (index: number) => SourceFrame | Promise<SourceFrame>,
): Promise<FaultyMerge> {
  const random = makeRandom(seed * 31337 + 3);
  const { grid } = truth;
  const clean = majority(truth.best, grid);
  const labels = clean.slice();
  const shiftX = new Float32Array(labels.length);
  const shiftY = new Float32Array(labels.length);
  const taken = new Uint8Array(labels.length);
  const drafts: Draft[] = [];
  for (let i = 0; i < plan.halos; i++) push(drafts, haloDraft(truth, clean, taken, random));
  for (let i = 0; i < plan.softPatches; i++) push(drafts, softDraft(studio, truth, taken, plan.softRadiusPx, random));
  for (const d of drafts) for (const c of d.cells) labels[c] = d.shown;
  for (let i = 0; i < plan.misplaced; i++) {
    const draft = misplacedDraft(truth, clean, taken, random);
    if (!draft) continue;
    drafts.push(draft);
    const angle = random() * 2 * Math.PI;
    for (const c of draft.cells) {
      shiftX[c] = 8 * Math.cos(angle);
      shiftY[c] = 8 * Math.sin(angle);
    }
  }
  const maps: LabelMap[] = [{ labels: clean }, { labels, shiftX, shiftY }];
  const [cleanPicture, faulty] = await composeMerges(
    studio.width,
    studio.height,
    grid,
    truth.cellErrors.length,
    maps,
    loadFrame,
  );
  const difference = visibleDifference(cleanPicture!, faulty!, studio.width, grid);
  const faults = drafts.flatMap((d) => finish(d, truth, difference));
  const gap = gapFaults(studio, truth, fullTruth, taken);
  return { faulty: faulty!, clean: cleanPicture!, faults: [...faults, ...gap.faults], unavoidable: gap.unavoidable };
}

function push(drafts: Draft[], draft: Draft | null): void {
  if (draft) drafts.push(draft);
}

function finish(draft: Draft, truth: StackTruth, difference: Float32Array): SeededFault[] {
  const cells = draft.cells.filter((c) => difference[c]! > VISIBLE_RMS);
  if (cells.length < MIN_CELLS) return [];
  return [{ ...draft, cells, donors: bestFrames(truth, cells), repairable: true }];
}

/** Frames whose summed error over the cells is within 5 % of the least. */
export function bestFrames(truth: StackTruth, cells: readonly number[]): number[] {
  const sums = truth.cellErrors.map((e) => Math.sqrt(cells.reduce((s, c) => s + e[c]!, 0) / cells.length));
  const least = Math.min(...sums);
  return sums.flatMap((s, k) => (s <= least * 1.05 + 0.001 ? [k] : []));
}

function visibleDifference(a: Float32Array, b: Float32Array, width: number, grid: CellGrid): Float32Array {
  const out = new Float32Array(grid.width * grid.height);
  for (let y = 0; y < grid.height * CELL; y++) {
    for (let x = 0; x < grid.width * CELL; x++) {
      const at = (y * width + x) * 3;
      let sum = 0;
      for (let c = 0; c < 3; c++) sum += (a[at + c]! - b[at + c]!) ** 2;
      out[(y >> 2) * grid.width + (x >> 2)]! += sum / 48;
    }
  }
  return smoothCells(out, grid).map(Math.sqrt);
}

/** A wobbly blob of cells about a centre; radius in cells. */
function blob(grid: CellGrid, cx: number, cy: number, radius: number, seed: number): number[] {
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

function claim(cells: readonly number[], taken: Uint8Array, grid: CellGrid): boolean {
  if (cells.some((c) => taken[c])) return false;
  for (const c of cells) {
    // A rim of eight cells keeps neighbours apart, so that each fault is its own.
    const x = c % grid.width;
    const y = (c - x) / grid.width;
    for (let yy = Math.max(0, y - 8); yy <= Math.min(grid.height - 1, y + 8); yy++) {
      for (let xx = Math.max(0, x - 8); xx <= Math.min(grid.width - 1, x + 8); xx++) taken[yy * grid.width + xx] = 1;
    }
  }
  return true;
}

const TRIES = 400;

function softDraft(
  studio: StudioFacts,
  truth: StackTruth,
  taken: Uint8Array,
  radiusPx: readonly [number, number],
  random: Random,
): Draft | null {
  const { grid } = truth;
  const size = Math.min(grid.width, grid.height);
  for (let t = 0; t < TRIES; t++) {
    const cells = blob(
      grid,
      between(random, 0.08, 0.92) * grid.width,
      between(random, 0.08, 0.92) * grid.height,
      size * between(random, 0.03, 0.07),
      t,
    );
    const depths = cells.map((c) => truth.depthMm[c]!);
    if (cells.length < MIN_CELLS * 2 || Math.max(...depths) - Math.min(...depths) > 4) continue;
    const shown = Math.floor(random() * truth.cellErrors.length);
    const middle = cells[cells.length >> 1]!;
    const added =
      blurRadiusPx(studio.camera, truth, shown, middle) -
      blurRadiusPx(studio.camera, truth, truth.best[middle]!, middle);
    if (added < radiusPx[0] || added > radiusPx[1]) continue;
    const seen = cells.filter(
      (c) => truth.cellErrors[shown]![c]! - truth.cellErrors[truth.best[c]!]![c]! > VISIBLE_RMS ** 2,
    );
    if (seen.length < cells.length * 0.5 || !claim(cells, taken, grid)) continue;
    return { defect: 'soft-patch', cells, shown };
  }
  return null;
}

function haloDraft(truth: StackTruth, clean: Uint8Array, taken: Uint8Array, random: Random): Draft | null {
  const { grid, depthMm } = truth;
  const size = Math.min(grid.width, grid.height);
  for (let t = 0; t < TRIES; t++) {
    const cx = Math.floor(between(random, 0.08, 0.92) * grid.width);
    const cy = Math.floor(between(random, 0.08, 0.92) * grid.height);
    const round = blob(grid, cx, cy, size * between(random, 0.06, 0.11), t + 1000);
    const nearest = round.reduce((d, c) => Math.min(d, depthMm[c]!), Infinity);
    const far = round.filter((c) => depthMm[c]! > nearest + 12);
    if (far.length < MIN_CELLS * 2 || far.length > round.length * 0.85) continue;
    const farDepth = far.map((c) => depthMm[c]!).sort((a, b) => a - b)[far.length >> 1]!;
    const shown = truth.focusMm.reduce(
      (k, f, i) => (Math.abs(f - farDepth) < Math.abs(truth.focusMm[k]! - farDepth) ? i : k),
      0,
    );
    // Glow worth the name: the frame focused on the far side is clearly off beside the near edge, and the clean merge is not.
    const cells = far.filter(
      (c) =>
        Math.abs(depthMm[c]! - farDepth) < 6 &&
        clean[c] !== shown &&
        truth.cellErrors[shown]![c]! - truth.cellErrors[clean[c]!]![c]! > VISIBLE_RMS ** 2 * 1.5,
    );
    if (cells.length < MIN_CELLS * 2 || !claim(cells, taken, grid)) continue;
    return { defect: 'halo', cells, shown };
  }
  return null;
}

function misplacedDraft(truth: StackTruth, clean: Uint8Array, taken: Uint8Array, random: Random): Draft | null {
  const { grid } = truth;
  const size = Math.min(grid.width, grid.height);
  for (let t = 0; t < TRIES; t++) {
    const cells = blob(
      grid,
      between(random, 0.1, 0.9) * grid.width,
      between(random, 0.1, 0.9) * grid.height,
      size * 0.05,
      t + 2000,
    );
    const middle = cells[cells.length >> 1];
    if (middle === undefined) continue;
    const detail = cells.reduce((s, c) => s + Math.max(...truth.cellErrors.map((e) => e[c]!)), 0) / cells.length;
    if (detail < 0.003 || !claim(cells, taken, grid)) continue;
    return { defect: 'misalignment', cells, shown: clean[middle]! };
  }
  return null;
}

/** What no frame at hand shows sharp: gap where a left-out frame would have, plain loss elsewhere. */
function gapFaults(
  studio: StudioFacts,
  truth: StackTruth,
  fullTruth: StackTruth,
  taken: Uint8Array,
): { faults: SeededFault[]; unavoidable: Uint8Array } {
  const { grid } = truth;
  const unavoidable = new Uint8Array(truth.best.length);
  const gap = new Uint8Array(truth.best.length);
  for (let c = 0; c < gap.length; c++) {
    const here = truth.cellErrors[truth.best[c]!]![c]!;
    const ever = fullTruth.cellErrors[fullTruth.best[c]!]![c]!;
    if (here > VISIBLE_RMS ** 2) unavoidable[c] = 1;
    const sharpest = truth.focusMm.reduce((r, _, k) => Math.min(r, blurRadiusPx(studio.camera, truth, k, c)), Infinity);
    const lost = here - ever > VISIBLE_RMS ** 2 * 0.5 && sharpest > 1.4;
    if (lost && !taken[c]) gap[c] = 1;
  }
  const faults = groups(gap, grid)
    .filter((cells) => cells.length >= MIN_CELLS * 3)
    .map((cells): SeededFault => ({
      defect: 'focus-gap',
      cells,
      shown: truth.best[cells[0]!]!,
      donors: [],
      repairable: false,
    }));
  return { faults, unavoidable };
}

/** Connected groups after joining gaps of up to two cells. */
function groups(mask: Uint8Array, grid: CellGrid): number[][] {
  const seen = new Uint8Array(mask.length);
  const out: number[][] = [];
  for (let start = 0; start < mask.length; start++) {
    if (!mask[start] || seen[start]) continue;
    const cells = [start];
    seen[start] = 1;
    for (let k = 0; k < cells.length; k++) {
      const x = cells[k]! % grid.width;
      const y = (cells[k]! - x) / grid.width;
      for (let yy = Math.max(0, y - 3); yy <= Math.min(grid.height - 1, y + 3); yy++) {
        for (let xx = Math.max(0, x - 3); xx <= Math.min(grid.width - 1, x + 3); xx++) {
          const next = yy * grid.width + xx;
          if (mask[next] && !seen[next]) {
            seen[next] = 1;
            cells.push(next);
          }
        }
      }
    }
    out.push(cells);
  }
  return out;
}

/** 3 × 3 majority, so that labels of equally good frames do not crumble. */
function majority(labels: Uint8Array, grid: CellGrid): Uint8Array {
  const out = labels.slice();
  const votes = new Uint8Array(256);
  for (let y = 1; y < grid.height - 1; y++) {
    for (let x = 1; x < grid.width - 1; x++) {
      votes.fill(0);
      let winner = labels[y * grid.width + x]!;
      votes[winner] = 1;
      for (let k = 0; k < 9; k++) {
        const l = labels[(y + Math.floor(k / 3) - 1) * grid.width + x + (k % 3) - 1]!;
        votes[l]!++;
        if (votes[l]! > votes[winner]!) winner = l;
      }
      out[y * grid.width + x] = winner;
    }
  }
  return out;
}
