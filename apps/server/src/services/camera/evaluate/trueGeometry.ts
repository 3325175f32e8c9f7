// Where a report puts the frames of a set that was shot with the simulated camera, and where they truly are.
import type { Report, ReportFrame } from '@blendrak/contract';
import { rotationBetween, transposed, turn, type Vector3 } from '@blendrak/core/align';
import {
  frameToMerge,
  median,
  mergeToFrame,
  type FrameView,
  type Matrix3,
  type Projection,
  type TurnedView,
} from '@blendrak/core/image';
import type { Mat3, View } from '@blendrak/scene';
import { viewOf } from '../../pipeline';
import type { EvaluationScene } from './evaluateScene';

/** What scoring wants to know of a scene. */
export type ShotScene = Pick<EvaluationScene, 'plan' | 'kept' | 'names'>;

/** The frame that a report maps to itself. */
export function referenceOf(report: Report): ReportFrame {
  const found = report.frames.find((f) => {
    const [a, b, c, , e, g] = f.alignment.matrix;
    return Math.abs(a! - 1) + Math.abs(b!) + Math.abs(e! - 1) < 1e-9 && Math.abs(c!) + Math.abs(g!) < 1e-6;
  });
  if (!found) throw new Error(`no frame of the report of ${report.merge.file} is the reference`);
  return found;
}

export function shotIndex({ plan, kept, names }: ShotScene, file: string): number {
  return plan.frames[kept[names.indexOf(file)]!]!.shot;
}

/** Views of a panorama's report. */
export function turnedViewsOf(report: Report): TurnedView[] {
  return report.frames.map(({ file, alignment }) => {
    const view = viewOf(alignment);
    if (view.model !== 'rotating-camera') throw new Error(`the report gives ${file} no turned camera`);
    return view;
  });
}

/** Maps a place to another picture; null where it is not seen. */
export type PlaceMap = (x: number, y: number) => readonly [number, number] | null;

/** How each frame of a report lies in its merge. */
export function placesOf(report: Report): { readonly toMerge: PlaceMap; readonly toFrame: PlaceMap }[] {
  return report.frames.map(({ alignment }) => {
    const view: FrameView = viewOf(alignment);
    return { toMerge: (x, y) => frameToMerge(view, x, y), toFrame: (x, y) => mergeToFrame(view, x, y) };
  });
}

/** The canvas of a panorama's merge as a view into the true world. */
export function canvasView(scene: ShotScene, report: Report): View {
  const views = turnedViewsOf(report);
  const { canvas } = views[0]!;
  return {
    ...scene.plan.canvas,
    projection: VIEW_PROJECTIONS[canvas.projection],
    ...{ width: report.merge.width, height: report.merge.height },
    focalPx: canvas.focalPx * focalRatio(scene, report, views),
    principal: canvas.axis,
    rotation: trueAxes(scene, report, views),
  };
}

const VIEW_PROJECTIONS: Readonly<Record<Projection, View['projection']>> = {
  flat: 'flat',
  cylindrical: 'cylinder',
  spherical: 'sphere',
};

/** True focal length over the estimated one: angles that come out too large belong to a focal length that is too short. */
export function focalRatio(scene: ShotScene, report: Report, views: readonly TurnedView[]): number {
  const ratios = views.map(
    (v, k) => scene.plan.shots[shotIndex(scene, report.frames[k]!.file)]!.view.focalPx / v.focalPx,
  );
  return median(ratios);
}

/** World → canvas axes by which the canvas's directions agree best with the true directions of the frames. */
export function trueAxes(scene: ShotScene, report: Report, views: readonly TurnedView[]): Mat3 {
  const world: Vector3[] = [];
  const canvas: Vector3[] = [];
  views.forEach((view, k) => {
    const truth = scene.plan.shots[shotIndex(scene, report.frames[k]!.file)]!.view.rotation as Matrix3;
    const found = transposed(view.rotation);
    for (const axis of [
      [0, 0, 1],
      [0.3, 0, 1],
      [0, 0.3, 1],
    ] as const) {
      world.push(turn(transposed(truth), axis));
      canvas.push(turn(found, axis));
    }
  });
  return rotationBetween(world, canvas);
}
