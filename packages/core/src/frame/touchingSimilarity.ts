// A geometry in three numbers: scale, shift and rotation in the middle of the frame. For words and figures, never for places.
import { badParameter } from '../checks';
import type { FrameGeometry } from './geometry';
import { frameToMerge } from './mapPoint';
import type { Similarity } from './transform';

/**
 * The similarity frame px → merge px that touches a geometry in the middle of the frame: what reports give as scale, shift,
 * rotation.
 * @param width of the frame, px
 * @param height of the frame, px
 * @throws ParameterError when the merge does not show the frame's middle
 */
export function touchingSimilarity(geometry: FrameGeometry, width: number, height: number): Similarity {
  if (geometry.model === 'similarity' && !geometry.local) return geometry.toMerge;
  const [x, y] = [width / 2, height / 2];
  const step = Math.min(width, height) / 64;
  const at = (px: number, py: number): [number, number] => {
    const p = frameToMerge(geometry, px, py);
    if (!p) throw badParameter('touchingSimilarity.geometry', 'one whose middle the merge shows', [px, py]);
    return p;
  };
  const [ax, ay] = at(x - step, y);
  const [bx, by] = at(x + step, y);
  const [cx, cy] = at(x, y - step);
  const [dx, dy] = at(x, y + step);
  // The mean of what both axes say: rotation and scale without shear.
  const re = (bx - ax + dy - cy) / (4 * step);
  const im = (by - ay - (dx - cx)) / (4 * step);
  const [mx, my] = at(x, y);
  return { re, im, tx: mx - (re * x - im * y), ty: my - (im * x + re * y) };
}
