// Words by which people tell the frames of a set apart.
import { exposures } from './splitRun';
import type { ProposedSet } from './groupFrames';
import type { SortFrame } from './sortFrame';

const THIRDS = ['near', 'middle', 'far'] as const;

/**
 * Labels the frames of a set: near, middle and far thirds of a stack whose direction is known; under, mid and over of a bracket;
 * column and row of a panorama.
 * @returns one label per frame; empty where nothing can be said
 */
export function labelFrames(frames: readonly SortFrame[], set: ProposedSet): string[] {
  const n = set.frames.length;
  if (set.kind === 'bracket') {
    const ev = exposures(frames, set.frames);
    const middle = [...ev].sort((a, b) => a - b)[n >> 1]!;
    return ev.map((e) => (e < middle - 0.3 ? 'under' : e > middle + 0.3 ? 'over' : 'mid'));
  }
  if (set.kind === 'focus-stack') {
    if (set.order === 'unknown') return set.frames.map(() => '');
    const word = (k: number): string => THIRDS[Math.min(2, Math.floor((3 * k) / n))]!;
    return set.frames.map((_, k) => word(set.order === 'near-to-far' ? k : n - 1 - k));
  }
  const { places } = set;
  if (!places || places.length !== n) return set.frames.map(() => '');
  const rows = Math.max(...places.map((p) => p[1])) + 1;
  return places.map(([column, row]) => (rows > 1 ? `row ${row + 1}, column ${column + 1}` : `column ${column + 1}`));
}
