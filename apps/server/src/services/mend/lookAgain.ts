// What of a merge's inspection its places can be looked at again with.
import type { LookAgain } from '../../pipeline';
import { RequestError } from '../../shared/requestError';
import type { MergeBody } from '../../storage';

/** @returns null for a merge that was never inspected */
export function lookAgainOf({ facts, inspection }: MergeBody): LookAgain | null {
  if (!inspection) return null;
  const { yardsticks, surveys, grain, inside, working } = inspection;
  const axis = facts.kind === 'focus-stack' ? facts.focus : null;
  return { facts: { kind: facts.kind, axis, grain, inside, working, surveys }, yardsticks };
}

/** @throws RequestError for a merge that was never inspected: nothing is known by which frames can be compared with it */
export function inspectedOf(body: MergeBody): LookAgain {
  const inspected = lookAgainOf(body);
  if (inspected) return inspected;
  throw new RequestError(
    409,
    'This merge was never inspected. Have it worked anew, so that frames can be compared with it.',
  );
}
