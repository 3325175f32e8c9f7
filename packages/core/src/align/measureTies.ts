// Precise ties between two frames whose places are known roughly: block by block, on one level of both.
import type { Affine } from '../kernels';
import type { AlignLevel } from './levels';
import { measureBlock } from './measureBlock';

/** A place of the reference frame found in the moving one, full-size px; information of (u, v) in 1/px². */
export interface MeasuredTie {
  readonly x: number;
  readonly y: number;
  readonly u: number;
  readonly v: number;
  readonly hxx: number;
  readonly hxy: number;
  readonly hyy: number;
}

/** Maps reference px to moving px at full size; null where the moving frame does not look. */
export type FrameMap = (x: number, y: number) => readonly [number, number] | null;

const ACROSS = 24;
const DOWN = 16;
const STEPS = 2;

/**
 * Matches blocks of two frames and keeps those that say something.
 * @param reference, moving the same level of both frames
 * @param unit full-size px per px of the level
 * @param map good to about 3 px of the level
 * @returns up to 24 × 16 ties, where the frames overlap and the blocks say something
 * Cost: about 150 ns per level px of the overlap.
 */
export function measureTies(reference: AlignLevel, moving: AlignLevel, unit: number, map: FrameMap): MeasuredTie[] {
  const { width, height } = reference.detail;
  const out: MeasuredTie[] = [];
  for (let row = 0; row < DOWN; row++) {
    for (let column = 0; column < ACROSS; column++) {
      const [x0, x1] = [column, column + 1].map((k) => Math.floor((k * width) / ACROSS)) as [number, number];
      const [y0, y1] = [row, row + 1].map((k) => Math.floor((k * height) / DOWN)) as [number, number];
      const cx = (x0 + x1) / 2;
      const cy = (y0 + y1) / 2;
      const affine = affineAt(map, cx, cy, unit, Math.min(x1 - x0, y1 - y0) / 2);
      if (!affine) continue;
      const block = measureBlock(reference, moving, affine, x0, y0, x1, y1, STEPS);
      if (!block) continue;
      const [a, b, c, d, e, f] = affine;
      const square = unit * unit;
      out.push({
        x: cx * unit,
        y: cy * unit,
        u: (a * cx + b * cy + c + block.dx) * unit,
        v: (d * cx + e * cy + f + block.dy) * unit,
        hxx: block.hxx / square,
        hxy: block.hxy / square,
        hyy: block.hyy / square,
      });
    }
  }
  return out;
}

/** The map about a place, in px of the level. */
function affineAt(map: FrameMap, x: number, y: number, unit: number, reach: number): Affine | null {
  const at = (px: number, py: number): readonly [number, number] | null => map(px * unit, py * unit);
  const middle = at(x, y);
  const [left, right, up, down] = [at(x - reach, y), at(x + reach, y), at(x, y - reach), at(x, y + reach)];
  if (!middle || !left || !right || !up || !down) return null;
  const a = (right[0] - left[0]) / (2 * reach * unit);
  const d = (right[1] - left[1]) / (2 * reach * unit);
  const b = (down[0] - up[0]) / (2 * reach * unit);
  const e = (down[1] - up[1]) / (2 * reach * unit);
  return [a, b, middle[0] / unit - a * x - b * y, d, e, middle[1] / unit - d * x - e * y];
}
