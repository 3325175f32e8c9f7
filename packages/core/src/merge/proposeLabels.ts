// Which frame each cell of a focus stack should come from, before regularising.
import { sharpestFrames, SIGNIFICANT_OVER_NOISE, type CellStack } from '../cells';
import {
  makeSpillFinder,
  EDGE_OVER_NOISE,
  voteNearSide,
  type Spill,
  type NearSide,
  type NearSideVotes,
} from '../defocus';
import { clearSpill, MOST_SHARE, type CellTones } from './clearSpill';

/** Where cells come from, if one end of the series is the near one. */
export interface ProposedSide {
  readonly labels: Uint8Array;
  /** Cells whose tone is freed of a near edge's light; of that label alone. */
  readonly tones: CellTones;
}

/** Proposal for one region. */
export interface LabelProposal {
  /** By the end that is near: of both while that is only known once all regions have voted. */
  readonly sides: Readonly<Partial<Record<NearSide, ProposedSide>>>;
  /** Sureness 0..1: 0 where nothing stands above noise. */
  readonly weight: Float32Array;
  readonly votes: NearSideVotes;
}

/** What is known of a stack before its labels are proposed. */
export interface LabelOptions {
  /** A frame that is taken wherever it shows no less than this much of the best one's detail; null for none. */
  readonly keep?: number | null;
  /** The end that is near; null while it is not known. */
  readonly nearEnd?: NearSide | null;
}

/** Nobody votes on what is known. */
const NO_VOTES: NearSideVotes = { first: 0, last: 0 };

const SPILL_WORTH_AVOIDING = 0.05;

/**
 * Takes the sharpest frame of each cell. Beside a near edge, whose light it spreads there, its detail is kept and its tone taken from
 * a frame without that light; where the light covers half or more, or there is no detail to keep, the frame is taken that errs least
 * by spread light and lost detail together.
 * @param stack cells of the frames (no merge needed)
 */
export function proposeLabels(stack: CellStack, { keep = null, nearEnd = null }: LabelOptions = {}): LabelProposal {
  const best = sharpestFrames(stack);
  const finder = makeSpillFinder({ ...stack, merge: null }, best);
  const weight = new Float32Array(best.length);
  for (let i = 0; i < best.length; i++) {
    const snr = stack.frames[best[i]!]!.middle[i]! / stack.noiseMiddle[i]!;
    weight[i] = snr < SIGNIFICANT_OVER_NOISE ? 0 : Math.min(1, (snr - SIGNIFICANT_OVER_NOISE) / 20);
  }
  const onSlope = slopesOfEdges(stack, best);
  const avoidSpill = (side: NearSide): ProposedSide => {
    const labels = best.slice();
    const spills = new Array<Spill | null>(labels.length).fill(null);
    for (let i = 0; i < labels.length; i++) {
      const behind = onSlope[i] ? behindEdge(stack, best, i, side) : -1;
      const seen = behind < 0 ? null : finder.inFrame(i, behind, side);
      if (seen && seen.share > SPILL_WORTH_AVOIDING && seen.share < MOST_SHARE && seen.growth > 0) {
        labels[i] = behind;
        spills[i] = seen;
        continue;
      }
      const spill = finder.inFrame(i, best[i]!, side);
      if (!spill || spill.share <= SPILL_WORTH_AVOIDING) continue;
      if (spill.share < MOST_SHARE && weight[i]! > 0) spills[i] = spill;
      else if (spill.squaredError > spill.leastError) labels[i] = spill.leastFrame;
    }
    if (keep !== null) keepFrame(stack, labels, best, keep, (i) => finder.inFrame(i, keep, side)?.share ?? 0);
    labels.forEach((label, i) => {
      if (spills[i] && label !== spills[i]!.shown) spills[i] = null;
    });
    return { labels, tones: clearSpill(stack, labels, spills) };
  };
  const sides = nearEnd ? { [nearEnd]: avoidSpill(nearEnd) } : { first: avoidSpill('first'), last: avoidSpill('last') };
  return { sides, weight, votes: nearEnd ? NO_VOTES : voteNearSide(stack, best) };
}

/** Of the detail of the strongest cell beside it, what a cell on its slope shows at most: the bands reach over a cell's border. */
const SLOPE = 0.35;
/** Detail of a frame behind an edge must be this many times its noise to be worth showing. */
const BEHIND_OVER_NOISE = 4;

/** 1 where a cell's detail may be no more than what an edge beside it lends. */
function slopesOfEdges({ frames, width, height, noiseMiddle }: CellStack, best: Uint8Array): Uint8Array {
  const out = new Uint8Array(best.length);
  for (let y = 1; y < height - 1; y++) {
    for (let x = 1; x < width - 1; x++) {
      const i = y * width + x;
      const { middle } = frames[best[i]!]!;
      let most = 0;
      for (let oy = -1; oy <= 1; oy++)
        for (let ox = -1; ox <= 1; ox++) most = Math.max(most, middle[i + oy * width + ox]!);
      out[i] = most > EDGE_OVER_NOISE * noiseMiddle[i]! && middle[i]! < SLOPE * most ? 1 : 0;
    }
  }
  return out;
}

/** The frame with most detail among those focused behind the cell's own, at least two steps away; −1 for none that stands above noise. */
function behindEdge({ frames, noiseMiddle }: CellStack, best: Uint8Array, cell: number, side: NearSide): number {
  const away = side === 'first' ? 1 : -1;
  let found = -1;
  let most = BEHIND_OVER_NOISE * noiseMiddle[cell]!;
  for (let k = best[cell]! + 2 * away; k >= 0 && k < frames.length; k += away) {
    const { middle, valid } = frames[k]!;
    if (valid[cell] && middle[cell]! > most) [most, found] = [middle[cell]!, k];
  }
  return found;
}

/** Of the best frame's energy in both fine bands, what the kept frame must show. */
const KEPT_SHARE = 0.6;

/** Gives cells to the kept frame where it is nearly as sharp as the best, and no spill lies over it. */
function keepFrame(
  stack: CellStack,
  labels: Uint8Array,
  best: Uint8Array,
  keep: number,
  spillAt: (cell: number) => number,
): void {
  const own = stack.frames[keep]!;
  for (let i = 0; i < labels.length; i++) {
    if (!own.valid[i] || labels[i] === keep) continue;
    const other = stack.frames[best[i]!]!;
    const sharp = own.fine[i]! >= KEPT_SHARE * other.fine[i]! && own.middle[i]! >= KEPT_SHARE * other.middle[i]!;
    if (sharp && spillAt(i) <= SPILL_WORTH_AVOIDING) labels[i] = keep;
  }
}
