// Which frame each cell of a focus stack should come from, before regularising.
import {
  makeGlowFinder,
  sharpestFrames,
  SIGNIFICANT_OVER_NOISE,
  voteNearSide,
  type CellStack,
  type NearSide,
  type NearSideVotes,
} from '../provenance';

/** Proposal for one region; the near end of the series is only known once all regions have voted, so both are kept. */
export interface LabelProposal {
  readonly first: Uint8Array;
  readonly last: Uint8Array;
  /** Sureness 0..1: 0 where nothing stands above noise. */
  readonly weight: Float32Array;
  readonly votes: NearSideVotes;
}

const GLOW_WORTH_AVOIDING = 0.05;

/**
 * Takes the sharpest frame of each cell, except beside a near edge, where the frame is taken that errs least by spread
 * light and lost detail together.
 * @param stack cells of the frames (no merge needed)
 * @param keep a frame that is taken wherever it shows no less than this much of the best one's detail; null for none
 */
export function proposeLabels(stack: CellStack, keep: number | null = null): LabelProposal {
  const best = sharpestFrames(stack);
  const finder = makeGlowFinder({ ...stack, merge: null }, best);
  const weight = new Float32Array(best.length);
  for (let i = 0; i < best.length; i++) {
    const snr = stack.frames[best[i]!]!.middle[i]! / stack.noiseMiddle[i]!;
    weight[i] = snr < SIGNIFICANT_OVER_NOISE ? 0 : Math.min(1, (snr - SIGNIFICANT_OVER_NOISE) / 20);
  }
  const avoidGlow = (side: NearSide): Uint8Array => {
    const labels = best.slice();
    for (let i = 0; i < labels.length; i++) {
      const glow = finder.inFrame(i, best[i]!, side);
      if (glow && glow.share > GLOW_WORTH_AVOIDING && glow.squaredError > glow.leastError) labels[i] = glow.leastFrame;
    }
    if (keep !== null) keepFrame(stack, labels, best, keep, (i) => finder.inFrame(i, keep, side)?.share ?? 0);
    return labels;
  };
  return { first: avoidGlow('first'), last: avoidGlow('last'), weight, votes: voteNearSide(stack, best) };
}

/** Of the best frame's energy in both fine bands, what the kept frame must show. */
const KEPT_SHARE = 0.6;

/** Gives cells to the kept frame where it is nearly as sharp as the best, and no glow lies over it. */
function keepFrame(
  stack: CellStack,
  labels: Uint8Array,
  best: Uint8Array,
  keep: number,
  glowAt: (cell: number) => number,
): void {
  const own = stack.frames[keep]!;
  for (let i = 0; i < labels.length; i++) {
    if (!own.valid[i] || labels[i] === keep) continue;
    const other = stack.frames[best[i]!]!;
    const sharp = own.fine[i]! >= KEPT_SHARE * other.fine[i]! && own.middle[i]! >= KEPT_SHARE * other.middle[i]!;
    if (sharp && glowAt(i) <= GLOW_WORTH_AVOIDING) labels[i] = keep;
  }
}
