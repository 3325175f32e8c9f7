// Words for the kinds of set.
import type { JobSummary, MergeKind } from '@blendrak/contract';

export const KIND_WORDS: Readonly<Record<MergeKind, string>> = {
  'focus-stack': 'Focus stack',
  panorama: 'Panorama',
  bracket: 'Bracket',
};

/** The kind of a job in words. */
export function kindWords({ kind, isKindOpen }: Pick<JobSummary, 'kind' | 'isKindOpen'>): string {
  return isKindOpen ? 'Kind told from the frames' : KIND_WORDS[kind];
}
