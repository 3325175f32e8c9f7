// Where a frame can be seen in a merge at all: what lies elsewhere need not be read.
import type { Region } from '../image';
import type { FrameSize } from './coverage';
import type { FrameGeometry } from './geometry';
import { frameToMerge } from './mapPoint';

/** Points along each side of a frame, and across its inside, by which its footprint is found. */
const STEPS = 16;
/** The footprint is grown by this share of itself: between points the outline may bulge. */
const BULGE = 0.02;

/**
 * A region of the merge outside of which a frame shows nothing.
 * @returns merge px; null when that cannot be told (part of the frame lies where the projection shows nothing): anywhere
 */
export function footprintOf(geometry: FrameGeometry, { width, height }: FrameSize): Region | null {
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let j = 0; j <= STEPS; j++) {
    for (let i = 0; i <= STEPS; i++) {
      const at = frameToMerge(geometry, (i / STEPS) * width, (j / STEPS) * height);
      if (!at) return null;
      left = Math.min(left, at[0]);
      right = Math.max(right, at[0]);
      top = Math.min(top, at[1]);
      bottom = Math.max(bottom, at[1]);
    }
  }
  const grow = BULGE * Math.max(right - left, bottom - top);
  const [x, y] = [Math.floor(left - grow), Math.floor(top - grow)];
  return { x, y, width: Math.ceil(right + grow) - x, height: Math.ceil(bottom + grow) - y };
}

/**
 * Whether a frame can be seen in a region.
 * @param footprint as `footprintOf` gives it
 * @param marginPx that resampling reads beyond the region; default 0
 */
export function canTouch(footprint: Region | null, region: Region, marginPx = 0): boolean {
  if (!footprint) return true;
  return (
    footprint.x < region.x + region.width + marginPx &&
    region.x - marginPx < footprint.x + footprint.width &&
    footprint.y < region.y + region.height + marginPx &&
    region.y - marginPx < footprint.y + footprint.height
  );
}
