// Brush strokes as records in merge coordinates, and the masks they make at any size.
import { badParameter } from '../checks';
import type { Region } from '../image';

/** One stroke of a round brush. */
export interface Stroke {
  /** Polyline in merge px. */
  readonly points: readonly (readonly [number, number])[];
  /** Diameter in merge px, 1 to 4000. */
  readonly sizePx: number;
  /** 0 soft to the centre … 1 hard edge. */
  readonly hardness: number;
  /** Most that one stroke puts down, 0..1. */
  readonly strength: number;
}

/** The part of the merge a stroke can touch. */
export function strokeRegion(stroke: Stroke): Region {
  const r = stroke.sizePx / 2 + 1;
  const xs = stroke.points.map((p) => p[0]);
  const ys = stroke.points.map((p) => p[1]);
  const x = Math.floor(Math.min(...xs) - r);
  const y = Math.floor(Math.min(...ys) - r);
  return { x, y, width: Math.ceil(Math.max(...xs) + r) - x, height: Math.ceil(Math.max(...ys) + r) - y };
}

/**
 * Lays a stroke into a mask: the mask becomes the larger of itself and the brush's fall-off from the polyline, so going
 * over the same place twice within one stroke does not darken it.
 * @param mask region.width × region.height values 0..1, changed in place
 * @param region part of the merge the mask covers, in units of `scale` merge px
 * @param scale merge px per mask px, above 0; 1 for full size
 * @throws ParameterError for a stroke outside its ranges
 */
export function layStroke(mask: Float32Array, region: Region, stroke: Stroke, scale = 1): void {
  checkStroke(stroke);
  if (mask.length !== region.width * region.height) {
    throw badParameter('layStroke.mask.length', `${region.width * region.height} values`, mask.length);
  }
  const radius = stroke.sizePx / 2 / scale;
  const points = stroke.points.map(([x, y]) => [x / scale - region.x, y / scale - region.y] as const);
  for (let k = 0; k < Math.max(1, points.length - 1); k++) {
    laySegment(mask, region, points[k]!, points[Math.min(k + 1, points.length - 1)]!, radius, stroke);
  }
}

function laySegment(
  mask: Float32Array,
  region: Region,
  a: readonly [number, number],
  b: readonly [number, number],
  radius: number,
  stroke: Stroke,
): void {
  const x0 = Math.max(0, Math.floor(Math.min(a[0], b[0]) - radius - 1));
  const y0 = Math.max(0, Math.floor(Math.min(a[1], b[1]) - radius - 1));
  const x1 = Math.min(region.width, Math.ceil(Math.max(a[0], b[0]) + radius + 1));
  const y1 = Math.min(region.height, Math.ceil(Math.max(a[1], b[1]) + radius + 1));
  const dx = b[0] - a[0];
  const dy = b[1] - a[1];
  const length2 = dx * dx + dy * dy;
  const outer = Math.max(radius, Math.min(radius * stroke.hardness, radius - 0.5) + 1);
  const inner = Math.max(0, Math.min(radius * stroke.hardness, radius - 0.5));
  for (let y = y0; y < y1; y++) {
    for (let x = x0; x < x1; x++) {
      const px = x + 0.5 - a[0];
      const py = y + 0.5 - a[1];
      let t = length2 > 0 ? (px * dx + py * dy) / length2 : 0;
      t = t < 0 ? 0 : t > 1 ? 1 : t;
      const ex = px - t * dx;
      const ey = py - t * dy;
      const d2 = ex * ex + ey * ey;
      // Most of the box lies outside the brush or in its full part: the fall-off is only asked between.
      if (d2 >= outer * outer) continue;
      const v =
        d2 <= inner * inner ? stroke.strength : brushFall(Math.sqrt(d2), radius, stroke.hardness) * stroke.strength;
      const i = y * region.width + x;
      if (v > mask[i]!) mask[i] = v;
    }
  }
}

/** Fall-off of the brush: full inside hardness × radius, then a raised cosine to the rim, never steeper than one pixel. */
export function brushFall(distance: number, radius: number, hardness: number): number {
  const inner = Math.min(radius * hardness, radius - 0.5);
  const outer = Math.max(radius, inner + 1);
  if (distance <= inner) return 1;
  if (distance >= outer) return 0;
  return 0.5 + 0.5 * Math.cos((Math.PI * (distance - inner)) / (outer - inner));
}

function checkStroke(stroke: Stroke): void {
  if (stroke.points.length === 0) throw badParameter('stroke.points.length', 'at least 1 point', 0);
  if (!(stroke.sizePx >= 1 && stroke.sizePx <= 4000))
    throw badParameter('stroke.sizePx', '1 to 4000 px', stroke.sizePx);
  if (!(stroke.hardness >= 0 && stroke.hardness <= 1)) throw badParameter('stroke.hardness', '0 to 1', stroke.hardness);
  if (!(stroke.strength > 0 && stroke.strength <= 1)) {
    throw badParameter('stroke.strength', 'above 0, up to 1', stroke.strength);
  }
}
