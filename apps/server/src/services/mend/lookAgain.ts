// What of a merge's inspection its places can be looked at again with.
import type { LookAgain } from '../../pipeline';
import type { MergeBody } from '../../storage';

/** @returns null for a merge that was never inspected */
export function lookAgainOf({ facts, inspection }: MergeBody): LookAgain | null {
  if (!inspection) return null;
  const { yardsticks, surveys, grain, inside } = inspection;
  const axis = facts.kind === 'focus-stack' ? facts.focus : null;
  return { facts: { kind: facts.kind, axis, grain, inside, surveys }, yardsticks };
}
