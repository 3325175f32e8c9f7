// Straight lines of the world as a panorama shows them: how far places on them lie from where a perfect camera on the same canvas has them.
import type { Report } from '@blendrak/contract';
import { transposed, turn, unit, type Vector3 } from '@blendrak/core/align';
import { type Matrix3, rayOnCanvas } from '@blendrak/core/frame';
import { makeRandom } from '@blendrak/scene';
import { placesOf, shotIndex, trueCanvas, trulyAt, type ShotScene } from './trueGeometry';

const LINES = 200;
const SAMPLES = 24;
/** Half the length of a line as an angle: about the width of a frame from end to end. */
const HALF_RAD = 0.3;

/**
 * Lines in random directions through the set. What an error of the whole line's place or lean makes is taken out; what is left bends
 * or kinks it, most where one frame gives way to the next.
 * @returns per line the largest distance of a place from straight, px of the merge
 */
export function lineErrors(scene: ShotScene, report: Report, seed: number): number[] {
  const places = placesOf(report);
  const truth = report.frames.map((f) => scene.plan.shots[shotIndex(scene, f.file)]!.view);
  const { canvas: ideal, axes } = trueCanvas(scene, report);
  const random = makeRandom(seed);
  const out: number[] = [];
  for (let n = 0; n < LINES; n++) {
    const view = truth[Math.floor(random() * truth.length)]!;
    const back = transposed(view.rotation as Matrix3);
    const [u, v, angle] = [random() - 0.5, random() - 0.5, random() * Math.PI];
    const middle = unit(turn(back, [(u * view.width) / view.focalPx, (v * view.height) / view.focalPx, 1]));
    const along = unit(turn(back, [Math.cos(angle), Math.sin(angle), 0]));
    const found = Array.from({ length: SAMPLES }, (_, k) => {
      const t = Math.tan(HALF_RAD * ((2 * k) / (SAMPLES - 1) - 1));
      return offAt([middle[0] + t * along[0], middle[1] + t * along[1], middle[2] + t * along[2]], along);
    }).flat();
    if (found.length >= SAMPLES) out.push(bendOf(found));
  }
  return out;

  /** For each frame that sees a direction: how far along the line it lies on the canvas, and how far off it. */
  function offAt(ray: Vector3, along: Vector3): [number, number][] {
    const here = rayOnCanvas(ideal, ...turn(axes, ray));
    const next = rayOnCanvas(
      ideal,
      ...turn(axes, [ray[0] + 0.01 * along[0], ray[1] + 0.01 * along[1], ray[2] + 0.01 * along[2]]),
    );
    if (!here || !next) return [];
    const length = Math.hypot(next[0] - here[0], next[1] - here[1]);
    const [nx, ny] = [-(next[1] - here[1]) / length, (next[0] - here[0]) / length];
    return truth.flatMap((view, k): [number, number][] => {
      const at = trulyAt(view, ray);
      const shown = at && places[k]!.toMerge(at[0], at[1]);
      return shown ? [[here[0] * ny - here[1] * nx, (shown[0] - here[0]) * nx + (shown[1] - here[1]) * ny]] : [];
    });
  }
}

/** The largest distance from the best straight line through (place along, distance off). */
function bendOf(points: readonly (readonly [number, number])[]): number {
  const n = points.length;
  const mx = points.reduce((s, p) => s + p[0], 0) / n;
  const my = points.reduce((s, p) => s + p[1], 0) / n;
  const xx = points.reduce((s, p) => s + (p[0] - mx) ** 2, 0);
  const slope = xx === 0 ? 0 : points.reduce((s, p) => s + (p[0] - mx) * (p[1] - my), 0) / xx;
  return Math.max(...points.map((p) => Math.abs(p[1] - my - slope * (p[0] - mx))));
}
