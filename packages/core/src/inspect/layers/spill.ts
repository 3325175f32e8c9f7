// Layer: light of defocused near edges in the merge.
import { makeSpillFinder, nearSideOf, voteNearSide, type NearSide, type NearSideVotes } from '../../defocus';
import type { Layer } from './layer';
import { sharpness } from './sharpness';

export interface SpillMaps extends Readonly<Record<string, Float32Array>> {
  /** Squared error that spilled light adds over the best alternative, assuming the first (the last) frame is nearest. */
  readonly first: Float32Array;
  readonly last: Float32Array;
}

export interface SpillYardstick {
  readonly nearSide: NearSide;
  /** Share of votes for that side, 0.5..1. */
  readonly nearSideSure: number;
}

/** Which end of the series is focused nearest, by a picture's yardsticks; null where that was not looked for. */
export function nearEndIn(yardsticks: Readonly<Record<string, unknown>>): NearSide | null {
  return spill.name in yardsticks ? (yardsticks[spill.name] as SpillYardstick).nearSide : null;
}

// Spilled light must grow by this share per frame step: ten times what 12 px means of texture change by when focus moves a step.
const GROWTH = 0.005;
const LEAST_SHARE = 0.05;
const MOST_SHARE = 0.95;
const SURE_VOTES = 300;
const SURE_SHARE = 0.7;

function sumOf(votes: readonly NearSideVotes[]): NearSideVotes {
  return votes.reduce((s, v) => ({ first: s.first + v.first, last: s.last + v.last }), { first: 0, last: 0 });
}

export const spill: Layer<SpillMaps, NearSideVotes, SpillYardstick, unknown, readonly NearSide[]> = {
  name: 'spill',
  kinds: ['focus-stack'],
  needs: [sharpness],
  empty: (cells) => ({ first: new Float32Array(cells), last: new Float32Array(cells) }),
  measure(view) {
    const { stack } = view;
    const { best } = view.of(sharpness);
    const maps = this.empty(best.length);
    const finder = makeSpillFinder(stack, best);
    const said = view.facts.axis?.nearEnd;
    const sides = said ? [said] : (view.focus(spill) ?? BOTH_SIDES);
    for (let i = 0; i < best.length; i++) {
      if (!stack.merge!.valid[i]) continue;
      for (const side of sides) {
        const found = finder.inMerge(i, side);
        if (!found || found.share < LEAST_SHARE || found.share > MOST_SHARE || found.growth < GROWTH) continue;
        maps[side][i] = Math.max(0, found.squaredError - found.leastError);
      }
    }
    return { maps, samples: said ? { first: 0, last: 0, [said]: SURE_VOTES } : voteNearSide(stack, best) };
  },
  calibrate(samples) {
    const votes = sumOf(samples);
    const all = votes.first + votes.last;
    return {
      nearSide: nearSideOf(votes),
      nearSideSure: all > 0 ? Math.max(votes.first, votes.last) / all : 0.5,
    };
  },
  // Once one end of the series is clearly the near one, the rest is only looked at from there.
  narrowing: {
    start: ['first', 'last'],
    narrow(now, seen) {
      if (now.length === 1) return now;
      const votes = sumOf(seen);
      const winner = nearSideOf(votes);
      const sure = votes[winner] >= SURE_VOTES && votes[winner] >= SURE_SHARE * (votes.first + votes.last);
      return sure ? [winner] : now;
    },
    wanted: ({ nearSide }) => [nearSide],
    covers: (looked, wanted) => wanted.every((side) => looked.includes(side)),
  },
};

/** While it is not known which end of the series is focused nearest. */
export const BOTH_SIDES: readonly NearSide[] = ['first', 'last'];
