// Light of a near edge that a frame focused behind it spreads over the background, cell by cell, at one cell size.
import { cellTent, closestFrame, type CellFrame, type CellPicture, type CellStack } from '../cells';
import { EDGE_OVER_NOISE, type NearSide } from './nearSide';

/** What spread light does to a cell, were a given frame shown there. */
export interface SpillFinder {
  /**
   * Looks for a near edge beside the cell that frame `shown` has out of focus, and measures its light in that frame.
   * @returns null when no such edge is near
   */
  inFrame(cell: number, shown: number, nearSide: NearSide): Spill | null;
  /**
   * Looks for light of a near edge in the merge. The merge may mix frames there, so it is measured by itself: the frame
   * it is taken to show is the one with as much of that light.
   * @returns null when no edge is near, or the merge departs from the edge's frame otherwise than by the edge's light
   */
  inMerge(cell: number, nearSide: NearSide): Spill | null;
}

export interface Spill {
  /** Frame in which the near edge is sharp. */
  readonly edgeFrame: number;
  /** Frame whose light it is. */
  readonly shown: number;
  /** Share of the near thing's colour mixed in, about 0 to 0.5 outside its edge. */
  readonly share: number;
  /** Squared colour error (mean over R, G, B) the spread light makes. */
  readonly squaredError: number;
  /** Growth of the share per frame step further away from the near edge's focus; spread light grows, texture does not. */
  readonly growth: number;
  /** Least predicted squared error (spread light plus lost detail) of the frames between the edge's and the shown one. */
  readonly leastError: number;
  readonly leastFrame: number;
  /** The same by spread light and by what is lost of the broad forms alone: it shows the tone that the cell should have. */
  readonly toneFrame: number;
  /** Predicted squared error of any frame at this cell: light it spreads plus detail it loses against the shown one. */
  errorOf(frame: number): number;
}

/** Search radius in cells; wider light is found on coarser cells. */
const SPILL_RADIUS_CELLS = 6;
// A place counts as textured, and its sharpest frame as known, from here.
const TEXTURE_OVER_NOISE = 8;
// An edge is out of focus when it keeps less than a sixth of its detail.
const EDGE_LOSS = 6;
// The near thing must differ from the background by 4 % of full scale, or its light could not be told from noise.
const LEAST_CONTRAST = 0.0016;
// Of the merge's departure from the edge's frame, this part must lie along the edge's light.
const MOSTLY = 0.5;

/**
 * Prepares the search for light that spreads up to 6 cells.
 * @param best sharpest frame per cell
 * @param tentRadius in cells, over which colours are averaged
 * Cost: preparing about 30 operations per cell; a query visits up to 113 cells.
 */
export function findSpillNear(stack: CellStack, best: Uint8Array, tentRadius = 2): SpillFinder {
  const { width, height, frames, merge } = stack;
  const { meanAt, textureAt } = cellTent(width, height, tentRadius);
  const strong = new Uint8Array(width * height);
  const textured = new Uint8Array(width * height);
  for (let i = 0; i < strong.length; i++) {
    const overNoise = frames[best[i]!]!.middle[i]! / stack.noiseMiddle[i]!;
    strong[i] = overNoise > EDGE_OVER_NOISE ? 1 : 0;
    textured[i] = overNoise > TEXTURE_OVER_NOISE ? 1 : 0;
  }
  const edges = frameRange(strong, best, width, height);
  const surround = frameRange(textured, best, width, height);

  const { outOfFocus, strongestEdge } = searchEdges(stack, best, strong);

  const measure = (cell: number, edge: number): Spread | null => {
    const a = best[edge]!;
    const from = frames[a]!.mean.map((plane) => meanAt(plane, cell));
    // Direction from the background's colour, as the edge's frame shows it, to the near thing's colour.
    const d = frames[a]!.mean.map((plane, c) => meanAt(plane, edge) - from[c]!);
    const norm = d[0]! ** 2 + d[1]! ** 2 + d[2]! ** 2;
    if (norm / 3 < LEAST_CONTRAST) return null;
    const differenceOf = (m: CellPicture['mean']): number[] => m.map((plane, c) => meanAt(plane, cell) - from[c]!);
    const shareOf = (difference: readonly number[]): number =>
      (difference[0]! * d[0]! + difference[1]! * d[1]! + difference[2]! * d[2]!) / norm;
    return { edgeFrame: a, norm, differenceOf, shareOf };
  };

  const judge = (cell: number, shown: number, spread: Spread, share: number): Spill => {
    const { edgeFrame: a, norm, differenceOf, shareOf } = spread;
    const shareIn = (k: number): number => shareOf(differenceOf(frames[k]!.mean));
    const away = Math.sign(shown - a);
    const beyond = Math.min(frames.length - 1, Math.max(0, shown + away));
    const before = shown - away;
    const growth = (shareIn(beyond) - shareIn(before)) / Math.abs(beyond - before);
    // All that blur can take away: the focus bands, and what is wider than they are but narrower than the light.
    const formsIn = (k: number): number => frames[k]!.mean.reduce((sum, plane) => sum + textureAt(plane, cell) / 3, 0);
    const forms = formsIn(shown);
    const detail = detailOf(frames[shown]!, cell) + forms;
    const errorsOf = (m: number): { all: number; tone: number } => {
      const light = (Math.max(0, shareIn(m)) ** 2 * norm) / 3;
      const formsHere = formsIn(m);
      const lost = Math.max(0, detail - detailOf(frames[m]!, cell) - formsHere);
      return { all: light + lost, tone: light + Math.max(0, forms - formsHere) };
    };
    let [leastError, leastFrame, toneError, toneFrame] = [Infinity, a, Infinity, a];
    for (let m = a; m !== shown; m += away) {
      const { all, tone } = errorsOf(m);
      if (all < leastError) [leastError, leastFrame] = [all, m];
      if (tone < toneError) [toneError, toneFrame] = [tone, m];
    }
    return {
      edgeFrame: a,
      shown,
      share,
      squaredError: (share * share * norm) / 3,
      growth,
      leastError,
      leastFrame,
      toneFrame,
      errorOf: (m) => errorsOf(m).all,
    };
  };

  return {
    inFrame(cell, shown, nearSide) {
      // Most cells have no edge of another depth in reach: they are told apart before any search.
      if (nearSide === 'first' ? edges.least[cell]! > shown - 2 : edges.most[cell]! < shown + 2) return null;
      const edge = strongestEdge(cell, (k, q) =>
        (nearSide === 'first' ? k > shown - 2 : k < shown + 2) ? false : outOfFocus(shown, k, q),
      );
      const spread = edge < 0 ? null : measure(cell, edge);
      return spread && judge(cell, shown, spread, spread.shareOf(spread.differenceOf(frames[shown]!.mean)));
    },
    inMerge(cell, nearSide) {
      if (!merge) return null;
      let far = nearSide === 'first' ? surround.most[cell]! : surround.least[cell]!;
      // Where the cell is too plain to tell its frame, it is taken for the one the merge resembles.
      if (!textured[cell]) {
        const resembled = closestFrame(stack, cell);
        far = nearSide === 'first' ? Math.max(far, resembled) : Math.min(far, resembled);
      }
      if (nearSide === 'first' ? edges.least[cell]! > far - 2 : edges.most[cell]! < far + 2) return null;
      const edge = strongestEdge(cell, (k, q) => Math.abs(far - k) >= 2 && outOfFocus(far, k, q));
      const spread = edge < 0 ? null : measure(cell, edge);
      if (!spread) return null;
      const difference = spread.differenceOf(merge.mean);
      const share = spread.shareOf(difference);
      const departure = difference[0]! ** 2 + difference[1]! ** 2 + difference[2]! ** 2;
      if (share <= 0 || share * share * spread.norm < MOSTLY * departure) return null;
      const shown = frameWithShare(spread, share, edge, nearSide);
      return shown < 0 ? null : judge(cell, shown, spread, share);
    },
  };

  /** The frame behind the edge's, in which the edge is out of focus, whose share comes closest. */
  function frameWithShare(spread: Spread, share: number, edge: number, nearSide: NearSide): number {
    const away = nearSide === 'first' ? 1 : -1;
    let [closest, least] = [-1, Infinity];
    for (let k = spread.edgeFrame + 2 * away; k >= 0 && k < frames.length; k += away) {
      if (!outOfFocus(k, spread.edgeFrame, edge)) continue;
      const off = Math.abs(spread.shareOf(spread.differenceOf(frames[k]!.mean)) - share);
      if (off < least) [least, closest] = [off, k];
    }
    return closest;
  }
}

/** The colour axis along which a near edge spreads its light over a cell. */
interface Spread {
  readonly edgeFrame: number;
  /** Squared length of the axis. */
  readonly norm: number;
  /** How a picture's colour at the cell departs from the edge's frame. */
  differenceOf(mean: CellPicture['mean']): number[];
  /** Such a departure as a share of the axis. */
  shareOf(difference: readonly number[]): number;
}

function detailOf(frame: CellFrame, cell: number): number {
  return frame.fine[cell]! + frame.middle[cell]! + frame.coarse[cell]!;
}

/** Finds the edge a cell may be lit by. */
function searchEdges(stack: CellStack, best: Uint8Array, strong: Uint8Array) {
  const { width, height, frames } = stack;
  const { dx, dy, steps } = discOffsets(width);
  // How strong the edge of each cell is, 0 where it is none: asked up to 113 times per cell, so it lies in one place.
  const edgeEnergy = Float32Array.from(strong, (is, q) => (is ? frames[best[q]!]!.middle[q]! : 0));
  const outOfFocus = (frame: number, edgeFrame: number, q: number): boolean =>
    frames[frame]!.middle[q]! * EDGE_LOSS <= frames[edgeFrame]!.middle[q]!;

  const strongestEdge = (cell: number, counts: (edgeFrame: number, q: number) => boolean): number => {
    const x = cell % width;
    const y = (cell - x) / width;
    const r = SPILL_RADIUS_CELLS;
    const inner = x >= r && y >= r && x < width - r && y < height - r;
    let found = -1;
    let energy = 0;
    for (let s = 0; s < steps.length; s++) {
      if (!inner && !(x + dx[s]! >= 0 && y + dy[s]! >= 0 && x + dx[s]! < width && y + dy[s]! < height)) continue;
      const q = cell + steps[s]!;
      const e = edgeEnergy[q]!;
      if (e <= energy || !counts(best[q]!, q)) continue;
      [energy, found] = [e, q];
    }
    return found;
  };

  return { outOfFocus, strongestEdge };
}

/** Cells within reach of one: steps across and down, and in a row of cells. */
function discOffsets(width: number): { readonly dx: Int32Array; readonly dy: Int32Array; readonly steps: Int32Array } {
  const [dx, dy]: [number[], number[]] = [[], []];
  for (let y = -SPILL_RADIUS_CELLS; y <= SPILL_RADIUS_CELLS; y++) {
    for (let x = -SPILL_RADIUS_CELLS; x <= SPILL_RADIUS_CELLS; x++) {
      if (x * x + y * y > SPILL_RADIUS_CELLS ** 2) continue;
      dx.push(x);
      dy.push(y);
    }
  }
  return { dx: Int32Array.from(dx), dy: Int32Array.from(dy), steps: Int32Array.from(dx, (x, s) => dy[s]! * width + x) };
}

/** Least and greatest best frame of the marked cells within the search square; 255 and -1 where there is none. */
function frameRange(
  marked: Uint8Array,
  best: Uint8Array,
  width: number,
  height: number,
): { least: Int16Array; most: Int16Array } {
  const n = marked.length;
  const rowLeast = new Int16Array(n).fill(255);
  const rowMost = new Int16Array(n).fill(-1);
  const r = SPILL_RADIUS_CELLS;
  for (let i = 0; i < n; i++) {
    if (!marked[i]) continue;
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
