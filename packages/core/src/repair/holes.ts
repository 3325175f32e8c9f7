// Outlines with holes: one line that goes around a piece, and through slits of no width around what is left open in it. A mask in parts
// (`withoutHoles`) would do where parts have tones of their own; one that is matched to its surroundings has to stay one, as a part would be
// matched to another that is not mended yet.
import { findComponents, outlineOf, type Component } from '../image';

type Point = readonly [x: number, y: number];

/** Holes of fewer cells are not worth a line: the mask's fade fills them. */
const LEAST_CELLS = 6;
/** A hole stays where so much of it has to. */
const OPEN_SHARE = 0.5;

/**
 * A piece's outline, with those of its holes that have to stay open.
 * @param piece of a grid of width × height cells
 * @param open a flag per cell that must not be covered; other holes are filled
 * @param tolerance of the simplification, cells
 * @returns corners in cells; what lies in a slit is covered, as a slit has no width
 */
export function outlineWithHoles(
  piece: Component,
  width: number,
  height: number,
  open: Uint8Array,
  tolerance?: number,
): Point[] {
  let line: Point[] = outlineOf(piece, width, tolerance);
  for (const hole of holesOf(piece, width, height)) {
    if (hole.cells.length < LEAST_CELLS) continue;
    if (hole.cells.filter((i) => open[i]).length < OPEN_SHARE * hole.cells.length) continue;
    line = joined(line, outlineOf(hole, width, tolerance).reverse());
  }
  return line;
}

/** Parts of the grid from which no way leads out but through the piece; what touches at corners alone is closed. */
function holesOf({ cells }: Component, width: number, height: number): Component[] {
  const data = new Uint8Array(width * height).fill(1);
  for (const i of cells) data[i] = 0;
  const isRim = (i: number): boolean =>
    i < width || i >= width * (height - 1) || i % width === 0 || i % width === width - 1;
  const front = Array.from(data.keys()).filter((i) => data[i] && isRim(i));
  for (const i of front) data[i] = 0;
  for (let i = front.pop(); i !== undefined; i = front.pop())
    for (const j of [
      i - width,
      i + width,
      ...(i % width > 0 ? [i - 1] : []),
      ...(i % width < width - 1 ? [i + 1] : []),
    ]) {
      if (!data[j]) continue;
      data[j] = 0;
      front.push(j);
    }
  return findComponents({ width, height, data });
}

/** One closed line of two, by the shortest slit between their corners. */
function joined(line: readonly Point[], hole: readonly Point[]): Point[] {
  let [best, at, from] = [Infinity, 0, 0];
  line.forEach(([x, y], i) => {
    hole.forEach(([u, v], j) => {
      const apart = Math.hypot(u - x, v - y);
      if (apart < best) [best, at, from] = [apart, i, j];
    });
  });
  const around = [...hole.slice(from), ...hole.slice(0, from), hole[from]!];
  return [...line.slice(0, at + 1), ...around, ...line.slice(at)];
}
