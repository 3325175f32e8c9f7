// Tasks of sorting a card.
import type { Exif, TestFrame } from '@blendrak/contract';
import type { FrameCheck, ProposedSet, Sorting } from '@blendrak/core/sort';

/** A file that was looked at. */
export interface LookedAt {
  /** SHA-256 of the contents. */
  readonly digest: string;
  readonly exif: Exif | null;
}

export interface SortTasks {
  /** Looks at a file for sorting: what it saw goes to the file `out`, a thumbnail where it is told to. */
  readonly summarise: [{ path: string; name: string; out: string; thumb?: string }, LookedAt];
  /** Groups frames into sets and checks each set. */
  readonly group: [
    { summaries: readonly string[] },
    {
      sorting: Sorting;
      checks: readonly (readonly FrameCheck[])[];
      labels: readonly (readonly string[])[];
      overlaps: readonly (readonly number[])[];
    },
  ];
  /** Checks one set, as it was put together by hand. */
  readonly checkSet: [
    { summaries: readonly string[]; kind: ProposedSet['kind'] },
    { checks: readonly FrameCheck[]; overlaps: readonly number[] },
  ];
  /** How the light of a scene is spread in a developed frame. */
  readonly testLight: [{ path: string; exif: Exif | null }, TestFrame['light']];
}
