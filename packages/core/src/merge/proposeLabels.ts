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
 */
export function proposeLabels(stack: CellStack): LabelProposal {
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
    return labels;
  };
  return { first: avoidGlow('first'), last: avoidGlow('last'), weight, votes: voteNearSide(stack, best) };
}
