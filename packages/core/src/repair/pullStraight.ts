// A line made straight: what it takes to pull a cable, a pole or an edge onto the straight line between its own ends.
import { badParameter } from '../checks';
import type { Segment } from '../instruments';
import { median } from '../image';
import { mostPull, reachFor, type Pull, type PullKnot } from './pull';

/** A pull that makes a line straight, and what was wrong with it. */
export interface Straightening {
  readonly pull: Pull;
  /** Farthest that it lay off the straight line, px. */
  readonly offPx: number;
  /** Most that it ran askew over some px of its length, degrees. */
  readonly askewDeg: number;
}

/** The ends by which the straight line is laid, as a share of the length, and px at least. */
const [END_SHARE, LEAST_END_PX] = [0.06, 4];
/** So much of a line has to be seen. */
const LEAST_SEEN = 0.6;
/** A line that lies off by less is straight. */
const LEAST_OFF_PX = 0.5;
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
 * @returns null where too little of the line is seen; `'straight'` where nothing is to be pulled
 * @throws ParameterError for a line that lies farther off than can be pulled
 */
export function pullStraight(
  track: readonly (number | null)[],
  spacingPx: number,
  { from, to }: Segment,
  reachPx: number,
): Straightening | 'straight' | null {
  const seen = track.flatMap((v, k) => (v === null || Number.isNaN(v) ? [] : [[k * spacingPx, v] as const]));
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
  const straightAt = (s: number): number => a[1] + ((s - a[0]) / (b[0] - a[0])) * (b[1] - a[1]);
  // Before the ends by which it was laid nothing moves, and beyond them nothing either.
  const moves = seen.filter(([s]) => s >= a[0] && s <= b[0]).map(([s, v]) => ({ s, move: straightAt(s) - v }));
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
      const across = straightAt(s);
      const [x, y] = [from[0] + s * dx - across * dy, from[1] + s * dy + across * dx];
      return [hundredths(x), hundredths(y), hundredths(-move * dy), hundredths(move * dx)];
    });
  return { pull: { knots, reachPx: reach }, offPx, askewDeg: askew(moves) };
}

/** Hundredths of a px are finer than any line is followed. */
function hundredths(v: number): number {
  return Number(v.toFixed(2));
}

/** The greatest angle between the line and the straight one over some px. */
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
