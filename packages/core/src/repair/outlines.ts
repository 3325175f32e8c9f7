// Outlines as masks: full inside, some px further, and fading from there.
import { badParameter } from '../checks';
import { paintArea, type Region } from '../image';

/** What a polygon encloses, grown and feathered. */
export interface Outline {
  /** Corners in merge px, three or more. */
  readonly points: readonly (readonly [x: number, y: number])[];
  /** The mask is full up to so far beyond the outline, merge px; below 0 within it. */
  readonly growPx: number;
  /** From there it falls to nothing over so many px. */
  readonly featherPx: number;
  /** Most of the donor that shows, 0..1. */
  readonly strength: number;
}

/** The part of the merge an outline can touch. */
export function outlineRegion({ points, growPx, featherPx }: Outline): Region {
  const reach = Math.max(0, growPx + featherPx) + 1;
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const [x, y] of points) {
    left = Math.min(left, x);
    top = Math.min(top, y);
    right = Math.max(right, x);
    bottom = Math.max(bottom, y);
  }
  const [x, y] = [Math.floor(left - reach), Math.floor(top - reach)];
  return { x, y, width: Math.ceil(right + reach) - x, height: Math.ceil(bottom + reach) - y };
}

/**
 * Lays an outline into a mask: the mask becomes the larger of itself and the outline's fall-off.
 * @param mask region.width × region.height values 0..1, changed in place
 * @param region part of the merge the mask covers, in units of `scale` merge px
 * @param scale merge px per mask px, above 0
 * @throws ParameterError for an outline outside its ranges
 * Cost: 60 ns per px of the outline's box within reach of the region, and px rows × corners.
 */
export function layOutline(mask: Float32Array, region: Region, outline: Outline, scale = 1): void {
  checkOutline(outline);
  if (mask.length !== region.width * region.height)
    throw badParameter('layOutline.mask.length', `${region.width * region.height} values`, mask.length);
  const { growPx, featherPx, strength } = outline;
  const reach = Math.ceil((Math.abs(growPx) + featherPx) / scale) + 2;
  const whole = outlineRegion(outline);
  // Counted from the region's corner, which need not lie at a whole px where it is reduced. What lies farther from the region than
  // the mask reaches cannot change it.
  const left = Math.max(Math.floor(whole.x / scale - region.x), -reach);
  const top = Math.max(Math.floor(whole.y / scale - region.y), -reach);
  const width = Math.min(Math.ceil((whole.x + whole.width) / scale - region.x), region.width + reach) - left;
  const height = Math.min(Math.ceil((whole.y + whole.height) / scale - region.y), region.height + reach) - top;
  if (width <= 0 || height <= 0) return;
  const corners = outline.points.map(
    ([x, y]) => [(x / scale - region.x - left) / width, (y / scale - region.y - top) / height] as const,
  );
  const inside = paintArea([{ kind: 'polygon', corners }], width, height).data;
  const outwards = distanceTo(inside, 1, width, height);
  const inwards = distanceTo(inside, 0, width, height);
  for (let y = Math.max(0, -top); y < Math.min(height, region.height - top); y++) {
    for (let x = Math.max(0, -left); x < Math.min(width, region.width - left); x++) {
      const i = y * width + x;
      // Between the middles of px, so that the outline itself lies at 0.
      const beyond = (inside[i] ? 0.5 - inwards[i]! : outwards[i]! - 0.5) * scale - growPx;
      const at = (top + y) * region.width + left + x;
      mask[at] = Math.max(mask[at]!, strength * fall(beyond, featherPx));
    }
  }
}

/** 1 up to 0, then smoothly to 0 over the feather. */
function fall(beyondPx: number, featherPx: number): number {
  if (beyondPx <= 0) return 1;
  if (beyondPx >= featherPx) return 0;
  const t = 1 - beyondPx / featherPx;
  return t * t * (3 - 2 * t);
}

function checkOutline({ points, growPx, featherPx, strength }: Outline): void {
  if (points.length < 3) throw badParameter('outline.points.length', 'at least 3', points.length);
  if (!points.every(([x, y]) => Number.isFinite(x) && Number.isFinite(y)))
    throw badParameter('outline.points', 'finite px', 'a corner that is none');
  if (!(Math.abs(growPx) <= 500)) throw badParameter('outline.growPx', '−500 to 500', growPx);
  if (!(featherPx >= 0 && featherPx <= 500)) throw badParameter('outline.featherPx', '0 to 500', featherPx);
  if (!(strength > 0 && strength <= 1)) throw badParameter('outline.strength', 'above 0, up to 1', strength);
}

/**
 * Distance of each px to the nearest one of a value, px; large where there is none.
 * Source: P. Felzenszwalb and D. Huttenlocher, "Distance transforms of sampled functions", Theory of Computing 8 (2012).
 */
function distanceTo(data: Uint8Array, value: 0 | 1, width: number, height: number): Float32Array {
  const far = (width + height) ** 2;
  const squared = Float32Array.from(data, (v) => ((v ? 1 : 0) === value ? 0 : far));
  const line = new Float32Array(Math.max(width, height));
  for (let x = 0; x < width; x++) lowerEnvelope(squared, x, width, height, line);
  for (let y = 0; y < height; y++) lowerEnvelope(squared, y * width, 1, width, line);
  return squared.map(Math.sqrt);
}

/** One row or column of the transform: the least of parabolas around its samples. */
function lowerEnvelope(data: Float32Array, start: number, stride: number, n: number, line: Float32Array): void {
  for (let i = 0; i < n; i++) line[i] = data[start + i * stride]!;
  const at = new Int32Array(n);
  const from = new Float32Array(n + 1);
  let k = 0;
  from[0] = -Infinity;
  from[1] = Infinity;
  for (let q = 1; q < n; q++) {
    const meet = (p: number): number => (line[q]! + q * q - line[p]! - p * p) / (2 * q - 2 * p);
    let s = meet(at[k]!);
    while (s <= from[k]!) s = meet(at[--k]!);
    at[++k] = q;
    from[k] = s;
    from[k + 1] = Infinity;
  }
  k = 0;
  for (let q = 0; q < n; q++) {
    while (from[k + 1]! < q) k++;
    data[start + q * stride] = (q - at[k]!) ** 2 + line[at[k]!]!;
  }
}
