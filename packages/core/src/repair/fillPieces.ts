// A place to be filled in pieces: a long strip has not one neighbour that fits all of it.
type Point = readonly [x: number, y: number];

/** A piece is about so many times as long as it is wide, and no shorter than this, px. */
const TIMES_AS_LONG = 4;
const SHORTEST_PX = 96;

/**
 * Cuts an outline into pieces along its longer side.
 * @param polygon corners, px
 * @returns outlines that cover it together
 */
export function fillPieces(polygon: readonly Point[]): Point[][] {
  const span = (of: (p: Point) => number): readonly [number, number] => [
    Math.min(...polygon.map(of)),
    Math.max(...polygon.map(of)),
  ];
  const [xs, ys] = [span((p) => p[0]), span((p) => p[1])];
  const axis = xs[1] - xs[0] >= ys[1] - ys[0] ? 0 : 1;
  const [low, high] = axis === 0 ? xs : ys;
  const across = axis === 0 ? ys[1] - ys[0] : xs[1] - xs[0];
  const count = Math.max(1, Math.floor((high - low) / Math.max(SHORTEST_PX, TIMES_AS_LONG * across)));
  return Array.from({ length: count }, (_, k): Point[] => {
    const from = low + ((high - low) * k) / count;
    const to = low + ((high - low) * (k + 1)) / count;
    return beyond(beyond(polygon, axis, from, 1), axis, to, -1);
  }).filter((piece) => piece.length >= 3);
}

/** What of a polygon lies on one side of a line across an axis (I. Sutherland and G. Hodgman, CACM 17(1), 1974). */
function beyond(polygon: readonly Point[], axis: 0 | 1, at: number, side: 1 | -1): Point[] {
  const isIn = (p: Point): boolean => side * (p[axis] - at) >= 0;
  return polygon.flatMap((p, k): Point[] => {
    const before = polygon[(k + polygon.length - 1) % polygon.length]!;
    const crossing = (): Point => {
      const t = (at - before[axis]) / (p[axis] - before[axis]);
      return [before[0] + t * (p[0] - before[0]), before[1] + t * (p[1] - before[1])];
    };
    if (isIn(p)) return isIn(before) ? [p] : [crossing(), p];
    return isIn(before) ? [crossing()] : [];
  });
}
