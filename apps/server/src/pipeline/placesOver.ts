// Places all over a picture that stand for all of it.
import type { Region } from '@blendrak/core/image';
import { CELL_PX } from '@blendrak/core/kernels';

/** So many across and down, px each side. */
const [ACROSS, DOWN, PLACE_PX] = [4, 3, 128];

/** Squares on the cell grid, spread evenly over a region. */
export function placesOver({ x, y, width, height }: Region): Region[] {
  const onCell = (v: number): number => Math.floor(v / CELL_PX) * CELL_PX;
  const side = onCell(Math.min(PLACE_PX, width, height));
  return Array.from({ length: ACROSS * DOWN }, (_, k): Region => {
    const at = (i: number, n: number, length: number): number =>
      onCell(Math.min(length - side, Math.max(0, ((i + 0.5) / n) * length - side / 2)));
    return {
      x: x + at(k % ACROSS, ACROSS, width),
      y: y + at(Math.floor(k / ACROSS), DOWN, height),
      width: side,
      height: side,
    };
  });
}
