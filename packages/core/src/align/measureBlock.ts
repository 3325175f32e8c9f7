// The local shift of one block between two pictures, with how much the block knows about it.
import type { Affine } from '../kernels';
import type { AlignLevel } from './levels';

/** A block's shift against the start it was given, px of the level, with its information matrix (1/px²). */
export interface Block {
  /** Middle of the block, reference px of the level. */
  readonly x: number;
  readonly y: number;
  readonly dx: number;
  readonly dy: number;
  readonly hxx: number;
  readonly hxy: number;
  readonly hyy: number;
}

/**
 * Measures the shift of one block by Lucas–Kanade.
 * @param toMoving reference px → moving px of the level, good to about 3 px
 * @param steps steps taken; one more only measures
 * @returns null where the block says nothing or lies elsewhere altogether
 */
export function measureBlock(
  ref: AlignLevel,
  mov: AlignLevel,
  toMoving: Affine,
  x0: number,
  y0: number,
  x1: number,
  y1: number,
  steps: number,
): Block | null {
  const [a, b, c, d, e, f] = toMoving;
  let [dx, dy] = [0, 0];
  for (let k = 0; k <= steps; k++) {
    const n = blockNormal(ref, mov, [a, b, c + dx, d, e, f + dy], x0, y0, x1, y1);
    const det = n.xx * n.yy - n.xy * n.xy;
    if (n.count < 60 || det <= 1e-6 * (n.xx + n.yy) ** 2) return null;
    const sx = (n.yy * n.xe - n.xy * n.ye) / det;
    const sy = (n.xx * n.ye - n.xy * n.xe) / det;
    if (k === steps) {
      const variance = Math.max(1e-4, n.ee / n.count);
      // Residuals of blurred content hang together over its correlation area, about signal / gradient energy: a blurred
      // block holds that many times fewer independent samples.
      const independent = Math.min(1, (n.xx + n.yy) / Math.max(1e-9, n.ss));
      const w = independent ** 2 / variance;
      return { x: (x0 + x1) / 2, y: (y0 + y1) / 2, dx, dy, hxx: n.xx * w, hxy: n.xy * w, hyy: n.yy * w };
    }
    dx += sx;
    dy += sy;
    // A block that wants to move by more than a few px has lost its way: its content differs by more than a shift.
    if (Math.hypot(dx, dy) > 4) return null;
  }
  return null;
}

interface Normal {
  xx: number;
  xy: number;
  yy: number;
  xe: number;
  ye: number;
  ee: number;
  ss: number;
  count: number;
}

function blockNormal(
  ref: AlignLevel,
  mov: AlignLevel,
  [a, b, c, d, e, f]: Affine,
  x0: number,
  y0: number,
  x1: number,
  y1: number,
): Normal {
  const { width, height, data } = ref.detail;
  const { dx: rdx, dy: rdy, use } = ref;
  const { dx: mdx, dy: mdy } = mov;
  const mw = mov.detail.width;
  const maxX = mw - 2;
  const maxY = mov.detail.height - 2;
  const md = mov.detail.data;
  let xx = 0;
  let xy = 0;
  let yy = 0;
  let xe = 0;
  let ye = 0;
  let ee = 0;
  let ss = 0;
  let count = 0;
  for (let y = Math.max(1, y0); y < Math.min(height - 1, y1); y++) {
    for (let x = Math.max(1, x0); x < Math.min(width - 1, x1); x++) {
      if (use && !use[y * width + x]) continue;
      const qx = a * (x + 0.5) + b * (y + 0.5) + c - 0.5;
      const qy = d * (x + 0.5) + e * (y + 0.5) + f - 0.5;
      if (!(qx >= 1 && qy >= 1 && qx < maxX && qy < maxY)) continue;
      // Positive here, so truncation floors (and is much cheaper).
      const ix = qx | 0;
      const iy = qy | 0;
      const t = qx - ix;
      const u = qy - iy;
      const j = iy * mw + ix;
      const m = (md[j]! * (1 - t) + md[j + 1]! * t) * (1 - u) + (md[j + mw]! * (1 - t) + md[j + mw + 1]! * t) * u;
      const i = y * width + x;
      // Averaging both pictures' gradients takes out the first-order bias of interpolating only one of them.
      const gx = 0.5 * (rdx[i]! + (mdx[j]! * (1 - t) + mdx[j + 1]! * t));
      const gy = 0.5 * (rdy[i]! + (mdy[j]! * (1 - u) + mdy[j + mw]! * u));
      const r = data[i]!;
      const off = r - m;
      xx += gx * gx;
      xy += gx * gy;
      yy += gy * gy;
      xe += gx * off;
      ye += gy * off;
      ee += off * off;
      ss += r * r;
      count++;
    }
  }
  return { xx, xy, yy, xe, ye, ee, ss, count };
}
