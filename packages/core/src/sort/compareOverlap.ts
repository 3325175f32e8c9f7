// How the light of two neighbouring views differs where they overlap: as a whole, and with the distance from the middle.
import { median } from '../image';
import type { FrameSummary } from './frameSummary';
import type { Relation } from './relateFrames';

export interface OverlapLight {
  /** Second minus first, EV, in the same place of the scene. */
  readonly gainEv: number;
  /** Light lost in the very corner of the frame, as a share: 1 − v·r² explains the difference best. */
  readonly vignetting: number;
}

/**
 * Compares light in the overlap of two views.
 * The same place lies at another distance from the middle of each frame: what of the difference goes with the square of that
 * distance is vignetting, the rest is gain. A straight line through medians, so that what moved does not count.
 * @returns null when too little is well exposed in both
 */
export function compareOverlap(a: FrameSummary, b: FrameSummary, { dx, dy }: Relation): OverlapLight | null {
  const [ox, oy] = [Math.round(dx * a.width), Math.round(dy * a.height)];
  const half = (a.width * a.width + a.height * a.height) / 4;
  const radius2 = (x: number, y: number): number => ((x - a.width / 2) ** 2 + (y - a.height / 2) ** 2) / half;
  const points: { readonly at: number; readonly ev: number }[] = [];
  for (let y = Math.max(0, oy); y < Math.min(a.height, b.height + oy); y++) {
    for (let x = Math.max(0, ox); x < Math.min(a.width, b.width + ox); x++) {
      const i = y * a.width + x;
      const k = (y - oy) * b.width + x - ox;
      if (!(a.valid[i]! & b.valid[k]!)) continue;
      points.push({
        at: radius2(x - ox + 0.5, y - oy + 0.5) - radius2(x + 0.5, y + 0.5),
        ev: b.light[k]! - a.light[i]!,
      });
    }
  }
  if (points.length < 200) return null;
  points.sort((p, q) => p.at - q.at);
  const third = Math.floor(points.length / 3);
  const end = (list: typeof points) => ({ at: median(list.map((p) => p.at)), ev: median(list.map((p) => p.ev)) });
  const [low, high] = [end(points.slice(0, third)), end(points.slice(-third))];
  const spread = high.at - low.at;
  const slope = spread > 0.15 ? (high.ev - low.ev) / spread : 0;
  const gainEv = median(points.map((p) => p.ev - slope * p.at));
  return { gainEv, vignetting: 1 - 2 ** Math.min(0, slope) };
}
