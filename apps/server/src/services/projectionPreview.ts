// A panorama as another projection would show it, small and at once.
import { packPixels } from '@blendrak/core/kernels';
import { cutLayout, featherFrames, layOutPanorama, type LayoutName } from '@blendrak/core/merge';
import { matrix3 } from '@blendrak/core/image';
import { RequestError } from '../shared/requestError';
import { placedFrame, threadKernels } from '../jobs';
import { encodeTile } from '../tiles';
import type { Services } from './context';
import { iccPath } from './exportService';
import { openMerge } from './mergeService';

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
): Promise<Buffer> {
  const { body, scene } = openMerge(services, mergeId, false);
  const { cameras } = body;
  if (!cameras) throw new RequestError(404, 'This merge is no panorama made here: it has no cameras to project anew.');
  const frames = scene.frames.map(placedFrame);
  const whole = layOutPanorama(
    {
      rig: { ...cameras, rotations: cameras.rotations.map(matrix3) },
      sizes: frames.map(({ source }) => ({ width: source.width, height: source.height })),
      down: cameras.down,
      vignetting: body.facts?.panorama?.vignetting ?? [0, 0],
      locals: body.frames.map((f) => f.view?.local ?? null),
    },
    projection,
  );
  if (!whole) throw new RequestError(404, `The ${projection} projection cannot show this field of view.`);
  const { width, height, views } = cutLayout(whole, whole.crop);
  const scale = Math.max(1, Math.max(width, height) / longSidePx);
  const region = {
    x: 0,
    y: 0,
    width: Math.max(1, Math.floor(width / scale)),
    height: Math.max(1, Math.floor(height / scale)),
  };
  const kernels = threadKernels();
  const block = kernels.scope(() =>
    packPixels(
      kernels,
      featherFrames(
        kernels,
        frames.map((f, k) => ({ ...f, view: views[k]! })),
        region,
        scale,
      ),
      8,
    ),
  );
  return encodeTile(block, iccPath(services, body.tilesId, body.frames[body.reference]!.pictureId), 'jpg');
}
