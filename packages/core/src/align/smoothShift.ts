// What a model leaves between a merge and a frame, as a shift that changes slowly: too stiff to follow a part that lies wrong.
import { LuDecomposition, Matrix } from 'ml-matrix';
import type { Region } from '../image';

/** A polynomial in x and y per axis over a region, px. */
export interface SmoothShift {
  /** Degree: 0 a shift, 1 affine, 2 or 3 bent; 4 is a cubic with the fifth order of what a lens bends about the region's middle. */
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
  /** The same of the ties farthest from the region's middle. */
  readonly rimPx: number;
}

/** Ties asked for per degree: four for each number to be found. */
const TIES_FOR = [3, 12, 24, 48, 96] as const;
const ROUNDS = 10;
/** No tie is better than this, px: what blocks say of themselves is noise alone. */
const BEST_TIE_PX = 0.05;
/** Ties within this many deviations agree. */
const AGREES = 4.685;

/** The farthest ties, of which so many, are asked by themselves: what a lens bends it bends at the rim, where few ties lie. */
const RIM = 0.08;
/** At the rim a richer one has to gain this, px, to be taken although the rest gains nothing. */
const RIM_GAIN_PX = 0.15;

/** A richer polynomial must leave less than this share of what a plainer one leaves, and less by so many px. */
const LEAVES_AT_MOST = 0.85;
const GAIN_PX = 0.04;

/**
 * Fits the plainest polynomial that leaves no more than a richer one would, robustly (Tukey's biweight): ties on a part that lies wrong
 * are left out, and a cubic over the whole picture cannot bend into it.
 * @param region over which the ties are spread, px
 * @param mostDegree default 3; 4 where a lens may bend the rim
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
    const isBetter = gain > GAIN_PX && richer.residualPx < LEAVES_AT_MOST * best.residualPx;
    const isBetterAtRim =
      best.rimPx - richer.rimPx > RIM_GAIN_PX &&
      richer.rimPx < LEAVES_AT_MOST * best.rimPx &&
      richer.residualPx < best.residualPx + GAIN_PX / 2;
    if (isSure || isBetter || isBetterAtRim) best = richer;
  }
  return best;
}

function polynomial(
  ties: readonly ShiftTie[],
  information: readonly number[],
  region: Region,
  degree: number,
): SmoothShift {
  const rows = ties.map((t) => termsAt(degree, region, t.x, t.y));
  const count = rows[0]!.length;
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
    const cut =
      AGREES *
      Math.max(BEST_TIE_PX, 1.4826 * weightedMedian(off, information)) *
      Math.max(1, (degree > 3 ? 6 : 3) - round);
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
  const { x, y, width, height } = shift.region;
  const off = ties.map((t) => {
    const [dx, dy] = shiftAt(shift, t.x, t.y);
    return Math.hypot(t.u - t.x - dx, t.v - t.y - dy);
  });
  const far = ties.map((t) => Math.hypot((t.x - x) / width - 0.5, (t.y - y) / height - 0.5));
  const rim = [...far.keys()].sort((a, b) => far[b]! - far[a]!).slice(0, Math.ceil(RIM * ties.length));
  return {
    shift,
    residualPx: weightedMedian(off, information),
    rimPx: weightedMedian(
      rim.map((i) => off[i]!),
      rim.map((i) => information[i]!),
    ),
  };
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

/** Beyond its ties a shift goes on as it does before their rim, over this share of the region: ties are middles of blocks. */
const GOES_ON = 0.1;

/** The shift at a place, px; outside the region it goes on a little as it does inside, and then no farther. */
export function shiftAt({ degree, region, dx, dy }: SmoothShift, x: number, y: number): [number, number] {
  const [px, qx] = aboutEdge(x, region.x, region.width);
  const [py, qy] = aboutEdge(y, region.y, region.height);
  const at = termsAt(degree, region, px, py);
  const here: [number, number] = [dot(at, dx), dot(at, dy)];
  if (px === qx && py === qy) return here;
  // Mirrored in the place at the edge: as steep beyond it as before.
  const before = termsAt(degree, region, qx, qy);
  return [2 * here[0] - dot(before, dx), 2 * here[1] - dot(before, dy)];
}

/** The place in a span that is nearest to v, and the one as far inside of it as v lies outside. */
function aboutEdge(v: number, from: number, length: number): [nearest: number, mirrored: number] {
  const nearest = Math.min(from + length, Math.max(from, v));
  const most = GOES_ON * length;
  return [nearest, nearest - Math.min(most, Math.max(-most, v - nearest))];
}

function termsAt(degree: number, { x: left, y: top, width, height }: Region, x: number, y: number): number[] {
  const half = Math.max(width, height) / 2;
  const u = (x - left - width / 2) / half;
  const v = (y - top - height / 2) / half;
  const out: number[] = [];
  for (let d = 0; d <= Math.min(3, degree); d++) for (let b = 0; b <= d; b++) out.push(u ** (d - b) * v ** b);
  const rim = (u * u + v * v) ** 2;
  if (degree > 3) out.push(u * rim, v * rim);
  return out;
}

function dot(a: readonly number[], b: readonly number[]): number {
  return a.reduce((s, v, i) => s + v * b[i]!, 0);
}
