// How a view sees a layer: rays → scene position, the layer's box → px, its depth down a column.
import type { Region } from '@blendrak/core/image';
import type { Mat3, Vec3 } from '../optics/pose';
import { castRow, makeRayRow, projectRay, type View } from '../optics/view';
import { depthAt, type Layer } from '../world/layer';
import type { Stage } from './stage';

/** Ray (world direction) → scene position (x/z, y/z) on the layer's plane, homogeneous; and the plane's normal. */
export interface LayerMap {
  readonly matrix: Mat3;
  /** Inverse distance along a ray is normal · ray over (1 − normal · position). */
  readonly normal: Vec3;
  readonly beside: number;
}

/**
 * A plane n·P = 1 meets the ray P = t + s·d at s = (1 − n·t)/(n·d); P·(n·d) = (t nᵀ + (1 − n·t) I)·d is linear in d
 * (the homography a plane induces between two viewpoints; Hartley and Zisserman, Multiple View Geometry, 13.1).
 */
export function layerMap(stage: Stage, view: View, layer: Layer): LayerMap {
  const { tangentPerUnit: k, world } = stage;
  const [cx, cy] = world.centre;
  const { at, slope, y0 } = layer.plane;
  // 1/d = at + slope·(y − y0) with y = y'/k + cy, y' the tangent.
  const normal: Vec3 = [0, slope / k, at + slope * (cy - y0)];
  const [tx, ty, tz] = view.positionMm;
  const beside = 1 - (normal[0] * tx + normal[1] * ty + normal[2] * tz);
  const t: Vec3 = [tx, ty, tz];
  const m = [0, 1, 2].map((r) => [0, 1, 2].map((c) => t[r]! * normal[c]! + (r === c ? beside : 0))) as number[][];
  // Tangents to scene units: x = x'/k + cx.
  const row = (r: number, c: number): number => m[r]![c]! / k + (r === 0 ? cx : cy) * m[2]![c]!;
  return {
    matrix: [row(0, 0), row(0, 1), row(0, 2), row(1, 0), row(1, 1), row(1, 2), m[2]![0]!, m[2]![1]!, m[2]![2]!],
    normal,
    beside,
  };
}

const ALONG_EDGE = 12;

/** The part of `region`, grown by `reach`, in which a layer's box can lie; null when it lies outside. */
export function layerAreaPx(stage: Stage, view: View, layer: Layer, region: Region, reach: number): Region | null {
  const { box } = layer;
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  let behind = false;
  for (let i = 0; i <= ALONG_EDGE; i++) {
    const u = i / ALONG_EDGE;
    const x = box.x0 + u * (box.x1 - box.x0);
    const y = box.y0 + u * (box.y1 - box.y0);
    for (const [px, py] of [
      [x, box.y0],
      [x, box.y1],
      [box.x0, y],
      [box.x1, y],
    ] as const) {
      const seen = projectScene(stage, view, layer, px, py);
      if (!seen) {
        behind = true;
        continue;
      }
      x0 = Math.min(x0, seen[0]);
      x1 = Math.max(x1, seen[0]);
      y0 = Math.min(y0, seen[1]);
      y1 = Math.max(y1, seen[1]);
    }
  }
  if (behind) [x0, y0, x1, y1] = [-Infinity, -Infinity, Infinity, Infinity];
  // Edges between the sample points may bulge a little where the view bends lines.
  const slack = view.projection !== 'flat' || view.distortion !== 0 ? 4 + 0.02 * Math.max(y1 - y0, x1 - x0) : 2;
  const left = Math.floor(Math.max(region.x - reach, x0 - slack));
  const top = Math.floor(Math.max(region.y - reach, y0 - slack));
  const right = Math.ceil(Math.min(region.x + region.width + reach, x1 + slack));
  const bottom = Math.ceil(Math.min(region.y + region.height + reach, y1 + slack));
  return right > left && bottom > top ? { x: left, y: top, width: right - left, height: bottom - top } : null;
}

/** Where a scene position of a layer falls in a view, px; null behind the camera. */
export function projectScene(
  stage: Stage,
  view: View,
  layer: Pick<Layer, 'plane'>,
  x: number,
  y: number,
): [number, number] | null {
  const { tangentPerUnit: k, world } = stage;
  const inverse = 1 / depthAt(layer, y);
  const [tx, ty, tz] = view.positionMm;
  return projectRay(
    view,
    (x - world.centre[0]) * k - tx * inverse,
    (y - world.centre[1]) * k - ty * inverse,
    1 - tz * inverse,
  );
}

/** Distance of a layer along the camera's own axis in mm, by px row down the column at x. */
export function depthsDownRow(stage: Stage, view: View, layer: Layer, x: number): (y: number) => number {
  const { normal, beside } = layerMap(stage, view, layer);
  const ray = makeRayRow(1);
  return (y) => {
    castRow(view, y, x - 0.5, 1, 1, ray);
    const inverse = (normal[0] * ray.x[0]! + normal[1] * ray.y[0]! + normal[2] * ray.z[0]!) / beside;
    return inverse > 0 ? 1 / inverse : Infinity;
  };
}
