// The focal length of a set in px: from what its files say, or from what its corners agree on.
import type { FrameSize } from '@blendrak/core/frame';
import type { RelatedFrames } from '../jobs';
import type { SetPicture } from './types';

/** Focal lengths tried where the files name none, as shares of the longer side: from very wide to tele. */
const FOCAL_GUESSES = [0.55, 0.75, 1, 1.4, 2, 3, 4.5, 7];
/** Focal length in px from the first file that names it as seen on 36 × 24 mm (whose diagonal is 43.27 mm). */
export function namedFocal(pictures: readonly SetPicture[]): number | null {
  const first = pictures.find((p) => (p.exif?.focalLength35Mm ?? 0) > 0);
  return first ? (first.exif!.focalLength35Mm! * Math.hypot(first.width, first.height)) / 43.267 : null;
}

/** Longer sides of the sensors that cameras are built with, mm. */
const SENSORS_MM = [53.4, 43.8, 36, 29, 23.5, 22.3, 17.3, 13.2];
const SENSOR_REACH = 0.09;

/** Focal length in px where files name mm alone: of the usual sensors the one that comes nearest to what the corners say. */
export function sensorFocal(pictures: readonly SetPicture[], roughPx: number): number | null {
  const first = pictures.find((p) => (p.exif?.focalLengthMm ?? 0) > 0);
  if (!first) return null;
  const options = SENSORS_MM.map((mm) => (first.exif!.focalLengthMm! / mm) * Math.max(first.width, first.height));
  const off = options.map((px) => Math.abs(Math.log(px / roughPx)));
  const least = Math.min(...off);
  return least < SENSOR_REACH ? options[off.indexOf(least)]! : null;
}

export function guessesOf({ width, height }: FrameSize): number[] {
  return FOCAL_GUESSES.map((g) => g * Math.max(width, height));
}

/** The focal length on which corners agree most, over all pairs. */
export function bestFocal(related: readonly Pick<RelatedFrames, 'focalPx' | 'places'>[], size: FrameSize): number {
  const votes = new Map<number, number>();
  for (const e of related) votes.set(e.focalPx, (votes.get(e.focalPx) ?? 0) + e.places.length);
  const best = [...votes].sort((a, b) => b[1] - a[1])[0];
  return best?.[0] ?? Math.max(size.width, size.height);
}
