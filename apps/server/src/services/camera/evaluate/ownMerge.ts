// The product's own merge held against the picture that a perfect camera would give in the same place.
import type { MergeKind, Report } from '@blendrak/contract';
import { transposed, turn } from '@blendrak/core/align';
import { canvasRay, rayOnCanvas } from '@blendrak/core/frame';
import { median } from '@blendrak/core/image';
import { blurDiameterPx, castRow, makeRayRow, shotOf } from '@blendrak/scene';
import type { CameraPool } from '../cameraPool';
import { haloWidths } from './haloWidths';
import {
  depthOfFrame,
  idealBracket,
  idealFrame,
  idealPanorama,
  readLuma,
  stillPlaces,
  type MergeFolder,
} from './idealPictures';
import { lineErrors } from './lineErrors';
import { signalToNoise, structuralSimilarity } from './structuralSimilarity';
import { placesOf, trueCanvas, trulyAt, type ShotScene } from './trueGeometry';

/** How near a merge comes to the ideal, and how far its frames are off. */
export interface OwnMergeScore {
  /** Share of the merge in which nothing moved: the following two are measured there. */
  readonly stillShare: number;
  readonly similarity: number;
  /** Peak signal to noise, dB. */
  readonly psnrDb: number;
  /** Per pair of frames that overlap: median distance of their places against truth, px. */
  readonly pairErrorsPx: readonly number[];
  /** Lean of what stands upright, degrees, the most over the merge; null where nothing was levelled. */
  readonly leanDeg: number | null;
  /** Per place on a near edge of a stack, the width of background that is spoilt beside it, px. */
  readonly haloWidthsPx: readonly number[];
  /** Per straight line through a panorama, how far it is from straight, px. */
  readonly lineErrorsPx: readonly number[];
}

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

const GRID = 9;

/** Where the report's frames lie on each other against truth: gauge-free, for each pair with a fair overlap. */
export function pairErrors(scene: ShotScene, report: Report): number[] {
  const places = placesOf(report);
  const views = report.frames.map((f) => shotOf(scene.plan, scene.kept[scene.names.indexOf(f.file)]!).view);
  const out: number[] = [];
  const rays = makeRayRow(1);
  views.forEach((from, i) => {
    views.forEach((to, j) => {
      if (j <= i) return;
      const errors: number[] = [];
      for (let n = 0; n < GRID * GRID; n++) {
        const x = (((n % GRID) + 0.5) / GRID) * from.width;
        const y = ((Math.floor(n / GRID) + 0.5) / GRID) * from.height;
        castRow(from, y, x - 0.5, 1, 1, rays);
        const truth = trulyAt(to, [rays.x[0]!, rays.y[0]!, rays.z[0]!]);
        if (!truth) continue;
        const at = places[i]!.toMerge(x, y);
        const found = at && places[j]!.toFrame(at[0], at[1]);
        errors.push(found ? Math.hypot(found[0] - truth[0], found[1] - truth[1]) : Infinity);
      }
      if (errors.length >= 4) out.push(median(errors));
    });
  });
  return out;
}

/** The angle between true verticals and the columns of the merge, the most at three places across, degrees. */
function leanOf(scene: ShotScene, report: Report): number {
  const { canvas, axes } = trueCanvas(scene, report);
  const { width, height } = report.merge;
  const leans = [0.2, 0.5, 0.8].map((share) => {
    // From a place of the merge straight up in the world, by a tenth of its distance.
    const ray = canvasRay(canvas, share * width, height / 2);
    const here = turn(transposed(axes), ray);
    const above = turn(axes, [here[0], here[1] - 0.1 * Math.hypot(...here), here[2]]);
    const at = rayOnCanvas(canvas, ...above);
    return at ? Math.abs(Math.atan2(at[0] - share * width, height / 2 - at[1])) : 0;
  });
  return (Math.max(...leans) * 180) / Math.PI;
}
