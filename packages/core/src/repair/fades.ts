// Straight fades as masks: full on one side, nothing on the other, and even in between.
import { badParameter } from '../checks';
import type { Region } from '../image';

/** A mask that fades along a drawn line. */
export interface Fade {
  /** Where it begins to fade, merge px: before it the mask is full. */
  readonly from: readonly [x: number, y: number];
  /** Where it has faded: beyond it the mask is empty. */
  readonly to: readonly [x: number, y: number];
  /** What it is bounded by: the merge, merge px. */
  readonly bounds: Region;
  /** Most of the donor that shows, 0..1. */
  readonly strength: number;
}

/** Shorter lines are cuts, not fades, merge px. */
const LEAST_PX = 1;

/** The part of the merge a fade can touch: of its bounds, what does not lie beyond its end. */
export function fadeRegion(fade: Fade): Region {
  const { bounds, from, to } = fade;
  // The bounds' corners and where the line of nothing crosses their sides span what can be touched.
  const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
  const beyond = (x: number, y: number): number => (x - to[0]) * dx + (y - to[1]) * dy;
  const { x, y, width, height } = bounds;
  const corners = [
    [x, y],
    [x + width, y],
    [x + width, y + height],
    [x, y + height],
  ] as const;
  const touched = corners.flatMap((a, k) => {
    const b = corners[(k + 1) % 4]!;
    const [u, v] = [beyond(a[0], a[1]), beyond(b[0], b[1])];
    const kept: (readonly [number, number])[] = u <= 0 ? [a] : [];
    if (u < 0 !== v < 0 && u !== v)
      kept.push([a[0] + (u / (u - v)) * (b[0] - a[0]), a[1] + (u / (u - v)) * (b[1] - a[1])]);
    return kept;
  });
  if (touched.length === 0) return { x, y, width: 0, height: 0 };
  const [xs, ys] = [touched.map((p) => p[0]), touched.map((p) => p[1])];
  const [left, top] = [Math.floor(Math.min(...xs)), Math.floor(Math.min(...ys))];
  return { x: left, y: top, width: Math.ceil(Math.max(...xs)) - left, height: Math.ceil(Math.max(...ys)) - top };
}

/**
 * Lays a fade into a mask: the mask becomes the larger of itself and the fade.
 * @param mask region.width × region.height values 0..1, changed in place
 * @param region part of the merge the mask covers, in units of `scale` merge px
 * @param scale merge px per mask px, above 0
 * @throws ParameterError for a fade outside its ranges
 * Cost: 10 ns per px.
 */
export function layFade(mask: Float32Array, region: Region, fade: Fade, scale = 1): void {
  checkFade(fade);
  if (mask.length !== region.width * region.height)
    throw badParameter('layFade.mask.length', `${region.width * region.height} values`, mask.length);
  const { from, to, bounds, strength } = fade;
  const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
  const per = 1 / (dx * dx + dy * dy);
  for (let row = 0; row < region.height; row++) {
    const y = (region.y + row + 0.5) * scale;
    if (y < bounds.y || y > bounds.y + bounds.height) continue;
    for (let column = 0; column < region.width; column++) {
      const x = (region.x + column + 0.5) * scale;
      if (x < bounds.x || x > bounds.x + bounds.width) continue;
      const t = Math.min(1, Math.max(0, ((x - from[0]) * dx + (y - from[1]) * dy) * per));
      const i = row * region.width + column;
      mask[i] = Math.max(mask[i]!, strength * (1 - t * t * (3 - 2 * t)));
    }
  }
}

function checkFade({ from, to, strength }: Fade): void {
  if (![...from, ...to].every(Number.isFinite)) throw badParameter('fade', 'finite px', [...from, ...to]);
  const length = Math.hypot(to[0] - from[0], to[1] - from[1]);
  if (!(length >= LEAST_PX)) throw badParameter('fade.to', `${LEAST_PX} px from its beginning or more`, length);
  if (!(strength > 0 && strength <= 1)) throw badParameter('fade.strength', 'above 0, up to 1', strength);
}
