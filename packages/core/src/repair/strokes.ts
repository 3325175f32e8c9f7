// Brush strokes as records in merge coordinates, and the masks they make at any size.
import { badParameter } from '../checks';
import type { Region } from '../image';

/** x, y, and how firmly a pen was pressed there, 0..1; 1 when left out. */
export type PenPoint = readonly [x: number, y: number, pressure?: number | undefined];

/** One stroke of a round brush. */
export interface Stroke {
  /** Polyline in merge px; a third number says how firmly the pen was pressed there, 0..1 (a mouse: 1, left out). */
  readonly points: readonly PenPoint[];
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
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const [x, y] of stroke.points) {
    left = Math.min(left, x);
    top = Math.min(top, y);
    right = Math.max(right, x);
    bottom = Math.max(bottom, y);
  }
  const x = Math.floor(left - r);
  const y = Math.floor(top - r);
  return { x, y, width: Math.ceil(right + r) - x, height: Math.ceil(bottom + r) - y };
}

/**
 * Lays a stroke into a mask: the mask becomes the larger of itself and the brush's fall-off from the polyline, so going
 * over the same place twice within one stroke does not darken it. Where a pen was pressed less it covers less.
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
  const points = stroke.points.map(([x, y, p = 1]) => [x / scale - region.x, y / scale - region.y, p] as const);
  const { inner, outer } = brushRadii(radius, stroke.hardness);
  const box = reachOf(points, outer, region.width, region.height);
  if (box.width <= 0 || box.height <= 0) return;
  if (points.some(([, , pressure]) => pressure < 1)) {
    layPressed(mask, region.width, box, points, {
      radius,
      outer,
      hardness: stroke.hardness,
      strength: stroke.strength,
    });
    return;
  }
  // The fall-off only grows less with distance, so it is asked once per pixel, for the nearest segment.
  const nearest = new Float32Array(box.width * box.height).fill(outer * outer);
  for (let k = 0; k < Math.max(1, points.length - 1); k++) {
    measureSegment(nearest, box, points[k]!, points[Math.min(k + 1, points.length - 1)]!, outer);
  }
  for (let y = 0; y < box.height; y++) {
    for (let x = 0; x < box.width; x++) {
      const d2 = nearest[y * box.width + x]!;
      if (d2 >= outer * outer) continue;
      const fall = d2 <= inner * inner ? 1 : brushFall(Math.sqrt(d2), radius, stroke.hardness);
      const i = (box.y + y) * region.width + box.x + x;
      if (fall * stroke.strength > mask[i]!) mask[i] = fall * stroke.strength;
    }
  }
}

type PressedPoint = readonly [x: number, y: number, pressure: number];

/** The same with pressure: what covers most is not always the nearest segment, so each is asked. */
function layPressed(
  mask: Float32Array,
  maskWidth: number,
  box: Region,
  points: readonly PressedPoint[],
  brush: { readonly radius: number; readonly outer: number; readonly hardness: number; readonly strength: number },
): void {
  for (let k = 0; k < Math.max(1, points.length - 1); k++) {
    const a = points[k]!;
    const b = points[Math.min(k + 1, points.length - 1)]!;
    const x0 = Math.max(box.x, Math.floor(Math.min(a[0], b[0]) - brush.outer));
    const x1 = Math.min(box.x + box.width, Math.ceil(Math.max(a[0], b[0]) + brush.outer));
    const y0 = Math.max(box.y, Math.floor(Math.min(a[1], b[1]) - brush.outer));
    const y1 = Math.min(box.y + box.height, Math.ceil(Math.max(a[1], b[1]) + brush.outer));
    const [dx, dy] = [b[0] - a[0], b[1] - a[1]];
    const perLength2 = dx * dx + dy * dy > 0 ? 1 / (dx * dx + dy * dy) : 0;
    for (let y = y0; y < y1; y++) {
      for (let x = x0; x < x1; x++) {
        const px = x + 0.5 - a[0];
        const py = y + 0.5 - a[1];
        const t = Math.min(1, Math.max(0, (px * dx + py * dy) * perLength2));
        const distance = Math.hypot(px - t * dx, py - t * dy);
        if (distance >= brush.outer) continue;
        const pressure = a[2] + t * (b[2] - a[2]);
        const cover = brushFall(distance, brush.radius, brush.hardness) * pressure * brush.strength;
        const i = y * maskWidth + x;
        if (cover > mask[i]!) mask[i] = cover;
      }
    }
  }
}

/** The part of a mask that points reach. */
function reachOf(points: readonly PressedPoint[], reach: number, width: number, height: number): Region {
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const [x, y] of points) {
    left = Math.min(left, x);
    top = Math.min(top, y);
    right = Math.max(right, x);
    bottom = Math.max(bottom, y);
  }
  const x = Math.max(0, Math.floor(left - reach));
  const y = Math.max(0, Math.floor(top - reach));
  return {
    x,
    y,
    width: Math.min(width, Math.ceil(right + reach)) - x,
    height: Math.min(height, Math.ceil(bottom + reach)) - y,
  };
}

/** Lowers squared distances to those from one segment, as far as the brush reaches. */
function measureSegment(nearest: Float32Array, box: Region, a: PressedPoint, b: PressedPoint, reach: number): void {
  const x0 = Math.max(box.x, Math.floor(Math.min(a[0], b[0]) - reach));
  const y0 = Math.max(box.y, Math.floor(Math.min(a[1], b[1]) - reach));
  const x1 = Math.min(box.x + box.width, Math.ceil(Math.max(a[0], b[0]) + reach));
  const y1 = Math.min(box.y + box.height, Math.ceil(Math.max(a[1], b[1]) + reach));
  const dx = b[0] - a[0];
  const dy = b[1] - a[1];
  const perLength2 = dx * dx + dy * dy > 0 ? 1 / (dx * dx + dy * dy) : 0;
  for (let y = y0; y < y1; y++) {
    const py = y + 0.5 - a[1];
    for (let x = x0; x < x1; x++) {
      const px = x + 0.5 - a[0];
      let t = (px * dx + py * dy) * perLength2;
      t = t < 0 ? 0 : t > 1 ? 1 : t;
      const ex = px - t * dx;
      const ey = py - t * dy;
      const d2 = ex * ex + ey * ey;
      const i = (y - box.y) * box.width + x - box.x;
      if (d2 < nearest[i]!) nearest[i] = d2;
    }
  }
}

/** Full up to `inner`, nothing from `outer`, never steeper than one pixel. */
function brushRadii(radius: number, hardness: number): { inner: number; outer: number } {
  const inner = Math.min(radius * hardness, radius - 0.5);
  return { inner: Math.max(0, inner), outer: Math.max(radius, inner + 1) };
}

/** Fall-off of the brush: full inside hardness × radius, then a raised cosine to the rim, never steeper than one pixel. */
export function brushFall(distance: number, radius: number, hardness: number): number {
  const { inner, outer } = brushRadii(radius, hardness);
  if (distance <= inner) return 1;
  if (distance >= outer) return 0;
  return 0.5 + 0.5 * Math.cos((Math.PI * (distance - inner)) / (outer - inner));
}

function checkStroke(stroke: Stroke): void {
  if (stroke.points.length === 0) throw badParameter('stroke.points.length', 'at least 1 point', 0);
  const pressed = stroke.points.findIndex(([, , p = 1]) => !(p >= 0 && p <= 1));
  if (pressed >= 0) throw badParameter(`stroke.points.${pressed}.2`, '0 to 1', stroke.points[pressed]![2]);
  if (!(stroke.sizePx >= 1 && stroke.sizePx <= 4000))
    throw badParameter('stroke.sizePx', '1 to 4000 px', stroke.sizePx);
  if (!(stroke.hardness >= 0 && stroke.hardness <= 1)) throw badParameter('stroke.hardness', '0 to 1', stroke.hardness);
  if (!(stroke.strength > 0 && stroke.strength <= 1)) {
    throw badParameter('stroke.strength', 'above 0, up to 1', stroke.strength);
  }
}
