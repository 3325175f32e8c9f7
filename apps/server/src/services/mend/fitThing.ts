// A thing from one frame alone: whoever repairs draws around it roughly, and the mask is fitted to where frame and merge differ.
import { maskShapeSchema, type FitOrder, type NewOperation } from '@blendrak/contract';
import { RequestError } from '../../shared/requestError';
import { newId, type Services } from '../context';
import { requireUnsigned } from '../finish/signed';
import { lookAgainOf } from './lookAgain';
import type { Asker, OperationsService } from './operations';

/** Beyond what was drawn the mask may grow so far, cells. */
const REACH = 6;
/** A stack's frame is taken where it shows no less than this of the merge's detail, as energy: elsewhere it is out of focus. */
const STACK_GAIN = 0.6;
/** The rim lies where both agree: it need not be wide. */
const MASK = { growPx: 4, featherPx: 8, strength: 1 } as const;

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
  const leastGain = facts.kind === 'focus-stack' ? STACK_GAIN : 0;
  const growth = { reach: REACH, leastGain, isRough: true };
  const parts = await services.quick.run('fitMask', { scene, facts, source: donor, polygon, ...growth });
  if (parts.length === 0)
    throw new RequestError(
      409,
      `${name} shows nothing else there than the merge. Accepted: an outline around what differs.`,
    );
  const [first, ...also] = parts.map(({ points }) => ({
    donor,
    shape: maskShapeSchema.parse({ kind: 'outline', points, ...MASK }),
  }));
  const operation: NewOperation = { kind: 'paint', ...first!, ...(also.length > 0 && { also }) };
  repair.change(mergeId, { id: newId(), change: { kind: 'add', operation } }, asker);
}
