// Frames that orders name by number.
import { RequestError } from '../../shared/requestError';
import type { MergeBody } from '../../storage';

/** @throws RequestError for a frame that is none of the merge's */
export function frameNameOf({ frames }: Pick<MergeBody, 'frames'>, donor: number): string {
  const name = frames[donor]?.fileName;
  if (name === undefined)
    throw new RequestError(400, `donor: this merge has frames 0 to ${frames.length - 1}, received ${donor}.`);
  return name;
}
