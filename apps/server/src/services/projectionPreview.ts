// A panorama as another projection would show it, small and at once.
import { packPixels } from '@blendrak/core/kernels';
import { featherFrames, layOutPanorama } from '@blendrak/core/merge';
import type { Matrix3, Projection } from '@blendrak/core/image';
import { RequestError } from '../shared/requestError';
import { placedFrame, threadKernels } from '../jobs';
import { encodeTile } from '../tiles';
import type { Services } from './context';
import { iccPath } from './exportService';
import { openMerge } from './mergeService';
import { cropLayout } from './pipeline';

/**
 * @param longSidePx of the preview
 * @returns a JPEG of the crop, frames mixed without seams
 * @throws RequestError 404 for merges that are no panoramas of ours, or a projection that cannot show the set
 */
export async function previewProjection(
  services: Services,
  mergeId: string,
  projection: Projection,
  longSidePx: number,
): Promise<Buffer> {
  const { body, scene } = openMerge(services, mergeId, false);
  const { cameras } = body;
  if (!cameras) throw new RequestError(404, 'This merge is no panorama made here: it has no cameras to project anew.');
  const frames = scene.frames.map(placedFrame);
  const rig = { ...cameras, rotations: cameras.rotations as unknown as Matrix3[] };
  const sizes = frames.map(({ source }) => ({ width: source.width, height: source.height }));
  const vignetting = body.facts?.panorama?.vignetting ?? [0, 0];
  const whole = layOutPanorama(rig, sizes, cameras.down, projection, vignetting);
  if (!whole) throw new RequestError(404, `The ${projection} projection cannot show this field of view.`);
  const { width, height, views } = cropLayout(whole);
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
