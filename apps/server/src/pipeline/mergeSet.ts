// Aligning and merging a set of any kind: what command line and server call.
import type { MergeKind } from '@blendrak/contract';
import { alignBracket, type AlignedBracket } from './alignBracket';
import { alignFrames, type AlignedSet } from './alignFrames';
import { alignPanorama, type AlignedPanorama, type FailedFrame } from './alignPanorama';
import { BRACKET_DEFAULTS, mergeBracket, type BracketOptions, type MergedBracket } from './mergeBracket';
import { mergePanorama, PANORAMA_DEFAULTS, type MergedPanorama, type PanoramaOptions } from './mergePanorama';
import { mergeStack, STACK_DEFAULTS, type StackOptions } from './mergeStack';
import {
  ALIGNMENT_DEFAULTS,
  type AlignmentOptions,
  type PlacedFrame,
  type SetPicture,
  type StepContext,
} from './types';

export interface MergeOptions {
  readonly alignment: AlignmentOptions;
  readonly stack: StackOptions;
  readonly panorama: PanoramaOptions;
  readonly bracket: BracketOptions;
}

export const MERGE_DEFAULTS: MergeOptions = {
  alignment: ALIGNMENT_DEFAULTS,
  stack: STACK_DEFAULTS,
  panorama: PANORAMA_DEFAULTS,
  bracket: BRACKET_DEFAULTS,
};

interface Merged {
  readonly width: number;
  readonly height: number;
  /** Frames that take part, in order. */
  readonly frames: readonly PlacedFrame[];
  /** Share of the merge per frame; null where the inspection says it. */
  readonly shares: readonly number[] | null;
  /** Frame whose profile the merge takes, index into frames. */
  readonly profileOf: number;
  readonly failed: readonly FailedFrame[];
  readonly remarks: readonly FailedFrame[];
}

export type MergedSet =
  | (Merged & { readonly kind: 'focus-stack'; readonly set: AlignedSet })
  | (Merged & { readonly kind: 'panorama'; readonly set: AlignedPanorama; readonly merged: MergedPanorama })
  | (Merged & {
      readonly kind: 'bracket';
      readonly set: AlignedBracket;
      readonly merged: MergedBracket;
    });

/**
 * Aligns and merges.
 * @param out path of the tile file of the merge
 * @param context gives the context of a part of the work, from share to share
 * @throws InputError when the frames cannot be put together, naming the frame
 */
export async function mergeSet(
  kind: MergeKind,
  pictures: readonly SetPicture[],
  options: MergeOptions,
  out: string,
  context: (from: number, to: number) => StepContext,
): Promise<MergedSet> {
  if (kind === 'panorama') {
    const set = await alignPanorama(pictures, options.alignment, context(0, 0.45));
    const merged = await mergePanorama(set, options.panorama, out, context(0.45, 1));
    const { width, height, frames, shares } = merged;
    const { failed, remarks } = set;
    return { kind, set, merged, width, height, frames, shares, profileOf: 0, failed, remarks };
  }
  if (kind === 'bracket') {
    const set = await alignBracket(pictures, options.alignment, context(0, 0.4));
    const merged = await mergeBracket(set, options.bracket, out, context(0.4, 1));
    const { width, height, shares } = merged;
    const { frames, failed, remarks, reference } = set;
    return { kind, set, merged, width, height, frames, shares, profileOf: reference, failed, remarks };
  }
  const set = await alignFrames(pictures, options.alignment, context(0, 0.45));
  const { width, height } = set.frames[set.reference]!;
  await mergeStack(set, options.stack, out, context(0.45, 1));
  const { frames, reference } = set;
  return { kind, set, width, height, frames, shares: null, profileOf: reference, failed: [], remarks: [] };
}
