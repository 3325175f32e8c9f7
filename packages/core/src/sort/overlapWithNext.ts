// How much each frame of a set shares with the next one: slices of a stack, tones of a bracket, views of a panorama.
import type { ProposedSet } from './groupFrames';
import { exposureOverlap, sliceOverlap } from './redundantFrames';
import { makePyramid, relateFrames } from './relateFrames';
import type { SortFrame } from './sortFrame';

/**
 * How much each frame of a set shares with the next one.
 * @param frames all frames
 * @param set one set of them
 * @returns per frame but the last, 0..1. Stack and bracket: of the places that it shows well, those that the next one
 * shows well, too. Panorama: of its view, what the next one sees.
 */
export function overlapWithNext(frames: readonly SortFrame[], set: ProposedSet): number[] {
  const members = set.frames.map((k) => frames[k]!);
  if (members.length < 2) return [];
  if (set.kind === 'bracket') return exposureOverlap(members);
  if (set.kind === 'focus-stack') return sliceOverlap(members);
  const pyramids = members.map((f) => makePyramid(f.summary));
  return pyramids.slice(1).map((next, i) => Math.max(0, Math.min(1, relateFrames(pyramids[i]!, next).overlap)));
}
