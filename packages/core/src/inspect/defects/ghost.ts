// ghost: something moved between the frames, and the merge shows it see-through, in pieces, or twice.
import type { Detection } from '../detection';
import type { Detector, Evidence } from '../detector';
import { agreement } from '../layers/agreement';
import { fading } from '../layers/fading';
import { MERGE_KINDS } from '../layers/layer';
import { moments } from '../layers/moments';
import { movement } from '../layers/movement';
import { rim } from '../layers/rim';
import { findStrangers } from '../strangers';
import { findCuts } from './cutThings';
import { findDoubles } from './doubledThings';
import { findFaint } from './faintThings';
import { findPieces } from './thingsInPieces';

/** Share of a thing that was found as a mixture already. */
const SAME_THING = 0.3;
/** Share of a mixture that lies within a thing which is cut. */
const MOSTLY = 0.5;

function findGhosts(evidence: Evidence): Detection[] {
  if (evidence.facts.kind === 'focus-stack') return findPieces(evidence);
  const mixed = findStrangers(evidence)
    .filter((s) => !s.framesAgree)
    .map((s): Detection => ({ defect: 'ghost', ...s.detection }));
  const faint = findFaint(evidence).filter((d) => !mixed.some((m) => shareOf(d, m) >= SAME_THING));
  const known = joinParts(findCuts(evidence), [...mixed, ...faint]);
  return [...known, ...findDoubles(evidence).filter((d) => known.every((k) => shareOf(k, d) < SAME_THING))];
}

/** Share of one detection's cells that another has. */
function shareOf({ cells }: Detection, { cells: others }: Detection): number {
  const known = new Set(others);
  return cells.filter((i) => known.has(i)).length / cells.length;
}

/** A mixture within a thing that is cut is a part of it; a thing much of which is a mixture is mixed, not cut besides. */
function joinParts(cuts: readonly Detection[], mixed: readonly Detection[]): Detection[] {
  const isPart = (m: Detection): boolean => cuts.some((cut) => shareOf(m, cut) >= MOSTLY);
  const apart = mixed.filter((m) => !isPart(m));
  const things = cuts.filter((cut) => apart.every((m) => shareOf(cut, m) < SAME_THING));
  return [...apart, ...things];
}

export const ghost: Detector = {
  defect: 'ghost',
  kinds: MERGE_KINDS,
  layers: [agreement, fading, moments, movement, rim],
  find: findGhosts,
  donorBy: 'moment',
  cause: ({ measurements, shown, donor }) => {
    const moved = 'Something moved between the frames, and the merge';
    if (measurements['shownPart'])
      return `${moved} shows a part of it, most of that from ${shown}; the rest is from another moment. ${donor} has one moment of it.`;
    if (measurements['distance'])
      return `${moved} shows it twice, ${Math.round(measurements['distance'].value)} px apart: ${shown} has it in one of the two places, another frame in the other. ${donor} has it once.`;
    if (measurements['cutLength'])
      return `${moved} cuts through it: one part is from ${shown}, the rest from another frame. ${donor} has it whole.`;
    return `${moved} mixes them: no frame shows it like this. ${donor} has one moment of it.`;
  },
  advice: 'Paint the whole thing from one frame, with a border where the frames agree.',
};
