// The tone of a place evened by hand: it is to lie to a frame as it does around it, and keeps its own detail.
import { newOperationSchema, type HandOrderOf, type NewOperation } from '@blendrak/contract';
import { EVEN_MARGIN_PX, evenedShape } from '@blendrak/core/repair';
import { RequestError } from '../../shared/requestError';
import type { Services } from '../context';
import { frameNameOf } from './frameNameOf';

/**
 * Works out how the tone of a place is evened.
 * @throws RequestError where the frame is none of the merge's, or tells of nothing around the place
 */
export async function evenPlace(
  { merges, quick }: Services,
  mergeId: string,
  { donor, polygon }: HandOrderOf<'even'>,
): Promise<NewOperation> {
  const { scene, donorNames } = merges.painted(mergeId);
  const name = frameNameOf({ donorNames }, donor);
  const shape = evenedShape(polygon);
  const tone = await quick.run('evenField', { scene, donors: [donor], shape, marginPx: EVEN_MARGIN_PX });
  if (!tone)
    throw new RequestError(
      409,
      `${name} tells nothing about the tone there: around the place it is burnt, black or beyond its edge. Accepted: a frame that holds it.`,
    );
  return newOperationSchema.parse({ kind: 'paint', donor: null, shape, tone });
}
