// A mat: the even frame of one tone that is laid around a finished picture.
import type { Plane, Region } from './raster';

/** Lines of a mat differ by no more than this, encoded: three levels of 255, which compression leaves. */
const SAME = 0.012;
/** A mat is on all four sides, and this deep at least: px, and as a share of the longer side. */
const LEAST_PX = 2;
const LEAST_SHARE = 0.004;
/** More than this share of a side is no mat. */
const MOST_SHARE = 0.4;
/** A mat may hold lines of other tones: a keyline, a bevel. */
const MOST_LINES = 3;

/**
 * Finds what lies inside a mat.
 * @param planes R, G, B of one size
 * @returns the rectangle of the picture; null where there is no mat on all four sides
 * Cost: reads the lines of the mat only.
 */
export function findMat(planes: readonly [Plane, Plane, Plane]): Region | null {
  const { width, height } = planes[0];
  const least = Math.max(LEAST_PX, LEAST_SHARE * Math.max(width, height));
  const left = depthOf(planes, width, (d, t) => t * width + d, height);
  const right = depthOf(planes, width, (d, t) => t * width + width - 1 - d, height);
  const top = depthOf(planes, height, (d, t) => d * width + t, width);
  const bottom = depthOf(planes, height, (d, t) => (height - 1 - d) * width + t, width);
  if (Math.min(left, right, top, bottom) < least) return null;
  if (Math.max(left, right) > MOST_SHARE * width || Math.max(top, bottom) > MOST_SHARE * height) return null;
  return { x: left, y: top, width: width - left - right, height: height - top - bottom };
}

/** Lines from an edge that are even: of one tone, then perhaps of another. */
function depthOf(
  planes: readonly [Plane, Plane, Plane],
  deep: number,
  at: (depth: number, along: number) => number,
  along: number,
): number {
  let [depth, tones] = [0, 0];
  let tone: number[] | null = null;
  for (; depth < deep; depth++) {
    const first = planes.map(({ data }) => data[at(depth, along >> 1)]!);
    // At the corners a line runs through the mat of the sides, which may be of another tone by then.
    const isEven = planes.every(({ data }, c) => {
      for (let t = depth; t < along - depth; t++) if (Math.abs(data[at(depth, t)]! - first[c]!) > SAME) return false;
      return true;
    });
    if (!isEven) return depth;
    if (tone && first.some((v, c) => Math.abs(v - tone![c]!) > SAME)) tones += 1;
    if (tones >= MOST_LINES) return depth;
    tone = first;
  }
  return depth;
}
