// A stroke with a frame of another tone: what is painted in is brought to what lies around the stroke, and carried evenly across it.
import { newOperationSchema, type HandOrderOf, type NewOperation } from '@blendrak/contract';
import { TONE_MARGIN_PX } from '@blendrak/core/repair';
import { RequestError } from '../../shared/requestError';
import type { Services } from '../context';
import { frameNameOf } from './frameNameOf';

/**
 * Works out the tone of a stroke.
 * @throws RequestError where the frame is none of the merge's, or shows nothing around the stroke
 */
export async function matchStroke(
  { merges, quick }: Services,
  mergeId: string,
  { donor, shape }: HandOrderOf<'match'>,
): Promise<NewOperation> {
  const { scene, body, donorNames } = merges.painted(mergeId);
  const name = frameNameOf({ donorNames }, donor);
  const byLight = body.facts.kind === 'bracket';
  const tone = await quick.run('toneField', { scene, donor, shape, marginPx: TONE_MARGIN_PX, byLight });
  if (!tone)
    throw new RequestError(
      409,
      `${name} shows nothing around the stroke to match its tone to. Accepted: a stroke with a rim that the frame covers.`,
    );
  return newOperationSchema.parse({ kind: 'paint', donor, shape, tone });
}
