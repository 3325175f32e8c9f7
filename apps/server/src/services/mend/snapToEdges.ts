// The mask of an operation laid to the edges of what it paints in.
import { operationMaskSchema, type OperationMaskRecord } from '@blendrak/contract';
import { packMaskPicture } from '@blendrak/core/repair';
import { RequestError } from '../../shared/requestError';
import type { Services } from '../context';
import { requireUnsigned } from '../finish/signed';
import type { Asker, OperationsService } from './operations';

/** Masks are laid to edges at full size, so far as one part is held at once. */
const MOST_SIDE_PX = 4096;

/**
 * Lays the rim of an operation's mask, as it is now, to the edges within reach.
 * @param id name of the change that it becomes
 * @throws RequestError where there is no such operation, or its mask is too large or none of one part; ParameterError for one that does
 *   not bear it. Nothing is done then
 */
export async function snapToEdges(
  services: Services,
  repair: OperationsService,
  mergeId: string,
  operationId: string,
  reachPx: number,
  asker: Asker,
  id: string,
): Promise<void> {
  requireUnsigned(services, mergeId);
  const { scene } = services.merges.painted(mergeId);
  const known = services.storage.operations.find(operationId);
  if (known?.mergeId !== mergeId || !known.fields.live)
    throw new RequestError(404, `operationId: this merge has no operation ${operationId} (any more).`);
  const { operation } = known;
  const snapped = await services.quick.run('snapMask', { scene, operation, reachPx, mostPx: MOST_SIDE_PX });
  if (snapped === 'too large')
    throw new RequestError(
      409,
      `This mask is longer than ${MOST_SIDE_PX} px. Accepted: masks up to that, or a part of it drawn anew.`,
    );
  const { values, region } = snapped;
  const picture = packMaskPicture(values, region, region);
  if (!picture)
    throw new RequestError(409, 'Nothing is left of this mask when it is laid to the edges. Accepted: a larger mask.');
  const weakened = operation.mask?.strength ?? 1;
  const box = { ...picture.box, x: picture.box.x + region.x, y: picture.box.y + region.y };
  const mask: OperationMaskRecord = operationMaskSchema.parse({
    ...{ growPx: 0, softenPx: 0, insideOut: null },
    strength: weakened,
    // What it was weakened to since is not in the mask itself: it can be made stronger again.
    snapped: { kind: 'picture', ...picture, box, strength: Math.min(1, snapped.strength / weakened) },
  });
  repair.change(mergeId, { id, change: { kind: 'patch', operationId, patch: { mask } } }, asker);
}
