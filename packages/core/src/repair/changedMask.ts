// Masks that were changed after they were drawn: grown or shrunk, softened, weakened, turned inside out.
import { badParameter } from '../checks';
import type { Region } from '../image';

/** How a mask is changed; what it was drawn as stays known, so that a change can be changed again. */
export interface MaskChange {
  /** Merge px that its rim moves outwards; below 0 inwards. */
  readonly growPx: number;
  /** Merge px over which its rim fades, besides what it fades by itself. */
  readonly softenPx: number;
  /** What all of it is weakened to, above 0, 1: as it was. */
  readonly strength: number;
  /** Turned inside out within this part of the merge, merge px; null: as it was drawn. */
  readonly insideOut: Region | null;
}

/** Farthest that a rim moves or fades, merge px. */
export const MOST_CHANGE_PX = 100;

/**
 * Checks how a mask is to be changed.
 * @throws ParameterError for a change outside its ranges
 */
export function checkMaskChange({ growPx, softenPx, strength, insideOut }: MaskChange): void {
  if (!(Math.abs(growPx) <= MOST_CHANGE_PX))
    throw badParameter('mask.growPx', `−${MOST_CHANGE_PX} to ${MOST_CHANGE_PX}`, growPx);
  if (!(softenPx >= 0 && softenPx <= MOST_CHANGE_PX))
    throw badParameter('mask.softenPx', `0 to ${MOST_CHANGE_PX}`, softenPx);
  if (!(strength > 0 && strength <= 1)) throw badParameter('mask.strength', 'above 0, up to 1', strength);
  if (insideOut && !(insideOut.width > 0 && insideOut.height > 0))
    throw badParameter('mask.insideOut', 'a part of the merge', insideOut);
}

/** The part of the merge that a changed mask can touch, merge px. */
export function changedRegion(own: Region, { growPx, softenPx, insideOut }: MaskChange): Region {
  if (insideOut) return insideOut;
  const beyond = Math.ceil(growPx + softenPx / 2);
  const width = Math.max(0, own.width + 2 * beyond);
  const height = Math.max(0, own.height + 2 * beyond);
  return { x: own.x - beyond, y: own.y - beyond, width, height };
}

/**
 * Lays a changed mask into a mask, which becomes the larger of itself and what is laid. The rim is moved by dilation or erosion of the
 * values with a disc (so that what is soft stays as soft as it was), then softened by two passes of a box, which move no straight rim.
 * @param mask region.width × region.height values 0..1, changed in place
 * @param region part of the merge the mask covers, in units of `scale` merge px
 * @param lay lays the mask as it was drawn
 * Cost: 2 to 3 ns per px and px of the growth's diameter.
 */
export function layChanged(
  mask: Float32Array,
  region: Region,
  change: MaskChange,
  lay: (mask: Float32Array, region: Region) => void,
  scale = 1,
): void {
  checkMaskChange(change);
  const { growPx, softenPx, strength, insideOut } = change;
  const reach = Math.ceil((Math.abs(growPx) + softenPx / 2) / scale) + 1;
  const wide = {
    x: region.x - reach,
    y: region.y - reach,
    width: region.width + 2 * reach,
    height: region.height + 2 * reach,
  };
  let values: Float32Array<ArrayBufferLike> = new Float32Array(wide.width * wide.height);
  lay(values, wide);
  values = moveRim(values, wide.width, wide.height, growPx / scale);
  for (let pass = 0; pass < 2; pass++) values = average(values, wide.width, wide.height, softenPx / scale / 4);
  for (let y = 0; y < region.height; y++) {
    for (let x = 0; x < region.width; x++) {
      const drawn = values[(y + reach) * wide.width + x + reach]!;
      const i = y * region.width + x;
      const shown = !insideOut ? drawn : holds(insideOut, region.x + x, region.y + y, scale) ? 1 - drawn : 0;
      mask[i] = Math.max(mask[i]!, strength * shown);
    }
  }
}

/** Whether the middle of a px lies in a box. */
function holds({ x, y, width, height }: Region, column: number, row: number, scale: number): boolean {
  const [u, v] = [(column + 0.5) * scale, (row + 0.5) * scale];
  return u >= x && v >= y && u < x + width && v < y + height;
}

/** Largest value within a disc of `radius` px, or smallest below 0: row by row of the disc, each by running extremes. */
function moveRim(values: Float32Array, width: number, height: number, radius: number): Float32Array {
  const r = Math.abs(radius);
  if (r < 0.5) return values;
  const shrinks = radius < 0;
  const source = shrinks ? values.map((v) => 1 - v) : values;
  const out = new Float32Array(values.length);
  const row = new Float32Array(width);
  for (let dy = -Math.floor(r); dy <= Math.floor(r); dy++) {
    const half = Math.floor(Math.sqrt(r * r - dy * dy));
    for (let y = Math.max(0, -dy); y < Math.min(height, height - dy); y++) {
      largestAlong(source.subarray((y + dy) * width, (y + dy + 1) * width), half, row);
      for (let x = 0, i = y * width; x < width; x++, i++) if (row[x]! > out[i]!) out[i] = row[x]!;
    }
  }
  return shrinks ? out.map((v) => 1 - v) : out;
}

/** Largest value within `half` px to either side, in three passes whatever the width (van Herk 1992; Gil and Werman 1993). */
function largestAlong(from: Float32Array, half: number, to: Float32Array): void {
  const n = from.length;
  const span = 2 * half + 1;
  const ahead = new Float32Array(n);
  const behind = new Float32Array(n);
  for (let i = 0; i < n; i++) behind[i] = i % span === 0 ? from[i]! : Math.max(behind[i - 1]!, from[i]!);
  for (let i = n - 1; i >= 0; i--)
    ahead[i] = i === n - 1 || (i + 1) % span === 0 ? from[i]! : Math.max(ahead[i + 1]!, from[i]!);
  for (let i = 0; i < n; i++) to[i] = Math.max(ahead[Math.max(0, i - half)]!, behind[Math.min(n - 1, i + half)]!);
}

/** Mean within `radius` px to each side, broken px weighed by their share: rows, then columns; the outermost values go on beyond. */
function average(values: Float32Array, width: number, height: number, radius: number): Float32Array {
  if (radius < 0.05) return values;
  const across = new Float32Array(values.length);
  const out = new Float32Array(values.length);
  for (let y = 0; y < height; y++) averageLine(values, across, y * width, 1, width, radius);
  for (let x = 0; x < width; x++) averageLine(across, out, x, width, height, radius);
  return out;
}

function averageLine(
  from: Float32Array,
  to: Float32Array,
  start: number,
  step: number,
  n: number,
  radius: number,
): void {
  const whole = Math.floor(radius);
  const part = radius - whole;
  const at = (i: number): number => from[start + Math.max(0, Math.min(n - 1, i)) * step]!;
  let sum = 0;
  for (let i = -whole; i <= whole; i++) sum += at(i);
  for (let i = 0; i < n; i++) {
    to[start + i * step] = (sum + part * (at(i - whole - 1) + at(i + whole + 1))) / (2 * radius + 1);
    sum += at(i + whole + 1) - at(i - whole);
  }
}
