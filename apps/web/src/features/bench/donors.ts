// What can be painted with, by number: the frames, then other merges of the set.
import type { BenchMerge } from '../../shared/queries';

type Donors = Pick<BenchMerge, 'frames' | 'sources'>;

/** How something to paint with is called in few letters, and what it is. */
export interface DonorMark {
  readonly word: 'Frame' | 'Merge';
  readonly mark: string;
}

/** A frame's number, or a merge's with an M before it. */
export function donorMark({ frames }: Pick<Donors, 'frames'>, donor: number): DonorMark {
  const beyond = donor - frames.length;
  return beyond < 0 ? { word: 'Frame', mark: `${donor + 1}` } : { word: 'Merge', mark: `M${beyond + 1}` };
}

/** Its name: a frame's file, or how the other merge was made. */
export function donorName({ frames, sources }: Donors, donor: number): string {
  return frames[donor]?.fileName ?? sources[donor - frames.length]?.name ?? `frame ${donor + 1}`;
}

/** How many there are. */
export function donorCount({ frames, sources }: Donors): number {
  return frames.length + sources.length;
}
