// By how much a donor has to be moved for it to meet the merge around a mask: parallax and lenses leave some frames a px or two off.
import { badParameter } from '../checks';
import { boxSmooth, median, sampleBilinear, type Plane } from '../image';

/** Tones differ: only detail finer than this many px is compared. */
const DETAIL_PX = 8;
const ROUNDS = 12;
/** A step below this ends the search, px. */
const SETTLED_PX = 0.005;
/** Farther, something else was found. */
const MOST_PX = 6;
/** A nudge has to take away this share of the difference around the mask. */
const LEAST_GAIN = 0.1;
/** Structure in the direction that shows least of it, over that which shows most: an edge alone says nothing along itself. */
const LEAST_ACROSS = 0.02;
const LEAST_PX = 400;

/**
 * Finds the translation by which a donor fits what surrounds a mask.
 * Source: B. Lucas and T. Kanade, "An iterative image registration technique", IJCAI 1981, with Tukey's weights.
 * @param merge, donor luma of the same region, encoded
 * @param around 1 where the pictures are compared
 * @returns px right and down at which the donor is to be read, (0, 0) for none; null where it tells too little
 * @throws ParameterError for planes of different sizes
 * Cost: about 60 ns per px and round.
 */
export function findNudge(merge: Plane, donor: Plane, around: Uint8Array): [dx: number, dy: number] | null {
  const { width, height } = merge;
  if (donor.width !== width || donor.height !== height || around.length !== width * height)
    throw badParameter('findNudge.size', `${width} × ${height} for all`, [donor.width, donor.height, around.length]);
  const [m, d] = [detailOf(merge), detailOf(donor)];
  const places = Array.from(around.keys()).filter((i) => {
    const [x, y] = [i % width, Math.floor(i / width)];
    return around[i] && x > MOST_PX && y > MOST_PX && x < width - 1 - MOST_PX && y < height - 1 - MOST_PX;
  });
  if (places.length < LEAST_PX) return null;
  let shift: [number, number] = [0, 0];
  const start = differenceAt(m, d, places, shift);
  for (let round = 0; round < ROUNDS; round++) {
    const step = stepFrom(m, d, places, shift);
    if (!step) return null;
    shift = [shift[0] + step[0], shift[1] + step[1]];
    if (Math.hypot(...shift) > MOST_PX) return null;
    if (Math.hypot(...step) < SETTLED_PX) break;
  }
  return differenceAt(m, d, places, shift) < (1 - LEAST_GAIN) * start ? shift : [0, 0];
}

/** What of a picture is finer than tones are. */
function detailOf(plane: Plane): Plane {
  const even = boxSmooth(plane, DETAIL_PX).data;
  return { ...plane, data: plane.data.map((v, i) => v - even[i]!) };
}

/** Median of what pictures differ by, when the donor is read so far off. */
function differenceAt(m: Plane, d: Plane, places: readonly number[], [dx, dy]: readonly [number, number]): number {
  return median(places.map((i) => Math.abs(m.data[i]! - readAt(d, i, dx, dy))));
}

function readAt(d: Plane, i: number, dx: number, dy: number): number {
  return sampleBilinear(d, (i % d.width) + 0.5 + dx, Math.floor(i / d.width) + 0.5 + dy);
}

/** One step of least squares; null where the structure tells too little. */
function stepFrom(
  m: Plane,
  d: Plane,
  places: readonly number[],
  [dx, dy]: readonly [number, number],
): [number, number] | null {
  const rest = places.map((i) => m.data[i]! - readAt(d, i, dx, dy));
  const cut = 4.685 * Math.max(1e-4, 1.4826 * median(rest.map(Math.abs)));
  let [xx, xy, yy, xr, yr] = [0, 0, 0, 0, 0];
  places.forEach((i, n) => {
    const q = rest[n]! / cut;
    if (Math.abs(q) >= 1) return;
    const w = (1 - q * q) ** 2;
    const gx = 0.5 * (readAt(d, i, dx + 1, dy) - readAt(d, i, dx - 1, dy));
    const gy = 0.5 * (readAt(d, i, dx, dy + 1) - readAt(d, i, dx, dy - 1));
    xx += w * gx * gx;
    xy += w * gx * gy;
    yy += w * gy * gy;
    xr += w * gx * rest[n]!;
    yr += w * gy * rest[n]!;
  });
  const [half, spread] = [(xx + yy) / 2, Math.hypot((xx - yy) / 2, xy)];
  if (!(half - spread > LEAST_ACROSS * (half + spread))) return null;
  const determinant = xx * yy - xy * xy;
  return [(yy * xr - xy * yr) / determinant, (xx * yr - xy * xr) / determinant];
}
