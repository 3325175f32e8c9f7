// A mask that was painted elsewhere comes back as an operation: any size of the merge's shape.
import { newOperationSchema, type NewOperation } from '@blendrak/contract';
import { packMaskPicture } from '@blendrak/core/repair';
import { decodeGrey } from '../../codecs';
import { RequestError } from '../../shared/requestError';
import type { Services } from '../context';
import { requireUnsigned } from '../finish/signed';
import { frameNameOf } from './frameNameOf';
import type { Asker, OperationsService } from './operations';

/** Masks are kept with so many px on their longer side at most: what they hold is soft. */
const LONGEST_PX = 4096;
/** Sides of two pictures of one shape differ by no more than this, and than rounding. */
const SAME_SHAPE = 0.005;

/**
 * Paints a frame in by a mask.
 * @param file of the mask, and its name
 * @param id name of the change that it becomes
 * @throws RequestError for a mask of another shape, one that is black all over, or a frame that is none of the merge's; InputError for a
 *   file that cannot be read. Nothing is done then
 */
export async function takeMask(
  services: Services,
  repair: OperationsService,
  mergeId: string,
  donor: number,
  file: { readonly temporaryPath: string; readonly name: string },
  asker: Asker,
  id: string,
): Promise<void> {
  requireUnsigned(services, mergeId);
  const { body, donorNames } = services.merges.open(mergeId);
  frameNameOf({ donorNames }, donor);
  const { data, width, height } = await decodeGrey(file.temporaryPath, LONGEST_PX, file.name);
  const stretch = width / height / (body.width / body.height);
  if (Math.abs(stretch - 1) > SAME_SHAPE + 1 / Math.min(width, height))
    throw new RequestError(
      400,
      `${file.name}: the mask is ${width} × ${height} px. Accepted: the shape of this merge, ${body.width} × ${body.height} px, in any size.`,
    );
  const picture = packMaskPicture(data, { width, height }, body);
  if (!picture)
    throw new RequestError(
      400,
      `${file.name}: the mask is black all over. Accepted: white where the frame is to show.`,
    );
  const asked = newOperationSchema.safeParse({ kind: 'paint', donor, shape: { kind: 'picture', ...picture } });
  if (!asked.success)
    throw new RequestError(
      400,
      `${file.name}: the mask holds ${Math.round(picture.packed.length / 1e6)} MB of detail when packed. Accepted: up to 4 MB, as masks without grain have.`,
    );
  const operation: NewOperation = asked.data;
  repair.change(mergeId, { id, change: { kind: 'add', operation } }, asker);
}
