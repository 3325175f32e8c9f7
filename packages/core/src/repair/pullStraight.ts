// A line made to run as it should: what it takes to pull a pole or an edge onto the straight line between its own ends, and a cable onto the curve in
// which it hangs in the frames.
import { Matrix, solve } from 'ml-matrix';
import { badParameter } from '../checks';
import type { Segment } from '../instruments';
import { median } from '../image';
import { mostPull, reachFor, type Pull, type PullKnot } from './pull';

/** A pull that makes a line run as it should, and what was wrong with it. */
export interface Straightening {
  readonly pull: Pull;
  /** Farthest that it lay off, px. */
  readonly offPx: number;
  /** Most that it ran askew over some px of its length, degrees. */
  readonly askewDeg: number;
  /** How far its middle hangs off the straight line between its ends, px to the right as seen along it; 0 for a straight line. */
  readonly sagPx: number;
}

/** The ends by which the straight line is laid, as a share of the length, and px at least. */
const [END_SHARE, LEAST_END_PX] = [0.06, 4];
/** So much of a line has to be seen. */
const LEAST_SEEN = 0.6;
/** A line that lies off by less is straight. */
const LEAST_OFF_PX = 0.5;
/** A line that hangs by less over its length is straight; frames agree by how much it hangs to that, or to a share of it. */
const [LEAST_SAG_PX, SAME_SAG] = [1, 0.3];
/** A frame tells how a line hangs where it sees so much of it; one alone, so much. */
const [SOME_SEEN, MOST_SEEN] = [0.35, 0.6];
/** Points farther off than so many times what is usual are not of the line. */
const OUTLIER = 3;
/** How askew it runs is told over so many px. */
const ASKEW_PX = 24;
const MOST_KNOTS = 400;
const LARGEST_REACH_PX = 500;

/**
 * Works out the pull.
 * @param track where the line lies across the segment at each place along it, px to the right as seen along it; NaN or null where it is
 *   not seen
 * @param spacingPx from one place of the track to the next
 * @param reachPx how far beside the line the picture gives way at least
 * @param frames tracks of the frames, likewise: a line that hangs in them alike is made to hang, not straight; default none
 * @returns null where too little of the line is seen; `'straight'` where nothing is to be pulled
 * @throws ParameterError for a line that lies farther off than can be pulled
 */
export function pullStraight(
  track: Track,
  spacingPx: number,
  { from, to }: Segment,
  reachPx: number,
  frames: readonly (Track | null)[] = [],
): Straightening | 'straight' | null {
  const seen = pointsOf(track, spacingPx);
  if (seen.length < Math.max(3, LEAST_SEEN * track.length)) return null;
  const length = Math.hypot(to[0] - from[0], to[1] - from[1]);
  const end = Math.max(LEAST_END_PX, END_SHARE * length);
  const [first, last] = [seen[0]![0], seen.at(-1)![0]];
  const ends = [seen.filter(([s]) => s <= first + end), seen.filter(([s]) => s >= last - end)] as const;
  const [a, b] = ends.map((part) => [mean(part.map((p) => p[0])), median(part.map((p) => p[1]))] as const) as [
    readonly [number, number],
    readonly [number, number],
  ];
  if (b[0] - a[0] < LEAST_END_PX) return null;
  const sagPx = sagOf(frames, spacingPx, b[0] - a[0]);
  const shouldBeAt = (s: number): number => {
    const t = (s - a[0]) / (b[0] - a[0]);
    return a[1] + t * (b[1] - a[1]) + 4 * sagPx * t * (1 - t);
  };
  // Before the ends by which it was laid nothing moves, and beyond them nothing either.
  const moves = seen.filter(([s]) => s >= a[0] && s <= b[0]).map(([s, v]) => ({ s, move: shouldBeAt(s) - v }));
  const offPx = Math.max(...moves.map(({ move }) => Math.abs(move)));
  if (offPx < LEAST_OFF_PX) return 'straight';
  const reach = Math.max(reachPx, reachFor(offPx));
  if (reach > LARGEST_REACH_PX)
    throw badParameter('pullStraight.track', `a line at most ${mostPull(LARGEST_REACH_PX).toFixed(0)} px off`, offPx);
  const [dx, dy] = [(to[0] - from[0]) / length, (to[1] - from[1]) / length];
  const every = Math.ceil(moves.length / MOST_KNOTS);
  const knots = moves
    .filter((_, k) => k % every === 0 || k === moves.length - 1)
    .map(({ s, move }): PullKnot => {
      const across = shouldBeAt(s);
      const [x, y] = [from[0] + s * dx - across * dy, from[1] + s * dy + across * dx];
      return [hundredths(x), hundredths(y), hundredths(-move * dy), hundredths(move * dx)];
    });
  return { pull: { knots, reachPx: reach }, offPx, askewDeg: askew(moves), sagPx };
}

/** A line across a segment at places along it; NaN or null where it is not seen. */
type Track = readonly (number | null)[];

type Point = readonly [along: number, across: number];

function pointsOf(track: Track, spacingPx: number): Point[] {
  return track.flatMap((v, k) => (v === null || Number.isNaN(v) ? [] : [[k * spacingPx, v] as const]));
}

/**
 * How far the middle of a line of some length lies off the straight line between its ends, as the frames have it: a parabola, which a cable that hangs
 * little is, bends alike all along, so that each frame tells it by the part that it shows. 0 where they say nothing, or different things.
 */
function sagOf(frames: readonly (Track | null)[], spacingPx: number, lengthPx: number): number {
  const told = frames.flatMap((track) => {
    const points = track ? pointsOf(track, spacingPx) : [];
    if (points.length < SOME_SEEN * (lengthPx / spacingPx)) return [];
    return [{ points, sag: (-bendOf(points) * lengthPx ** 2) / 4 }];
  });
  if (told.length === 0) return 0;
  if (told.length === 1 && told[0]!.points.length < MOST_SEEN * (lengthPx / spacingPx)) return 0;
  const sag = median(told.map((t) => t.sag));
  const agree = told.filter((t) => Math.abs(t.sag - sag) <= Math.max(LEAST_SAG_PX, SAME_SAG * Math.abs(sag)));
  return Math.abs(sag) >= LEAST_SAG_PX && agree.length > told.length / 2 ? sag : 0;
}

/** Factor of the square in the parabola through points, by least squares; points far off are left out, twice. */
function bendOf(points: readonly Point[]): number {
  const middle = mean(points.map((p) => p[0]));
  const half = Math.max(1, (points.at(-1)![0] - points[0]![0]) / 2);
  let kept = points.map(([s, v]) => [(s - middle) / half, v] as const);
  for (let round = 0; ; round++) {
    const rows = new Matrix(kept.map(([t]) => [1, t, t * t]));
    const [p, q, c] = solve(rows, Matrix.columnVector(kept.map(([, v]) => v)), true).getColumn(0) as [
      number,
      number,
      number,
    ];
    if (round === 2) return c / half ** 2;
    const off = kept.map(([t, v]) => Math.abs(v - p - q * t - c * t * t));
    const usual = 1.4826 * median(off) + 0.01;
    kept = kept.filter((_, k) => off[k]! <= OUTLIER * usual);
  }
}

/** Hundredths of a px are finer than any line is followed. */
function hundredths(v: number): number {
  return Number(v.toFixed(2));
}

/** The greatest angle between the line and what it should be over some px. */
function askew(moves: readonly { readonly s: number; readonly move: number }[]): number {
  let most = 0;
  let k = 0;
  for (const { s, move } of moves) {
    while (s - moves[k]!.s > ASKEW_PX) k++;
    const run = s - moves[k]!.s;
    if (run >= ASKEW_PX / 2) most = Math.max(most, Math.abs(Math.atan((move - moves[k]!.move) / run)));
  }
  return (most * 180) / Math.PI;
}

function mean(values: readonly number[]): number {
  return values.reduce((sum, v) => sum + v, 0) / values.length;
}
