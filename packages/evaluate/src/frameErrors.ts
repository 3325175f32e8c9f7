// How far off a report's frames are: against each other, in the merge, and from upright.
import type { Report } from '@blendrak/contract';
import { transposed, turn } from '@blendrak/core/align';
import { canvasRay, frameToMerge, geometryOf, rayOnCanvas } from '@blendrak/core/frame';
import { median } from '@blendrak/core/image';
import { castRow, makeRayRow, projectRay, shotOf } from '@blendrak/scene';
import { placesOf, trueCanvas, trulyAt, type ShotScene } from './trueGeometry';

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
export function leanOf(scene: ShotScene, report: Report): number {
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

/** Distance between where a report places each frame in the merge and where it is, median over the frame, px. */
export function alignmentErrors({ plan, kept, names }: ShotScene, report: Report): number[] {
  const rays = makeRayRow(1);
  return report.frames.flatMap((frame) => {
    const index = names.indexOf(frame.file);
    if (index < 0) return [];
    const { view } = shotOf(plan, kept[index]!);
    const geometry = geometryOf(frame.alignment);
    const errors = Array.from({ length: 25 }, (_, n) => {
      const x = ((n % 5) / 4) * view.width;
      const y = (Math.floor(n / 5) / 4) * view.height;
      castRow(view, y, x - 0.5, 1, 1, rays);
      const at = projectRay(plan.canvas, rays.x[0]!, rays.y[0]!, rays.z[0]!);
      const found = frameToMerge(geometry, x, y);
      return at && found ? Math.hypot(found[0] - at[0], found[1] - at[1]) : Infinity;
    });
    return [median(errors)];
  });
}
