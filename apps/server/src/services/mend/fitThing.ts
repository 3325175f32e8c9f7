// A thing from one frame alone: whoever repairs draws around it roughly, and the mask is fitted to where frame and merge differ.
import { maskShapeSchema, type HandOrderOf, type NewOperation } from '@blendrak/contract';
import { roughGrowth } from '@blendrak/core/repair';
import { RequestError } from '../../shared/requestError';
import type { Services } from '../context';
import { frameNameOf } from './frameNameOf';
import { inspectedOf } from './lookAgain';

/**
 * Works out how a thing is painted with a frame.
 * @throws RequestError where the frame is none of the merge's, or shows nothing else there
 */
export async function fitThing(
  services: Services,
  mergeId: string,
  { donor, polygon }: HandOrderOf<'fit'>,
): Promise<NewOperation> {
  const { scene, body, donorNames } = services.merges.painted(mergeId);
  const name = frameNameOf({ donorNames }, donor);
  const { facts } = inspectedOf(body);
  const order = { scene, facts, source: donor, polygon, ...roughGrowth(facts.kind) };
  const parts = await services.quick.run('fitMask', order);
  if (parts.length === 0)
    throw new RequestError(
      409,
      `${name} shows nothing else there than the merge. Accepted: an outline around what differs.`,
    );
  const [first, ...also] = parts.map(({ shape }) => ({
    donor,
    shape: maskShapeSchema.parse(shape),
  }));
  return { kind: 'paint', ...first!, ...(also.length > 0 && { also }) };
}
