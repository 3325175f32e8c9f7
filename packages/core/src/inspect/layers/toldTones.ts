// What frames say of a place by tone alone: where windows of texture tell nothing, beside what is burnt, a plainly other tone is another moment.
import { cellLuma, type CellFrame, type CellStack } from '../../cells';

/** Bounds of tone, encoded, in the merge's tone: -Infinity and Infinity where nothing is said. */
interface Bounds {
  readonly least: Float32Array;
  /** Infinity as well where the frame is burnt: it says that the place is brighter than its top. */
  readonly most: Float32Array;
}

/** What tone a frame says that places have. */
export interface ToldTones {
  readonly luma: Float32Array;
  /** Of each cell. */
  readonly cell: Bounds;
  /** Over each cell and those around it: at edges frames are a little beside each other. */
  readonly around: Bounds;
}

/** Frames of one moment differ by less, encoded, however bent the curves between exposures are. */
const OTHER_TONE = 0.2;
/** Where something is known to have moved, so much is enough beside it. */
const LIKELY_OTHER = 0.08;
/** The merge has a frame's tone rather than another's: off by this share of what the two differ by. */
const SAME_TONE = 0.25;

/** What each frame says; null where it is not related to the merge. A frame that is burnt says that the place is brighter than its top. */
export function toldTones({ frames, width, height }: CellStack): (ToldTones | null)[] {
  return frames.map((frame) => (frame.relation ? tonesOf(frame, frame.relation, width, height) : null));
}

function tonesOf(
  frame: CellFrame,
  { held, burnt, top }: NonNullable<CellFrame['relation']>,
  width: number,
  height: number,
): ToldTones {
  const luma = cellLuma(frame);
  const cell = {
    least: luma.map((v, i) => (burnt[i] ? top : held[i] ? v : -Infinity)),
    most: luma.map((v, i) => (held[i] ? v : Infinity)),
  };
  const around = {
    least: overSurround(cell.least, width, height, Math.min),
    most: overSurround(cell.most, width, height, Math.max),
  };
  return { luma, cell, around };
}

/** Least or most of each cell and the eight around it. */
function overSurround(
  data: Float32Array,
  width: number,
  height: number,
  pick: (a: number, b: number) => number,
): Float32Array {
  const rows = data.map((v, i) => {
    const x = i % width;
    return pick(pick(v, x > 0 ? data[i - 1]! : v), x < width - 1 ? data[i + 1]! : v);
  });
  return rows.map((v, i) => {
    const y = Math.floor(i / width);
    return pick(pick(v, y > 0 ? rows[i - width]! : v), y < height - 1 ? rows[i + width]! : v);
  });
}

/**
 * The frame whose tone the merge has at a cell, of those that hold it.
 * @param merged luma of the merge there
 * @returns its index; -1 where none holds the cell
 */
export function nearestTone(tones: readonly (ToldTones | null)[], merged: number, cell: number): number {
  let best = -1;
  let least = Infinity;
  tones.forEach((told, k) => {
    if (!told || told.cell.most[cell] === Infinity) return;
    const off = Math.abs(told.luma[cell]! - merged);
    if (off < least) [best, least] = [k, off];
  });
  return best;
}

/** A tone that a frame says beside one that the merge has. */
export interface OtherTone {
  /** By how much the two differ at least, encoded. */
  readonly apart: number;
  /** Whether nothing else explains it; otherwise it is so if something moved there. */
  readonly isSure: boolean;
}

/** Whether a frame says another tone than one whose tone the merge has; null if it does not. */
export function otherTone(own: ToldTones, other: ToldTones, merged: number, cell: number): OtherTone | null {
  const off = Math.abs(merged - own.luma[cell]!);
  const apartBy = (by: 'cell' | 'around', least: number): number => {
    const apart = Math.max(other[by].least[cell]! - own[by].most[cell]!, own[by].least[cell]! - other[by].most[cell]!);
    return apart > least && off <= SAME_TONE * apart ? apart : 0;
  };
  const apart = apartBy('cell', LIKELY_OTHER);
  return apart > 0 ? { apart, isSure: apartBy('around', OTHER_TONE) > 0 } : null;
}
