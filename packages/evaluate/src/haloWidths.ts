// What a merge of a focus stack leaves beside near edges: how wide the background is spoilt by light spread from what is near.

/** Pictures of one size, row by row: the merge and its ideal as encoded luma, and the depth that the ideal shows, mm. */
export interface HaloPictures {
  readonly width: number;
  readonly height: number;
  readonly own: Float32Array;
  readonly ideal: Float32Array;
  readonly depthMm: Float32Array;
  /** Radius of the disc to which a place at a depth spreads when another depth is in focus, px. */
  spreadPx(depthMm: number, focusMm: number): number;
}

/** Edges whose near side spreads by less than this when the far side is sharp make no halo worth the name, px. */
const LEAST_SPREAD_PX = 3;
const FARTHEST_PX = 48;
/** A mean difference over three px that the eye sees beside an edge: five of 255 code values. */
const SEEN = 0.02;
/** The edge itself, which antialiasing draws a little otherwise, is not the halo. */
const EDGE_PX = 1;
/** Every so many px along an edge are enough. */
const EVERY = 3;

/**
 * Walks from each near edge into the far side until the merge is as it should be.
 * @returns per place on an edge the width that is spoilt, px; 0 where nothing is
 */
export function haloWidths(pictures: HaloPictures, borderPx: number): number[] {
  const { width, height } = pictures;
  const widths: number[] = [];
  const steps = [
    [1, 0],
    [-1, 0],
    [0, 1],
    [0, -1],
  ] as const;
  for (let y = borderPx; y < height - borderPx; y += EVERY) {
    for (let x = borderPx; x < width - borderPx; x += EVERY) {
      for (const [dx, dy] of steps) {
        const found = spoiltFrom(pictures, x, y, dx, dy);
        if (found !== null) widths.push(found);
      }
    }
  }
  return widths;
}

/** Width spoilt from the near px (x, y) towards (dx, dy); null where no near edge lies there. */
function spoiltFrom(pictures: HaloPictures, x: number, y: number, dx: number, dy: number): number | null {
  const { width, height, own, ideal, depthMm, spreadPx } = pictures;
  const step = dy * width + dx;
  const near = y * width + x;
  const room = dx !== 0 ? (dx > 0 ? width - 1 - x : x) : dy > 0 ? height - 1 - y : y;
  if (room < EDGE_PX + 4) return null;
  const [nearMm, farMm] = [depthMm[near]!, depthMm[near + step]!];
  if (!(farMm > nearMm) || spreadPx(nearMm, farMm) < LEAST_SPREAD_PX) return null;
  const error = (k: number): number => Math.abs(own[near + k * step]! - ideal[near + k * step]!);
  const last = Math.min(FARTHEST_PX, room - 1);
  for (let k = EDGE_PX + 2; k < last; k++) {
    // The far side ends where something near begins again.
    if (spreadPx(depthMm[near + k * step]!, farMm) >= LEAST_SPREAD_PX && depthMm[near + k * step]! < farMm)
      return k - 1 - EDGE_PX - 1;
    if ((error(k - 1) + error(k) + error(k + 1)) / 3 < SEEN) return k - EDGE_PX - 2;
  }
  return last - EDGE_PX - 2;
}
