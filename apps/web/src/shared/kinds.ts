// Words for the kinds of set.
import type { MergeKind } from '@blendrak/contract';

export const KIND_WORDS: Readonly<Record<MergeKind, string>> = {
  'focus-stack': 'Focus stack',
  panorama: 'Panorama',
  bracket: 'Bracket',
};
