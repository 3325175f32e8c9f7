// How far a picture leans, by the straight edges in it: horizons, walls, masts.
import { badParameter } from '../checks';

/** Ends of a straight edge: x, y, x, y in px. */
export type Edge = readonly [number, number, number, number];

export interface Tilt {
  /** Clockwise turn that puts most edges upright or level, degrees. */
  readonly turnDeg: number;
  /** How many edges agree on it to half a degree, and what share of the length of all that are nearly upright or level they have. */
  readonly edges: number;
  readonly share: number;
}

/** Edges that lean more than this are meant to. */
const MOST_LEAN_DEG = 12;
/** Edges agree within this. */
const AGREE_DEG = 0.5;
/** A lean is believed where edges of so much of the length agree. */
const LEAST_SHARE = 0.4;
const LEAST_EDGES = 2;

/**
 * The lean of one edge from the upright or the level, whichever is nearer.
 * @returns degrees, −45 to 45, clockwise above 0
 * @throws ParameterError for an edge without length
 */
export function leanOf([ax, ay, bx, by]: Edge): number {
  if (ax === bx && ay === by) throw badParameter('leanOf.edge', 'two different ends', `(${ax}, ${ay}) twice`);
  const deg = (Math.atan2(by - ay, bx - ax) * 180) / Math.PI;
  return deg - 90 * Math.round(deg / 90);
}

/**
 * Finds the turn that straightens a picture.
 * @param edges straight edges, as `findLines` finds them
 * @returns null where edges do not agree, or are too few
 */
export function tiltOf(edges: readonly Edge[]): Tilt | null {
  const leans = edges
    .map((edge) => ({ lean: leanOf(edge), length: Math.hypot(edge[2] - edge[0], edge[3] - edge[1]) }))
    .filter(({ lean }) => Math.abs(lean) <= MOST_LEAN_DEG);
  const all = leans.reduce((sum, { length }) => sum + length, 0);
  // Each edge in turn is asked how much of the length agrees with it.
  let best: typeof leans = [];
  for (const { lean } of leans) {
    const agreeing = leans.filter((other) => Math.abs(other.lean - lean) <= AGREE_DEG);
    if (lengthOf(agreeing) > lengthOf(best)) best = agreeing;
  }
  const share = lengthOf(best) / Math.max(all, 1e-9);
  if (best.length < LEAST_EDGES || share < LEAST_SHARE) return null;
  const lean = best.reduce((sum, { lean: l, length }) => sum + l * length, 0) / lengthOf(best);
  return { turnDeg: -lean, edges: best.length, share };
}

function lengthOf(edges: readonly { readonly length: number }[]): number {
  return edges.reduce((sum, { length }) => sum + length, 0);
}
