// Which frame a place is to be mended from, cell by cell, where no single one has all of it; and the parts that come of it.
import type { CellStack } from '../cells';
import type { NearSide } from '../defocus';
import { findComponents, outlineOf, tentSmooth } from '../image';
import { CELL_PX } from '../kernels';
import { proposeLabels, regulariseLabels, VALUES_PER_CELL } from '../merge';
import { outlineWithHoles } from './holes';
import { withoutHoles } from './withoutHoles';

/**
 * How frames are chosen: as a stack's merge would choose them, whose near end is given; as the merge at hand shows them; or as it shows
 * them beside the place.
 */
export type FrameChoice = NearSide | 'shown' | 'beside';

/** What no frame is counted as. */
const NO_FRAME = 255;
/** Cells over which frames are compared around each: masks that follow every cell are ragged. */
const SMOOTH_CELLS = 3;
/** Parts of fewer cells go to what is around them; where near edges lie in between a few matter. */
const [LEAST_PART, LEAST_LAYER] = [16, 4];

/** Outlines that lie side by side keep to their cells, steps and all. */
const EXACT = 0.5;

/** More parts than these are never made of one mask: the smallest are left out. */
const MOST_PARTS = 150;

/** Frames chosen cell by cell. */
export interface ChosenFrames {
  /** Index per cell; 255 where none covers it. */
  readonly frames: Uint8Array;
  /** R, G and B per cell, encoded, to be added to its frame there: the light of near edges taken out; null where none is. */
  readonly lift: Float32Array | null;
}

/** A part of a mask and the frame for it. */
export interface FramePart {
  readonly donor: number;
  /** Outline, cells of the grid. */
  readonly points: readonly (readonly [number, number])[];
}

/**
 * Chooses a frame for each cell, of those that cover it.
 * @param inside cells of the place, which tell nothing of what is shown beside it
 * Cost: 50 additions per frame and cell.
 */
export function chooseFrames(stack: CellStack, choice: FrameChoice, inside: Uint8Array): ChosenFrames {
  if (choice === 'first' || choice === 'last') return asMerged(stack, choice);
  const shown = closestFrames(stack);
  return { frames: choice === 'beside' ? spreadInto(shown, inside, stack) : shown, lift: null };
}

/** The frames that a merge of the stack would show, freed of the light of near edges as it would free them. */
function asMerged(stack: CellStack, side: NearSide): ChosenFrames {
  const { width, height, frames } = stack;
  const proposal = proposeLabels(stack, { nearEnd: side });
  const { labels: proposed, tones } = proposal.sides[side]!;
  const { labels } = regulariseLabels({ width, height, labels: proposed.slice() }, proposal.weight);
  const lift = new Float32Array(3 * width * height);
  tones.cells.forEach((cell, n) => {
    // What was given to another frame since is not to be changed.
    if (labels[cell] !== proposed[cell]) return;
    const [gain, ...offsets] = tones.values.subarray(n * VALUES_PER_CELL, (n + 1) * VALUES_PER_CELL);
    offsets.forEach(
      (offset, c) => (lift[3 * cell + c] = (gain! - 1) * frames[labels[cell]!]!.mean[c]![cell]! + offset),
    );
  });
  return {
    frames: labels.map((k, i) => (frames[k]?.valid[i] ? k : NO_FRAME)),
    lift: tones.cells.length > 0 ? lift : null,
  };
}

/** The frame that the merge is closest to around each cell, in whatever tone where frames differ in it. */
function closestFrames({ width, height, frames }: CellStack): Uint8Array {
  const closest = new Uint8Array(width * height).fill(NO_FRAME);
  const least = new Float32Array(closest.length).fill(Infinity);
  frames.forEach(({ valid, residual, relation }, k) => {
    if (!valid.includes(1)) return;
    const smooth = tentSmooth({ width, height, data: relation?.misfit ?? residual }, SMOOTH_CELLS).data;
    for (let i = 0; i < closest.length; i++) {
      if (!valid[i] || smooth[i]! >= least[i]!) continue;
      least[i] = smooth[i]!;
      closest[i] = k;
    }
  });
  return closest;
}

/** Gives the cells of a place the frame of the nearest cell beside it that covers them. */
function spreadInto(best: Uint8Array, inside: Uint8Array, { width, height, frames }: CellStack): Uint8Array {
  const out = best.map((k, i) => (inside[i] ? NO_FRAME : k));
  let front = Array.from(out.keys()).filter((i) => out[i] !== NO_FRAME);
  while (front.length > 0) {
    const next: number[] = [];
    for (const i of front)
      for (const j of neighbours(i, width, height)) {
        if (out[j] !== NO_FRAME || !frames[out[i]!]!.valid[j]) continue;
        out[j] = out[i]!;
        next.push(j);
      }
    front = next;
  }
  // What only frames cover that are not shown beside it.
  return out.map((k, i) => (k === NO_FRAME ? best[i]! : k));
}

/** How a mask is cut into parts. */
export interface PartsOptions {
  /**
   * End of the series that is near: parts lie side by side, the farthest first, so that near edges end over what is behind them; null, and
   * by default, for the largest part first, with smaller ones that lie in it laid over it.
   */
  readonly nearSide?: NearSide | null;
  /** A flag per cell that must not be covered, where the mask has a hole for it; default none: holes are filled. */
  readonly open?: Uint8Array | undefined;
}

/**
 * Cuts a mask into one part per frame and piece.
 * @param mask a flag per cell
 * @param chosen frame per cell, 255 for none
 * @returns 150 at most
 */
export function partsOfMask(
  mask: Uint8Array,
  chosen: Uint8Array,
  width: number,
  height: number,
  { nearSide = null, open }: PartsOptions = {},
): FramePart[] {
  const frame = chosen.map((k, i) => (mask[i] ? k : NO_FRAME));
  const used = (): number[] => [...new Set(frame)].filter((k) => k !== NO_FRAME);
  const of = (k: number): Uint8Array => frame.map((v) => (v === k ? 1 : 0));
  for (const k of used())
    for (const { cells } of findComponents({ width, height, data: of(k) })) {
      if (cells.length >= (nearSide ? LEAST_LAYER : LEAST_PART)) continue;
      const other = usualBeside(cells, frame, width, height);
      if (other !== null) for (const i of cells) frame[i] = other;
    }
  const away = nearSide === 'first' ? -1 : 1;
  return used()
    .flatMap((donor) =>
      (nearSide ? withoutHoles(of(donor), width, height) : [of(donor)]).flatMap((data) =>
        findComponents({ width, height, data }).map((piece) => ({ donor, piece })),
      ),
    )
    .sort((a, b) => (nearSide ? away * (a.donor - b.donor) : b.piece.cells.length - a.piece.cells.length))
    .slice(0, MOST_PARTS)
    .map(({ donor, piece }) => ({
      donor,
      points: nearSide
        ? outlineOf(piece, width, EXACT)
        : open
          ? outlineWithHoles(piece, width, height, open)
          : outlineOf(piece, width),
    }));
}

/** The frame that most cells beside a piece have; null where there is none but its own. */
function usualBeside(cells: readonly number[], frame: Uint8Array, width: number, height: number): number | null {
  const own = frame[cells[0]!];
  const counts = new Map<number, number>();
  for (const i of cells)
    for (const j of neighbours(i, width, height)) {
      const k = frame[j]!;
      if (k !== own && k !== NO_FRAME) counts.set(k, (counts.get(k) ?? 0) + 1);
    }
  return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0] ?? null;
}

function neighbours(i: number, width: number, height: number): number[] {
  const [x, y] = [i % width, Math.floor(i / width)];
  const out: number[] = [];
  if (x > 0) out.push(i - 1);
  if (x + 1 < width) out.push(i + 1);
  if (y > 0) out.push(i - width);
  if (y + 1 < height) out.push(i + width);
  return out;
}

/** An outline in cells of a grid as merge px. */
export function outlineInMerge(
  points: FramePart['points'],
  origin: { readonly x: number; readonly y: number },
  scale = 1,
): [number, number][] {
  return points.map(([x, y]) => [origin.x + x * CELL_PX * scale, origin.y + y * CELL_PX * scale]);
}
