// Which end of the series is focused nearest: along jumps in depth the edge belongs to the near thing.
import { cellLuma, type CellStack } from '../cells';

/** Which end of the series is focused nearest. */
export type NearSide = 'first' | 'last';

/** An edge counts when its detail stands this far above noise. */
export const EDGE_OVER_NOISE = 40;

/** Votes for the near side: along jumps of the best frame, the edge itself is sharp in the near thing's frame. */
export interface NearSideVotes {
  readonly first: number;
  readonly last: number;
}

/** What one frame shows sharpest, along a row or column: frames so far apart are of one depth, in so many cells at least. */
const [ONE_DEPTH, LEAST_RUN] = [1, 3];
/** Its detail stands so far above noise. */
const TEXTURE_OVER_NOISE = 8;
/** Two depths meet where their runs lie within so many cells of each other, and so many frames apart. */
const [MOST_GAP, LEAST_JUMP] = [6, 3];
/** Cells beyond the ends of both runs among which the edge is looked for, and cells to both sides of it that tell how high its step is. */
const [BEYOND, BESIDE] = [2, 2];
/** Least step of an edge between two depths, encoded luma. */
const LEAST_STEP = 0.1;
/** The frame that owns the edge shows so many times the other's detail at it. */
const OWNS = 3;
/** Beside the edge there is no other half as high, and the other frame has half its step as well: blurred, but there. */
const HALF = 0.5;

/**
 * Counts, along rows and columns, which side of each jump in depth owns the edge between both. Each side has to be seen sharp for a while:
 * beside a strong edge in front of something plain any frame may show most of its blur, and tells nothing of depth.
 * @param best sharpest frame per cell
 * Cost: 20 ns per cell and frame.
 */
export function voteNearSide(stack: CellStack, best: Uint8Array): NearSideVotes {
  const { width, height } = stack;
  const lumas = stack.frames.map(cellLuma);
  const votes = { first: 0, last: 0 };
  const count = (start: number, step: number, cells: number): void => {
    const line: Line = { start, step, cells };
    const runs = runsOf(stack, best, line);
    for (let r = 1; r < runs.length; r++) {
      const owner = ownerOf(stack, lumas, line, runs[r - 1]!, runs[r]!);
      if (owner !== null) votes[owner]++;
    }
  };
  for (let y = 0; y < height; y++) count(y * width, 1, width);
  for (let x = 0; x < width; x++) count(x, width, height);
  return votes;
}

/** A row or column of cells. */
interface Line {
  readonly start: number;
  readonly step: number;
  readonly cells: number;
}

/** Cells of a line that frames of about one depth show sharpest. */
interface Run {
  readonly from: number;
  readonly to: number;
  readonly frame: number;
}

function runsOf({ frames, noiseMiddle }: CellStack, best: Uint8Array, { start, step, cells }: Line): Run[] {
  const runs: Run[] = [];
  let [from, first, sum] = [-1, 0, 0];
  const close = (to: number): void => {
    if (from >= 0 && to - from >= LEAST_RUN) runs.push({ from, to: to - 1, frame: Math.round(sum / (to - from)) });
    from = -1;
  };
  for (let t = 0; t < cells; t++) {
    const i = start + t * step;
    const k = best[i]!;
    const isTexture = frames[k]!.middle[i]! > TEXTURE_OVER_NOISE * noiseMiddle[i]!;
    if (!isTexture || (from >= 0 && Math.abs(k - first) > ONE_DEPTH)) close(t);
    if (!isTexture) continue;
    if (from < 0) [from, first, sum] = [t, k, 0];
    sum += k;
  }
  close(cells);
  return runs;
}

/** The end of the series that owns the edge between two runs; null where there is no jump, no edge, or more than one. */
function ownerOf(
  { frames, noiseMiddle }: CellStack,
  lumas: readonly Float32Array[],
  { start, step, cells }: Line,
  one: Run,
  other: Run,
): NearSide | null {
  if (other.from - one.to > MOST_GAP || Math.abs(one.frame - other.frame) < LEAST_JUMP) return null;
  const [from, to] = [one.to - BEYOND, other.from + BEYOND];
  if (from < BESIDE + 2 || to + BESIDE + 2 >= cells) return null;
  const stepAt = (frame: number, t: number, reach: number): number =>
    Math.abs(lumas[frame]![start + (t + reach) * step]! - lumas[frame]![start + (t - reach) * step]!);
  let [at, most] = [-1, LEAST_STEP];
  for (let t = from; t <= to; t++) {
    const high = Math.max(stepAt(one.frame, t, BESIDE), stepAt(other.frame, t, BESIDE));
    if (high > most) [at, most] = [t, high];
  }
  if (at < 0) return null;
  const detailAt = (frame: number): number =>
    Math.max(...[-1, 0, 1].map((d) => frames[frame]!.middle[start + (at + d) * step]!));
  const [mine, theirs] = [detailAt(one.frame), detailAt(other.frame)];
  const sharpest = Math.max(mine, theirs);
  if (sharpest < EDGE_OVER_NOISE * noiseMiddle[start + at * step]! || sharpest < OWNS * Math.min(mine, theirs))
    return null;
  const [owner, behind] = mine > theirs ? [one.frame, other.frame] : [other.frame, one.frame];
  let edges = 0;
  for (let t = from; t <= to; t++) {
    const high = stepAt(owner, t, 1);
    if (high > HALF * most && high >= stepAt(owner, t - 1, 1) && high > stepAt(owner, t + 1, 1)) edges++;
  }
  if (edges !== 1 || stepAt(behind, at, BESIDE + 1) < HALF * most) return null;
  return owner < behind ? 'first' : 'last';
}

/** Distances to which frames were focused tell the near end where they go one way: the ends differ by this share, and so many steps agree. */
const [LEAST_TRAVEL, MOST_STEPS] = [0.01, 0.9];

/**
 * The end of the series that is focused nearest, as the files say it.
 * @param distances to which the frames were focused, in shooting order, m; null where a file says nothing
 * @returns null where they do not all say it, or do not go one way (a camera on a rail keeps its distance)
 */
export function nearEndSaid(distances: readonly (number | null)[]): NearSide | null {
  const all = distances.filter((d) => d !== null && d > 0) as number[];
  if (all.length < 3 || all.length < distances.length) return null;
  const [start, end] = [all[0]!, all[all.length - 1]!];
  if (Math.abs(end - start) < LEAST_TRAVEL * Math.min(start, end)) return null;
  const isAway = end > start;
  const agreeing = all.slice(1).filter((d, n) => (isAway ? d >= all[n]! : d <= all[n]!)).length;
  return agreeing >= MOST_STEPS * (all.length - 1) ? (isAway ? 'first' : 'last') : null;
}

/** The side with more votes; 'first' on a tie. */
export function nearSideOf(votes: NearSideVotes): NearSide {
  return votes.last > votes.first ? 'last' : 'first';
}
