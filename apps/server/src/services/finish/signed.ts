// A signed merge is locked until it is opened again.
import { RequestError } from '../../shared/requestError';
import type { Services } from '../context';

/** @throws RequestError when the merge is signed */
export function requireUnsigned({ storage }: Pick<Services, 'storage'>, mergeId: string): void {
  const { signature } = storage.finishes.find(mergeId);
  if (signature)
    throw new RequestError(
      423,
      `This merge was signed by ${signature.by} on ${signature.at.slice(0, 10)} and is locked. Open it again on the Finish screen first.`,
    );
}
