// Words for the kinds of set.
import type { MergeKind } from '@blendrak/contract';

export const KIND_WORDS: Readonly<Record<MergeKind, string>> = {
  'focus-stack': 'Focus stack',
  panorama: 'Panorama',
  bracket: 'Bracket',
};

/** Whether Blendrak can inspect merges of this kind yet. */
export function canInspect(kind: MergeKind): boolean {
  return kind === 'focus-stack';
}
