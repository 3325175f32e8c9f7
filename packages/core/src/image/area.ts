// Areas that a person marked on a picture, as polygons and brush strokes, and the mask they make.
import { badParameter } from '../checks';
import type { Mask } from './regions';

/** A place in shares of the picture's width and height. */
export type Place = readonly [number, number];

/** Part of an area: what a polygon encloses (even-odd), or what a round brush covers along its path. */
export type AreaShape =
  | { readonly kind: 'polygon'; readonly corners: readonly Place[] }
  /** `radius` in shares of the picture's width. */
  | { readonly kind: 'brush'; readonly points: readonly Place[]; readonly radius: number };

/**
 * The mask of all shapes together.
 * @param shapes in shares of the picture
 * @param width, height of the mask, px; a px counts where its centre lies inside
 * @returns 1 inside, 0 outside
 * @throws ParameterError for a polygon of fewer than three corners, a brush without points or radius
 * Cost: px × corners for polygons, px under the brush × points for strokes.
 */
export function paintArea(shapes: readonly AreaShape[], width: number, height: number): Mask {
  const data = new Uint8Array(width * height);
  shapes.forEach((shape, n) => {
    if (shape.kind === 'polygon') fillPolygon(shape.corners, data, width, height, n);
    else fillStroke(shape.points, shape.radius, data, width, height, n);
  });
  return { width, height, data };
}

function fillPolygon(corners: readonly Place[], data: Uint8Array, width: number, height: number, n: number): void {
  if (corners.length < 3) throw badParameter(`paintArea.shapes.${n}.corners.length`, 'at least 3', corners.length);
  for (let y = 0; y < height; y++) {
    const v = (y + 0.5) / height;
    const crossings = corners
      .flatMap(([ax, ay], k) => {
        const [bx, by] = corners[(k + 1) % corners.length]!;
        return ay > v !== by > v ? [ax + ((v - ay) / (by - ay)) * (bx - ax)] : [];
      })
      .sort((a, b) => a - b);
    for (let k = 0; k + 1 < crossings.length; k += 2) {
      const from = Math.max(0, Math.ceil(crossings[k]! * width - 0.5));
      const to = Math.min(width, Math.ceil(crossings[k + 1]! * width - 0.5));
      if (to > from) data.fill(1, y * width + from, y * width + to);
    }
  }
}

function fillStroke(
  points: readonly Place[],
  radius: number,
  data: Uint8Array,
  width: number,
  height: number,
  n: number,
): void {
  if (points.length === 0) throw badParameter(`paintArea.shapes.${n}.points.length`, 'at least 1', 0);
  if (!(radius > 0)) throw badParameter(`paintArea.shapes.${n}.radius`, 'more than 0', radius);
  const r = radius * width;
  points.forEach((start, k) => {
    const end = points[Math.min(points.length - 1, k + 1)]!;
    const [ax, ay, bx, by] = [start[0] * width, start[1] * height, end[0] * width, end[1] * height];
    const [dx, dy] = [bx - ax, by - ay];
    const square = dx * dx + dy * dy;
    const bottom = Math.min(height - 1, Math.floor(Math.max(ay, by) + r));
    const right = Math.min(width - 1, Math.floor(Math.max(ax, bx) + r));
    for (let y = Math.max(0, Math.floor(Math.min(ay, by) - r)); y <= bottom; y++) {
      for (let x = Math.max(0, Math.floor(Math.min(ax, bx) - r)); x <= right; x++) {
        const [px, py] = [x + 0.5 - ax, y + 0.5 - ay];
        const t = square === 0 ? 0 : Math.min(1, Math.max(0, (px * dx + py * dy) / square));
        if ((px - t * dx) ** 2 + (py - t * dy) ** 2 <= r * r) data[y * width + x] = 1;
      }
    }
  });
}

/** What a polygon encloses, in the square of its unit (the surveyor's formula); 0 for fewer than three corners. */
export function polygonArea(corners: readonly (readonly [number, number])[]): number {
  const twice = corners.reduce((sum, [x, y], i) => {
    const [u, v] = corners[(i + 1) % corners.length]!;
    return sum + x * v - u * y;
  }, 0);
  return Math.abs(twice) / 2;
}
