// A thing from one frame alone: whoever repairs draws around it roughly, and the mask is fitted to where frame and merge differ.
import { maskShapeSchema, type FitOrder, type NewOperation } from '@blendrak/contract';
import { fittedShape, roughGrowth } from '@blendrak/core/repair';
import { RequestError } from '../../shared/requestError';
import { newId, type Services } from '../context';
import { requireUnsigned } from '../finish/signed';
import { lookAgainOf } from './lookAgain';
import type { Asker, OperationsService } from './operations';

/**
 * Paints a thing with a frame.
 * @throws RequestError where the frame is none of the merge's, or shows nothing else there; nothing is done then
 */
export async function fitThing(
  services: Services,
  repair: OperationsService,
  mergeId: string,
  { donor, polygon }: FitOrder,
  asker: Asker,
): Promise<void> {
  requireUnsigned(services, mergeId);
  const { scene, body } = services.merges.painted(mergeId);
  const name = body.frames[donor]?.fileName;
  if (name === undefined)
    throw new RequestError(400, `donor: this merge has frames 0 to ${body.frames.length - 1}, received ${donor}.`);
  const inspected = lookAgainOf(body);
  if (!inspected)
    throw new RequestError(
      409,
      'This merge was never inspected. Have it worked anew, so that frames can be compared with it.',
    );
  const { facts } = inspected;
  const order = { scene, facts, source: donor, polygon, ...roughGrowth(facts.kind) };
  const parts = await services.quick.run('fitMask', order);
  if (parts.length === 0)
    throw new RequestError(
      409,
      `${name} shows nothing else there than the merge. Accepted: an outline around what differs.`,
    );
  const [first, ...also] = parts.map(({ points }) => ({
    donor,
    shape: maskShapeSchema.parse(fittedShape(points)),
  }));
  const operation: NewOperation = { kind: 'paint', ...first!, ...(also.length > 0 && { also }) };
  repair.change(mergeId, { id: newId(), change: { kind: 'add', operation } }, asker);
}
