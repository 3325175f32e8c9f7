// The product's own merge held against the picture that a perfect camera would give in the same place.
import type { MergeKind, Report } from '@blendrak/contract';
import { blurDiameterPx } from '@blendrak/scene';
import {
  haloWidths,
  leanOf,
  lineErrors,
  pairErrors,
  signalToNoise,
  structuralSimilarity,
  type OwnMergeScore,
  type ShotScene,
} from '@blendrak/evaluate';
import type { CameraPool } from '../cameraPool';
import {
  depthOfFrame,
  idealBracket,
  idealFrame,
  idealPanorama,
  readLuma,
  stillPlaces,
  type MergeFolder,
} from './idealPictures';

/**
 * Scores a merge. A stack is held against the perfect frame of its reference; a panorama against the world seen through its own
 * canvas; a bracket against the same merge made of perfect exposures of one moment.
 * @param file the merge, @param report of it
 */
export async function scoreOwnMerge(
  camera: CameraPool,
  scene: ShotScene,
  kind: MergeKind,
  file: string,
  report: Report,
  folder: string,
  mergeFolder: MergeFolder,
): Promise<OwnMergeScore> {
  const own = await readLuma(file);
  const ideal =
    kind === 'panorama'
      ? await idealPanorama(camera, scene, report, folder)
      : kind === 'bracket'
        ? await idealBracket(camera, scene, report, folder, mergeFolder)
        : await idealFrame(camera, scene, report, folder);
  if (own.width !== ideal.width || own.height !== ideal.height)
    throw new Error(`${file} has another size than its ideal`);
  // The rim that some frames do not reach is judged by the border defect, not here.
  const border = Math.round(own.width * 0.02);
  const still = kind === 'focus-stack' ? null : await stillPlaces(camera, scene, kind, report, folder);
  const lens = scene.plan.shots[0]!.lens;
  const halos =
    kind === 'focus-stack'
      ? haloWidths(
          {
            width: own.width,
            height: own.height,
            own: own.luma,
            ideal: ideal.luma,
            depthMm: await depthOfFrame(camera, scene, report),
            spreadPx: (depth, focus) => blurDiameterPx(lens, depth, focus) / 2,
          },
          border,
        )
      : [];
  const onCanvas = report.frames[0]?.alignment.model === 'rotating-camera';
  return {
    haloWidthsPx: halos,
    lineErrorsPx: kind === 'panorama' && onCanvas ? lineErrors(scene, report, scene.plan.assignment.seed) : [],
    similarity: structuralSimilarity(own.luma, ideal.luma, own.width, own.height, border, still),
    psnrDb: signalToNoise(own.luma, ideal.luma, own.width, own.height, border, still),
    stillShare: still ? still.reduce((s, v) => s + v, 0) / still.length : 1,
    pairErrorsPx: pairErrors(scene, report),
    leanDeg: kind === 'panorama' && onCanvas ? leanOf(scene, report) : null,
  };
}
