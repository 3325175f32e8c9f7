// A picture turned about its middle: where its places come to lie, and what of it can be a rectangle again.
import { badParameter } from '../checks';
import { similarityGeometry, type SimilarityGeometry } from '../frame';
import type { Region } from '../image';

export interface Size {
  readonly width: number;
  readonly height: number;
}

/** Most that a picture is turned to straighten it, degrees: beyond that something else is meant. */
export const MOST_TURN_DEG = 20;

/**
 * Where a place of a picture lies once it is turned clockwise about its middle.
 * @param size of the picture, px
 * @param turnDeg −20 to 20, clockwise as seen; below 0 the other way
 * @returns from picture px to px of the turned picture, which has the same middle and the same size of px
 * @throws ParameterError for a turn outside that
 */
export function turnedPlace({ width, height }: Size, turnDeg: number): (x: number, y: number) => [number, number] {
  if (!(Math.abs(turnDeg) <= MOST_TURN_DEG))
    throw badParameter('turnPicture.turnDeg', `${-MOST_TURN_DEG} to ${MOST_TURN_DEG}°`, turnDeg);
  const angle = (turnDeg * Math.PI) / 180;
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  const [cx, cy] = [width / 2, height / 2];
  return (x, y) => [cx + (x - cx) * cos - (y - cy) * sin, cy + (x - cx) * sin + (y - cy) * cos];
}

/** The same turn as the place of a frame: the picture is resampled by it like any other frame. */
export function turnGeometry(size: Size, turnDeg: number): SimilarityGeometry {
  const turned = turnedPlace(size, turnDeg);
  const [[tx, ty], [x1, y1]] = [turned(0, 0), turned(1, 0)];
  return similarityGeometry({ re: x1 - tx, im: y1 - ty, tx, ty });
}

/** Whether an upright rectangle lies within a picture that was turned, to a thousandth of a px. */
export function liesWithin(size: Size, turnDeg: number, { x, y, width, height }: Region): boolean {
  const back = turnedPlace(size, -turnDeg);
  return [
    [x, y],
    [x + width, y],
    [x, y + height],
    [x + width, y + height],
  ].every(([px, py]) => {
    const [bx, by] = back(px!, py!);
    return bx >= -0.001 && by >= -0.001 && bx <= size.width + 0.001 && by <= size.height + 0.001;
  });
}
