// Some of many frames, spread over their series.

/** Five frames spread over a series see enough of a merge sharp between them. */
export const WITNESSES = 5;

/** Indices of at most so many of `count` things, evenly spread, both ends among them. */
export function spread(count: number, most: number): number[] {
  if (count < 2) return [0];
  return [...new Set(Array.from({ length: most }, (_, i) => Math.round((i * (count - 1)) / (most - 1))))];
}
