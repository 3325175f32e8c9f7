// Frames that orders name by number.
import { RequestError } from '../../shared/requestError';
import type { OpenMerge } from '../look/merges';

/** @throws RequestError for a frame that is none of the merge's, nor another merge to paint with */
export function frameNameOf({ donorNames }: Pick<OpenMerge, 'donorNames'>, donor: number): string {
  const name = donorNames[donor];
  if (name === undefined)
    throw new RequestError(400, `donor: this merge has frames 0 to ${donorNames.length - 1}, received ${donor}.`);
  return name;
}
