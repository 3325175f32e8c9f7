// Masks with holes as outlines can say them: an outline has none.
import { findComponents } from '../image';

/**
 * A mask in parts that lie side by side, parted through its holes.
 * @param mask a flag per cell
 * @returns masks of the same size that make it up together; itself alone where it has no holes
 */
export function withoutHoles(mask: Uint8Array, width: number, height: number): Uint8Array[] {
  const outside = Uint8Array.from(mask, (m) => (m ? 0 : 1));
  const cuts = findComponents({ width, height, data: outside })
    .filter(({ box }) => box.x > 0 && box.y > 0 && box.x + box.width < width && box.y + box.height < height)
    .map(({ box }) => box.x + Math.floor(box.width / 2))
    .sort((a, b) => a - b);
  return [0, ...cuts].map((from, n) => {
    const to = cuts[n] ?? width;
    return mask.map((m, i) => (m && i % width >= from && i % width < to ? 1 : 0));
  });
}
