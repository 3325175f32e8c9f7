// What a donor cannot give: where it is white or black to the end and another exposure holds the place, painting it in would lose what
// the merge has.
import { badParameter } from '../checks';
import { CELL_PX } from '../kernels';

/** An exposure of a region as it is toned. */
export interface HeldPicture {
  /** R, G and B, encoded 0..1, and where it covers the region. */
  readonly channels: readonly Float32Array[];
  /** Values of each beyond which it is clipped (`heldRanges`). */
  readonly ranges: readonly (readonly [black: number, white: number])[];
}

/** A cell is clipped where so many of its px are. */
const CLIPPED_SHARE = 0.5;

/**
 * Cells that a donor has clipped and another exposure has not.
 * @param others further exposures of the region; they are asked for one by one, and only while a clipped cell is left that none holds
 * @param width, height px of the region, multiples of 4
 * @returns a flag per cell
 * @throws ParameterError for planes of another size
 */
export function lostCells(
  donor: HeldPicture,
  others: Iterable<HeldPicture>,
  width: number,
  height: number,
): Uint8Array {
  if (width % CELL_PX !== 0 || height % CELL_PX !== 0 || donor.channels.some((c) => c.length !== width * height))
    throw badParameter('lostCells.size', 'multiples of 4 px, and as many values', { width, height });
  const lost = new Uint8Array((width / CELL_PX) * (height / CELL_PX));
  const open = clippedCells(donor, width);
  if (!open.includes(1)) return lost;
  for (const other of others) {
    const clipped = clippedCells(other, width);
    open.forEach((v, i) => {
      if (!v || clipped[i]) return;
      lost[i] = 1;
      open[i] = 0;
    });
    if (!open.includes(1)) break;
  }
  return lost;
}

/** A flag per cell that holds nothing: white in a channel, which takes its colour, black in all, or not covered. */
function clippedCells({ channels, ranges }: HeldPicture, width: number): Uint8Array {
  const across = width / CELL_PX;
  const [r, g, b, valid] = channels as [Float32Array, Float32Array, Float32Array, Float32Array];
  const [[r0, r1], [g0, g1], [b0, b1]] = ranges as [[number, number], [number, number], [number, number]];
  const counts = new Uint8Array(r.length / CELL_PX ** 2);
  for (let i = 0; i < r.length; i++) {
    const [x, y, z] = [r[i]!, g[i]!, b[i]!];
    if (valid[i] && x < r1 && y < g1 && z < b1 && (x > r0 || y > g0 || z > b0)) continue;
    const cell = Math.floor(i / width / CELL_PX) * across + Math.floor((i % width) / CELL_PX);
    counts[cell] = counts[cell]! + 1;
  }
  return counts.map((n) => (n >= CLIPPED_SHARE * CELL_PX ** 2 ? 1 : 0));
}
