// What the models of a set leave, as small smooth shifts of each frame, kept short enough that no straight line bends visibly.
import { badParameter } from '../checks';
import {
  frameToMerge,
  type FrameGeometry,
  type LocalField,
  localShiftAt,
  mergeToFrame,
  type FrameSize,
} from '../frame';
import { quantile } from '../image';
import type { TiedPair } from './solvePlanes';

const COLUMNS = 24;
const ROWS = 16;
const SWEEPS = 6;
/** Radius of the smoothing, cells: parallax follows things, which are larger than a block. */
const REACH_CELLS = 1.2;
/** Prior sigma of a shift before it is measured, px: places without detail keep to the model. */
const USUAL_SHIFT_PX = 0.5;
/** No tie is better than this, px: what blocks say of themselves is noise alone. */
const BEST_TIE_PX = 0.05;
/** Ties farther from their surroundings than this many deviations moved by themselves. */
const MOVED = 3;

/**
 * Finds each frame's local field. Straight lines stay straight within `bendPx`: a place on a line moves by at most half of it, and so
 * do the line's ends, hence no place leaves the chord by more than the whole (models themselves keep lines straight).
 * @param fixed frame whose picture is not touched; null where none is the reference
 * @param bendPx the bound, px of the frames, more than 0
 * @returns per frame its field, null for the fixed one and for frames without ties
 * @throws ParameterError for a bound of 0 or less
 * Cost: about 20 projections per tie.
 */
export function solveLocalFields(
  views: readonly FrameGeometry[],
  sizes: readonly FrameSize[],
  pairs: readonly TiedPair[],
  fixed: number | null,
  bendPx: number,
): (LocalField | null)[] {
  if (!(bendPx > 0)) throw badParameter('solveLocalFields.bendPx', 'more than 0 px', bendPx);
  const plain = views.map((v): FrameGeometry => {
    const { local: _, ...model } = v;
    return model;
  });
  const fields = views.map((): LocalField | null => null);
  const order = views.map((_, k) => k).sort((a, b) => Math.abs(a - (fixed ?? 0)) - Math.abs(b - (fixed ?? 0)));
  for (let sweep = 0; sweep < SWEEPS; sweep++) {
    // Without a reference all frames move at once, each by half: so two frames share what lies between them.
    const before = fixed === null ? [...fields] : fields;
    for (const k of order) {
      if (k === fixed) continue;
      const shifts = shiftsOf(k, plain, before, pairs);
      if (shifts.length === 0) continue;
      const wanted = smoothField(shifts, sizes[k]!, bendPx / 2);
      fields[k] = fixed === null ? between(before[k]!, wanted) : wanted;
    }
  }
  return fields.map((f) => f && { ...f, dx: f.dx.map(towardsZero), dy: f.dy.map(towardsZero) });
}

/** Thousandths of a px are kept: rounding must not lengthen a shift beyond the bound. */
function towardsZero(shift: number): number {
  return Math.trunc(shift * 1000) / 1000;
}

function between(a: LocalField | null, b: LocalField): LocalField {
  const half = (list: readonly number[], other: readonly number[] | undefined): number[] =>
    list.map((d, n) => (d + (other?.[n] ?? 0)) / 2);
  return { ...b, dx: half(b.dx, a?.dx), dy: half(b.dy, a?.dy) };
}

/** A place of a frame, and how far off it is from where the others show the same. */
interface Shift {
  readonly x: number;
  readonly y: number;
  readonly dx: number;
  readonly dy: number;
  readonly weight: number;
}

/** Where the frame's places would have to be shifted to, were the others right as they are now. */
function shiftsOf(
  k: number,
  views: readonly FrameGeometry[],
  fields: readonly (LocalField | null)[],
  pairs: readonly TiedPair[],
): Shift[] {
  return pairs.flatMap(({ from, to, ties }): Shift[] => {
    if (from !== k && to !== k) return [];
    const other = from === k ? to : from;
    const otherView = fields[other] ? { ...views[other]!, local: fields[other] } : views[other]!;
    return ties.flatMap((t): Shift[] => {
      const [x, y, u, v] = from === k ? [t.x, t.y, t.u, t.v] : [t.u, t.v, t.x, t.y];
      const there = frameToMerge(otherView, u, v);
      const at = there && mergeToFrame(views[k]!, there[0], there[1]);
      if (!at) return [];
      return [{ x: at[0], y: at[1], dx: x - at[0], dy: y - at[1], weight: Math.min(t.weight, 1 / BEST_TIE_PX ** 2) }];
    });
  });
}

/** Weighted local means of the shifts, those that moved by themselves left out, none longer than `mostPx`. */
function smoothField(shifts: readonly Shift[], { width, height }: FrameSize, mostPx: number): LocalField {
  let kept = shifts;
  let field = meanField(kept, width, height);
  for (let round = 0; round < 2; round++) {
    const off = shifts.map((s) => {
      const [dx, dy] = localShiftAt(field, s.x, s.y);
      return Math.hypot(s.dx - dx, s.dy - dy);
    });
    const limit = MOVED * Math.max(0.1, 1.4826 * quantile(off, 0.5));
    kept = shifts.filter((_, n) => off[n]! <= limit);
    field = meanField(kept, width, height);
  }
  const shorten = field.dx.map((dx, n) => Math.min(1, mostPx / Math.max(1e-12, Math.hypot(dx, field.dy[n]!))));
  return { ...field, dx: field.dx.map((d, n) => d * shorten[n]!), dy: field.dy.map((d, n) => d * shorten[n]!) };
}

function meanField(shifts: readonly Shift[], width: number, height: number): LocalField {
  const sums = [0, 1, 2].map(() => new Float64Array(COLUMNS * ROWS)) as [Float64Array, Float64Array, Float64Array];
  const reach = Math.ceil(2.5 * REACH_CELLS);
  for (const s of shifts) {
    const u = (s.x / width) * COLUMNS - 0.5;
    const v = (s.y / height) * ROWS - 0.5;
    for (let j = Math.max(0, Math.round(v) - reach); j <= Math.min(ROWS - 1, Math.round(v) + reach); j++) {
      for (let i = Math.max(0, Math.round(u) - reach); i <= Math.min(COLUMNS - 1, Math.round(u) + reach); i++) {
        const w = s.weight * Math.exp(-((i - u) ** 2 + (j - v) ** 2) / (2 * REACH_CELLS ** 2));
        const at = j * COLUMNS + i;
        sums[0][at]! += w;
        sums[1][at]! += w * s.dx;
        sums[2][at]! += w * s.dy;
      }
    }
  }
  const mean = (sum: Float64Array): number[] =>
    [...sum].map((value, n) => value / (sums[0][n]! + 1 / USUAL_SHIFT_PX ** 2));
  return { columns: COLUMNS, rows: ROWS, width, height, dx: mean(sums[1]), dy: mean(sums[2]) };
}
