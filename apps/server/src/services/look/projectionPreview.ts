// A panorama as another projection would show it, small and at once.
import type { LayoutName } from '@blendrak/core/merge';
import { matrix3 } from '@blendrak/core/frame';
import { RequestError } from '../../shared/requestError';
import type { Services } from '../context';
import { iccPath } from '../deliver/exportService';

/**
 * @param longSidePx of the preview
 * @returns a JPEG of the crop, frames mixed without seams
 * @throws RequestError 404 for merges that are no panoramas of ours, or a projection that cannot show the set
 */
export async function previewProjection(
  services: Services,
  mergeId: string,
  projection: LayoutName,
  longSidePx: number,
): Promise<Uint8Array> {
  const { body, scene } = services.merges.open(mergeId);
  const { facts } = body;
  if (facts.kind !== 'panorama' || !facts.cameras)
    throw new RequestError(404, 'This merge is no panorama made here: it has no cameras to project anew.');
  const { rotations, focalPx, distortion, down } = facts.cameras;
  const preview = await services.quick.run('projection', {
    cameras: {
      frames: scene.frames,
      rig: { rotations: rotations.map(matrix3), focalPx, distortion },
      down,
      vignetting: facts.composed?.vignetting ?? [0, 0],
      locals: body.frames.map((f) => f.geometry.local ?? null),
    },
    projection,
    longSidePx,
    icc: iccPath(services, body.tilesId, body.frames[body.reference]!.pictureId),
  });
  if (!preview) throw new RequestError(404, `The ${projection} projection cannot show this field of view.`);
  return preview;
}
