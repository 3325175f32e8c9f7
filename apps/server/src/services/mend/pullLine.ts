// A cable, a pole or an edge pulled straight, or to hang as the frames have it: the line probe follows it, and what it lies off is what it is moved by.
import { newOperationSchema, type HandOrderOf, type NewOperation } from '@blendrak/contract';
import { pullOperation, pullStraight } from '@blendrak/core/repair';
import { RequestError } from '../../shared/requestError';
import type { Services } from '../context';
import { measureAlong, MISSED } from '../look/pins';

/**
 * Works out by what a line is pulled straight.
 * @throws RequestError where no line can be followed, or where it is straight already
 */
export async function pullLine(
  services: Services,
  mergeId: string,
  { from, to, reachPx }: HandOrderOf<'straighten'>,
): Promise<NewOperation> {
  const reading = await measureAlong(services, mergeId, { kind: 'line', from, to });
  const found =
    reading.kind === 'line'
      ? pullStraight(
          reading.merge,
          reading.spacingPx,
          { from, to },
          reachPx,
          reading.frames.map((f) => f.values),
        )
      : null;
  if (!found) throw new RequestError(400, MISSED.line);
  if (found === 'straight')
    throw new RequestError(
      409,
      'This line is straight already, or hangs as the frames have it, to half a px. Accepted: one that breaks, bends or steps.',
    );
  return newOperationSchema.parse({ kind: 'paint', ...pullOperation(found.pull) });
}
