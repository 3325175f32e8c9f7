// Where a report puts the frames of a set that was shot with the simulated camera, and where they truly are.
import type { Report, ReportFrame } from '@blendrak/contract';
import { NO_TURN, rotationBetween, turn, unit, type Vector3 } from '@blendrak/core/align';
import {
  type Canvas,
  canvasRay,
  geometryOf,
  frameToMerge,
  type FrameGeometry,
  type Matrix3,
  mergeToFrame,
  type Projection,
  rayOnCanvas,
  type TurnedGeometry,
} from '@blendrak/core/frame';
import { castRow, makeRayRow, projectRay, type SetPlan, type View } from '@blendrak/scene';

/** What scoring wants to know of a scene. */
export interface ShotScene {
  readonly plan: SetPlan;
  /** Names of the delivered frames, and their numbers in the plan. */
  readonly names: readonly string[];
  readonly kept: readonly number[];
}

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
export function turnedViewsOf(report: Report): TurnedGeometry[] {
  return report.frames.map(({ file, alignment }) => {
    const view = geometryOf(alignment);
    if (view.model !== 'rotating-camera') throw new Error(`the report gives ${file} no turned camera`);
    return view;
  });
}

/** Directions farther from the axis than this, in half diagonals, are outside any frame: a lens's polynomial folds back there. */
const FARTHEST_RADIUS = 1.3;

/** Where a frame truly shows a direction of the world, px; null where it does not. */
export function trulyAt(view: View, ray: Vector3): readonly [number, number] | null {
  const [x, y, z] = turn(view.rotation as Matrix3, ray);
  if (!(z > 0) || Math.hypot(x, y) * view.focalPx > FARTHEST_RADIUS * view.halfDiagonalPx * z) return null;
  const at = projectRay(view, ...ray);
  return at && at[0] >= 0 && at[1] >= 0 && at[0] <= view.width && at[1] <= view.height ? [at[0], at[1]] : null;
}

/** Maps a place to another picture; null where it is not seen. */
export type PlaceMap = (x: number, y: number) => readonly [number, number] | null;

/** How each frame of a report lies in its merge. */
export function placesOf(report: Report): { readonly toMerge: PlaceMap; readonly toFrame: PlaceMap }[] {
  return report.frames.map(({ alignment }) => {
    const view: FrameGeometry = geometryOf(alignment);
    return { toMerge: (x, y) => frameToMerge(view, x, y), toFrame: (x, y) => mergeToFrame(view, x, y) };
  });
}

/** The canvas of a panorama's merge as a perfect camera would have it. */
export interface TrueCanvas {
  readonly canvas: Canvas;
  /** World → canvas axes. */
  readonly axes: Matrix3;
}

/** Places per side of a frame by which the canvas is found. */
const GRID = 12;
const ROUNDS = 8;

/**
 * Where a merge's canvas truly stands and how long its focal length truly is: by which all frames' places agree best with the world.
 * Neither is told by pictures alone (a panorama may be turned, and be a little larger or smaller), so neither is an error.
 */
export function trueCanvas(scene: ShotScene, report: Report): TrueCanvas {
  const views = turnedViewsOf(report);
  const { canvas } = views[0]!;
  const rays = makeRayRow(1);
  const world: Vector3[] = [];
  const places: (readonly [number, number])[] = [];
  views.forEach((view, k) => {
    const truth = scene.plan.shots[shotIndex(scene, report.frames[k]!.file)]!.view;
    for (let n = 0; n < GRID * GRID; n++) {
      const x = (((n % GRID) + 0.5) / GRID) * truth.width;
      const y = ((Math.floor(n / GRID) + 0.5) / GRID) * truth.height;
      const at = frameToMerge(view, x, y);
      if (!at) continue;
      castRow(truth, y, x - 0.5, 1, 1, rays);
      world.push(unit([rays.x[0]!, rays.y[0]!, rays.z[0]!]));
      places.push(at);
    }
  });
  let focalPx = canvas.focalPx;
  let axes: Matrix3 = NO_TURN;
  const plain: Canvas = { ...canvas, focalPx: 1, axis: [0, 0] };
  for (let round = 0; round < ROUNDS; round++) {
    const seen = places.map(([x, y]) => unit(canvasRay({ ...canvas, focalPx }, x, y)));
    axes = rotationBetween(world, seen);
    let [top, bottom] = [0, 0];
    world.forEach((ray, n) => {
      const q = rayOnCanvas(plain, ...turn(axes, ray));
      if (!q) return;
      top += q[0] * (places[n]![0] - canvas.axis[0]) + q[1] * (places[n]![1] - canvas.axis[1]);
      bottom += q[0] * q[0] + q[1] * q[1];
    });
    focalPx = top / bottom;
  }
  return { canvas: { ...canvas, focalPx }, axes };
}

/** That canvas as a view into the true world. */
export function canvasView(scene: ShotScene, report: Report): View {
  const { canvas, axes } = trueCanvas(scene, report);
  return {
    ...scene.plan.canvas,
    projection: VIEW_PROJECTIONS[canvas.projection],
    ...{ width: report.merge.width, height: report.merge.height },
    focalPx: canvas.focalPx,
    principal: canvas.axis,
    rotation: axes,
  };
}

const VIEW_PROJECTIONS: Readonly<Record<Projection, View['projection']>> = {
  flat: 'flat',
  cylindrical: 'cylinder',
  spherical: 'sphere',
};
