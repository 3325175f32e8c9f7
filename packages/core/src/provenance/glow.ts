// Light of a near edge that a frame focused behind it spreads over the background, cell by cell.
import type { CellFrame, CellPicture, CellStack } from './cellStack';

/** Which end of the series is focused nearest. */
export type NearSide = 'first' | 'last';

/** What spread light does to a cell, were a given frame shown there. */
export interface GlowFinder {
  /**
   * Looks for a near edge beside the cell that frame `shown` has out of focus.
   * @param merge colour shown at the cell; the frame's own when omitted
   * @returns null when no such edge is near
   */
  at(cell: number, shown: number, nearSide: NearSide): Glow | null;
}

export interface Glow {
  /** Frame in which the near edge is sharp. */
  readonly edgeFrame: number;
  /** Share of the near thing's colour mixed in, about 0 to 0.5 outside its edge. */
  readonly share: number;
  /** Squared colour error (mean over R, G, B) the spread light makes. */
  readonly squaredError: number;
  /** Growth of the share per frame step further away from the near edge's focus; spread light grows, texture does not. */
  readonly growth: number;
  /** Least predicted squared error (spread light plus lost detail) of the frames between the edge's and the shown one. */
  readonly leastError: number;
  readonly leastFrame: number;
  /** Predicted squared error of any frame at this cell: light it spreads plus detail it loses against the shown one. */
  errorOf(frame: number): number;
}

/** Search radius in cells (24 px): beyond it spread light is too thin to matter against what blurred frames lose. */
export const GLOW_RADIUS_CELLS = 6;
// An edge counts when its detail stands this far above noise, and is out of focus when it keeps less than a sixth.
const EDGE_OVER_NOISE = 40;
const EDGE_LOSS = 6;

/**
 * Prepares the search for one region.
 * @param best sharpest frame per cell
 * Cost: preparing about 30 operations per cell and frame; a query visits up to 113 cells.
 */
export function makeGlowFinder(stack: CellStack, best: Uint8Array): GlowFinder {
  const { width, height, frames, merge } = stack;
  const colour = tentReader(width, height);
  const strong = new Uint8Array(width * height);
  for (let i = 0; i < strong.length; i++) {
    strong[i] = frames[best[i]!]!.middle[i]! > EDGE_OVER_NOISE * stack.noiseMiddle[i]! ? 1 : 0;
  }
  const edges = edgeRange(strong, best, width, height);
  const offsets = discOffsets(width);

  const strongestEdge = (cell: number, shown: number, nearSide: NearSide): number => {
    const x = cell % width;
    const y = (cell - x) / width;
    const r = GLOW_RADIUS_CELLS;
    const inner = x >= r && y >= r && x < width - r && y < height - r;
    let found = -1;
    let energy = 0;
    for (const [dx, dy, step] of offsets) {
      if (!inner && (x + dx < 0 || y + dy < 0 || x + dx >= width || y + dy >= height)) continue;
      const q = cell + step;
      if (!strong[q]) continue;
      const k = best[q]!;
      if (nearSide === 'first' ? k > shown - 2 : k < shown + 2) continue;
      const e = frames[k]!.middle[q]!;
      if (e <= energy || frames[shown]!.middle[q]! * EDGE_LOSS > e) continue;
      [energy, found] = [e, q];
    }
    return found;
  };

  return {
    at(cell, shown, nearSide) {
      // Most cells have no edge of another depth in reach: they are told apart before any search.
      if (nearSide === 'first' ? edges.least[cell]! > shown - 2 : edges.most[cell]! < shown + 2) return null;
      const edge = strongestEdge(cell, shown, nearSide);
      if (edge < 0) return null;
      const a = best[edge]!;
      const from = frames[a]!.mean.map((plane) => colour(plane, cell));
      // Direction from the background's colour, as the edge's frame shows it, to the near thing's colour.
      const d = frames[a]!.mean.map((plane, c) => colour(plane, edge) - from[c]!) as [number, number, number];
      const norm = d[0] * d[0] + d[1] * d[1] + d[2] * d[2];
      if (norm / 3 < 0.0016) return null;
      const shareOf = (m: CellPicture['mean']): number =>
        m.reduce((s, plane, c) => s + (colour(plane, cell) - from[c]!) * d[c]!, 0) / norm;
      const away = Math.sign(shown - a);
      const beyond = Math.min(frames.length - 1, Math.max(0, shown + away));
      const before = shown - away;
      const growth = (shareOf(frames[beyond]!.mean) - shareOf(frames[before]!.mean)) / Math.abs(beyond - before);
      const share = shareOf((merge ?? frames[shown]!).mean);
      const reference = detailOf(frames[shown]!, cell);
      const errorOf = (m: number): number => {
        const spread = Math.max(0, shareOf(frames[m]!.mean));
        return (spread * spread * norm) / 3 + Math.max(0, reference - detailOf(frames[m]!, cell));
      };
      let leastError = Infinity;
      let leastFrame = a;
      for (let m = a; m !== shown; m += away) {
        const error = errorOf(m);
        if (error < leastError) [leastError, leastFrame] = [error, m];
      }
      return { edgeFrame: a, share, squaredError: (share * share * norm) / 3, growth, leastError, leastFrame, errorOf };
    },
  };
}

function detailOf(frame: CellFrame, cell: number): number {
  return frame.fine[cell]! + frame.middle[cell]! + frame.coarse[cell]!;
}

/**
 * Reads a plane smoothed by the tent [1 2 3 2 1]/9 at single cells: colours are only asked for beside edges, so smoothing
 * whole planes would be wasted.
 */
function tentReader(width: number, height: number): (plane: Float32Array, cell: number) => number {
  return (plane, cell) => {
    const x = cell % width;
    const y = (cell - x) / width;
    let [sum, total] = [0, 0];
    for (let dy = -2; dy <= 2; dy++) {
      if (y + dy < 0 || y + dy >= height) continue;
      for (let dx = -2; dx <= 2; dx++) {
        if (x + dx < 0 || x + dx >= width) continue;
        const w = (3 - Math.abs(dx)) * (3 - Math.abs(dy));
        sum += w * plane[cell + dy * width + dx]!;
        total += w;
      }
    }
    return sum / total;
  };
}

function discOffsets(width: number): [number, number, number][] {
  const out: [number, number, number][] = [];
  for (let y = -GLOW_RADIUS_CELLS; y <= GLOW_RADIUS_CELLS; y++) {
    for (let x = -GLOW_RADIUS_CELLS; x <= GLOW_RADIUS_CELLS; x++) {
      if (x * x + y * y <= GLOW_RADIUS_CELLS ** 2) out.push([x, y, y * width + x]);
    }
  }
  return out;
}

/** Least and greatest best frame of the strong cells within the search square; 255 and -1 where there is none. */
function edgeRange(
  strong: Uint8Array,
  best: Uint8Array,
  width: number,
  height: number,
): { least: Int16Array; most: Int16Array } {
  const n = strong.length;
  const rowLeast = new Int16Array(n).fill(255);
  const rowMost = new Int16Array(n).fill(-1);
  const r = GLOW_RADIUS_CELLS;
  for (let i = 0; i < n; i++) {
    if (!strong[i]) continue;
    const x = i % width;
    const k = best[i]!;
    for (let j = i - Math.min(x, r); j <= i + Math.min(width - 1 - x, r); j++) {
      if (k < rowLeast[j]!) rowLeast[j] = k;
      if (k > rowMost[j]!) rowMost[j] = k;
    }
  }
  const least = new Int16Array(n).fill(255);
  const most = new Int16Array(n).fill(-1);
  for (let y = 0; y < height; y++) {
    for (let yy = Math.max(0, y - r); yy <= Math.min(height - 1, y + r); yy++) {
      const to = y * width;
      const from = yy * width;
      for (let x = 0; x < width; x++) {
        if (rowLeast[from + x]! < least[to + x]!) least[to + x] = rowLeast[from + x]!;
        if (rowMost[from + x]! > most[to + x]!) most[to + x] = rowMost[from + x]!;
      }
    }
  }
  return { least, most };
}

/** Votes for the near side: along jumps of the best frame, the edge itself is sharp in the near thing's frame. */
export interface NearSideVotes {
  readonly first: number;
  readonly last: number;
}

/**
 * Counts, along rows, which side of each jump in best frame owns the edge.
 * @param best sharpest frame per cell
 */
export function voteNearSide(stack: CellStack, best: Uint8Array): NearSideVotes {
  const { width, height, frames, noiseMiddle } = stack;
  let [first, last] = [0, 0];
  for (let y = 0; y < height; y++) {
    for (let x = 3; x < width - 6; x++) {
      const i = y * width + x;
      const a = best[i]!;
      const b = best[i + 3]!;
      if (Math.abs(a - b) < 3) continue;
      let [ea, eb] = [0, 0];
      for (let k = -3; k <= 6; k++) {
        ea = Math.max(ea, frames[a]!.middle[i + k]!);
        eb = Math.max(eb, frames[b]!.middle[i + k]!);
      }
      if (Math.max(ea, eb) < EDGE_OVER_NOISE * noiseMiddle[i]! || Math.max(ea, eb) < 2 * Math.min(ea, eb)) continue;
      const owner = ea > eb ? a : b;
      if (owner === Math.min(a, b)) first++;
      else last++;
    }
  }
  return { first, last };
}

/** The side with more votes; 'first' on a tie. */
export function nearSideOf(votes: NearSideVotes): NearSide {
  return votes.last > votes.first ? 'last' : 'first';
}
