// What a model leaves between a merge and a frame, as a shift that changes slowly: too stiff to follow a part that lies wrong.
import { LuDecomposition, Matrix } from 'ml-matrix';
import type { Region } from '../image';

/** A polynomial in x and y per axis over a region, px. */
export interface SmoothShift {
  /** Degree: 0 a shift, 1 affine, 2 or 3 bent. */
  readonly degree: number;
  readonly region: Region;
  readonly dx: readonly number[];
  readonly dy: readonly number[];
}

/** A place (x, y) that shows what the model would show at (u, v), with its information, 1/px². */
export interface ShiftTie {
  readonly x: number;
  readonly y: number;
  readonly u: number;
  readonly v: number;
  readonly weight: number;
}

export interface FittedShift {
  readonly shift: SmoothShift;
  /** Median distance that it leaves, weighted by what the ties know, px. */
  readonly residualPx: number;
}

/** Ties asked for per degree: four for each number to be found. */
const TIES_FOR = [3, 12, 24, 48] as const;
const ROUNDS = 10;
/** No tie is better than this, px: what blocks say of themselves is noise alone. */
const BEST_TIE_PX = 0.05;
/** Ties within this many deviations agree. */
const AGREES = 4.685;

/** A richer polynomial must leave less than this share of what a plainer one leaves, and less by so many px. */
const LEAVES_AT_MOST = 0.85;
const GAIN_PX = 0.04;

/**
 * Fits the plainest polynomial that leaves no more than a richer one would, robustly (Tukey's biweight): ties on a part that lies wrong
 * are left out, and a cubic over the whole picture cannot bend into it.
 * @param region over which the ties are spread, px
 * @param mostDegree default 3
 * @returns null for fewer than three ties
 */
export function fitSmoothShift(ties: readonly ShiftTie[], region: Region, mostDegree = 3): FittedShift | null {
  if (ties.length < TIES_FOR[0]) return null;
  const information = ties.map((t) => Math.min(t.weight, 1 / BEST_TIE_PX ** 2));
  let best = judged(ties, information, { degree: 0, region, dx: [0], dy: [0] });
  for (let degree = 0; degree <= mostDegree && ties.length >= TIES_FOR[degree]!; degree++) {
    const richer = judged(ties, information, polynomial(ties, information, region, degree));
    const gain = best.residualPx - richer.residualPx;
    // Hundreds of ties tell six numbers well, also below what each tie errs by.
    const isSure = degree <= 1 && ties.length >= 4 * TIES_FOR[degree]!;
    if (isSure || (gain > GAIN_PX && richer.residualPx < LEAVES_AT_MOST * best.residualPx)) best = richer;
  }
  return best;
}

function polynomial(
  ties: readonly ShiftTie[],
  information: readonly number[],
  region: Region,
  degree: number,
): SmoothShift {
  const count = ((degree + 1) * (degree + 2)) / 2;
  const rows = ties.map((t) => termsAt(degree, region, t.x, t.y));
  let dx = new Array<number>(count).fill(0);
  let dy = new Array<number>(count).fill(0);
  // The first guess is the median shift: half of the ties may be wrong.
  dx[0] = weightedMedian(
    ties.map((t) => t.u - t.x),
    information,
  );
  dy[0] = weightedMedian(
    ties.map((t) => t.v - t.y),
    information,
  );
  for (let round = 0; round < ROUNDS; round++) {
    const off = ties.map((t, n) => Math.hypot(t.u - t.x - dot(rows[n]!, dx), t.v - t.y - dot(rows[n]!, dy)));
    // The cut narrows from round to round: at first a bend of the whole looks like many outliers.
    const cut = AGREES * Math.max(BEST_TIE_PX, 1.4826 * weightedMedian(off, information)) * Math.max(1, 3 - round);
    const normal = Matrix.zeros(count, count);
    const right = Matrix.zeros(count, 2);
    ties.forEach((t, n) => {
      const q = off[n]! / cut;
      if (q >= 1) return;
      const w = information[n]! * (1 - q * q) ** 2;
      const row = rows[n]!;
      for (let a = 0; a < count; a++) {
        right.set(a, 0, right.get(a, 0) + w * row[a]! * (t.u - t.x));
        right.set(a, 1, right.get(a, 1) + w * row[a]! * (t.v - t.y));
        for (let c = 0; c < count; c++) normal.set(a, c, normal.get(a, c) + w * row[a]! * row[c]!);
      }
    });
    // Bends that the ties do not tell stay small.
    const trace = Math.max(1e-12, normal.trace() / count);
    for (let a = 1; a < count; a++) normal.set(a, a, normal.get(a, a) + 1e-4 * trace);
    const decomposed = new LuDecomposition(normal);
    if (decomposed.isSingular()) break;
    const solved = decomposed.solve(right);
    dx = solved.getColumn(0);
    dy = solved.getColumn(1);
  }
  return { degree, region, dx, dy };
}

function judged(ties: readonly ShiftTie[], information: readonly number[], shift: SmoothShift): FittedShift {
  const off = ties.map((t) => {
    const [dx, dy] = shiftAt(shift, t.x, t.y);
    return Math.hypot(t.u - t.x - dx, t.v - t.y - dy);
  });
  return { shift, residualPx: weightedMedian(off, information) };
}

/** The value below which half of the weight lies. */
function weightedMedian(values: readonly number[], weights: readonly number[]): number {
  const order = values.map((_, i) => i).sort((a, b) => values[a]! - values[b]!);
  const half = weights.reduce((s, w) => s + w, 0) / 2;
  let run = 0;
  for (const i of order) {
    run += weights[i]!;
    if (run >= half) return values[i]!;
  }
  return values[order.at(-1)!] ?? 0;
}

/** The shift at a place, px; outside the region that of its nearest edge. */
export function shiftAt({ degree, region, dx, dy }: SmoothShift, x: number, y: number): [number, number] {
  const terms = termsAt(
    degree,
    region,
    Math.min(region.x + region.width, Math.max(region.x, x)),
    Math.min(region.y + region.height, Math.max(region.y, y)),
  );
  return [dot(terms, dx), dot(terms, dy)];
}

function termsAt(degree: number, { x: left, y: top, width, height }: Region, x: number, y: number): number[] {
  const half = Math.max(width, height) / 2;
  const u = (x - left - width / 2) / half;
  const v = (y - top - height / 2) / half;
  const out: number[] = [];
  for (let d = 0; d <= degree; d++) for (let b = 0; b <= d; b++) out.push(u ** (d - b) * v ** b);
  return out;
}

function dot(a: readonly number[], b: readonly number[]): number {
  return a.reduce((s, v, i) => s + v * b[i]!, 0);
}
