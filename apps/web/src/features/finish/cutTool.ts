// The crop under the pointer: moved within the picture, or made larger and smaller by a corner.
import type { Cut } from '@blendrak/contract';
import { liesWithin, turnedPlace } from '@blendrak/core/finish';
import type { PictureSize } from './printWords';

export type Region = NonNullable<Cut['crop']>;

/** A part of the crop that can be taken hold of. */
export type Grip = 'inside' | 'upper-left' | 'upper-right' | 'lower-left' | 'lower-right';

const LEAST_PX = 64;

/** All of the picture, as a crop. */
export function wholeCrop({ width, height }: PictureSize): Region {
  return { x: 0, y: 0, width, height };
}

/** What a place takes hold of: a corner within reach, else the inside; null for nothing. */
export function gripAt({ x, y, width, height }: Region, px: number, py: number, reach: number): Grip | null {
  const near = (a: number, b: number): boolean => Math.abs(a - b) <= reach;
  const [left, right] = [near(px, x), near(px, x + width)];
  const [upper, lower] = [near(py, y), near(py, y + height)];
  if (upper && left) return 'upper-left';
  if (upper && right) return 'upper-right';
  if (lower && left) return 'lower-left';
  if (lower && right) return 'lower-right';
  return px > x && py > y && px < x + width && py < y + height ? 'inside' : null;
}

/**
 * Drags a crop.
 * @param aspect that it keeps; null for any
 * @returns the crop as far as it goes within the turned picture, at whole px
 */
export function draggedCrop(
  picture: PictureSize,
  turnDeg: number,
  from: Region,
  grip: Grip,
  dx: number,
  dy: number,
  aspect: number | null,
): Region {
  const isFit = (region: Region): boolean =>
    region.x >= 0 &&
    region.y >= 0 &&
    region.x + region.width <= picture.width &&
    region.y + region.height <= picture.height &&
    liesWithin(picture, turnDeg, region);
  // As far along the way as it stays within the picture.
  let [low, high] = [0, 1];
  const at = (share: number): Region => dragged(from, grip, dx * share, dy * share, aspect);
  if (isFit(at(1))) return at(1);
  if (!isFit(from)) return from;
  for (let k = 0; k < 12; k++) {
    const middle = (low + high) / 2;
    if (isFit(at(middle))) low = middle;
    else high = middle;
  }
  return isFit(at(low)) ? at(low) : from;
}

function dragged({ x, y, width, height }: Region, grip: Grip, dx: number, dy: number, aspect: number | null): Region {
  if (grip === 'inside') return { x: Math.round(x + dx), y: Math.round(y + dy), width, height };
  const [isLeft, isUpper] = [grip.endsWith('left'), grip.startsWith('upper')];
  let wide = Math.max(LEAST_PX, Math.round(width + (isLeft ? -dx : dx)));
  let high = Math.max(LEAST_PX, Math.round(height + (isUpper ? -dy : dy)));
  if (aspect !== null) {
    // The side that was dragged more decides.
    if (Math.abs(wide - width) > Math.abs(high - height) * aspect) high = Math.round(wide / aspect);
    else wide = Math.round(high * aspect);
  }
  return { x: isLeft ? x + width - wide : x, y: isUpper ? y + height - high : y, width: wide, height: high };
}

/** Corners of a crop on the picture as it is shown, unturned: for drawing. */
export function cornersOnPicture(picture: PictureSize, turnDeg: number, crop: Region): [number, number][] {
  const back = turnedPlace(picture, -turnDeg);
  const { x, y, width, height } = crop;
  return [back(x, y), back(x + width, y), back(x + width, y + height), back(x, y + height)];
}
