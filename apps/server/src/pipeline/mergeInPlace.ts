// Step: the set merged once more where a merge of it has its frames, in that merge's tone: something to paint with.
import type { MergeKind, SourceMethod } from '@blendrak/contract';
import { canTouch, footprintOf, SAME_PLACE } from '@blendrak/core/frame';
import { IDENTITY_TONE } from '@blendrak/core/image';
import { BRACKET_DEFAULTS, mergeBracket } from './mergeBracket';
import { blendPanorama } from './mergePanorama';
import { mergeStack } from './mergeStack';
import { toned } from './toneFrames';
import type { MergeSize, PlacedFrame, SetPicture, StepContext } from './types';

/** A merge that another one is to be laid on. */
export interface PlaceOrder {
  readonly kind: MergeKind;
  readonly merge: SetPicture;
  /** Where they lie in the merge, in its tone. */
  readonly frames: readonly PlacedFrame[];
  /** Frame that the others were laid on. */
  readonly reference: number;
  /** Exposures against the reference, of a bracket, EV. */
  readonly evs: readonly number[];
  /** One of its kind. */
  readonly method: SourceMethod;
}

/** The other merge: a picture of the same size, and what brings it to the tone of the merge. */
export type PlacedMerge = Pick<PlacedFrame, 'tone' | 'grey' | 'mix' | 'contrast' | 'noise'>;

/** Share of the work after which the other merge is there. */
const MERGED = 0.85;

/**
 * Merges frames where they lie in a merge.
 * @param out path of the tile file; written beside it and renamed when complete
 */
export async function mergeInPlace(order: PlaceOrder, out: string, context: StepContext): Promise<PlacedMerge> {
  const { kind, merge, frames, reference, method } = order;
  const size = { width: merge.width, height: merge.height };
  const merging = {
    ...context,
    onProgress: (share: number, words: string) => context.onProgress(MERGED * share, words),
  };
  const noiseOf = () => context.run('noise', { tiles: out }, context.signal);
  if (kind === 'bracket') {
    // Exposures are weighed as they were shot; what comes of it is then brought to the tone of the merge.
    const plain = { tone: IDENTITY_TONE, grey: null, mix: null, contrast: null };
    const exposed = frames.map((f, k) => ({ ...f, ...plain, blocks: f.blocks ?? [], ev: order.evs[k] ?? 0 }));
    const options = { ...BRACKET_DEFAULTS, method: method === 'light' ? method : ('fusion' as const) };
    await mergeBracket({ frames: exposed, reference }, size, options, out, merging);
    const noise = await noiseOf();
    const made: PlacedFrame = {
      ...{ ...merge, tiles: out, noise, geometry: SAME_PLACE, tone: IDENTITY_TONE },
      ...{ residualPx: 0, correlation: 1 },
    };
    context.onProgress(MERGED, 'bringing it to the tone of the merge');
    const [{ tone, grey, mix, contrast }] = (await toned([made], merge, kind, context)) as [PlacedFrame];
    return { tone, noise, grey: grey ?? null, mix: mix ?? null, contrast: contrast ?? null };
  }
  if (kind === 'panorama') await blendPanorama(frames, overlapping(frames, size), size, out, merging);
  else {
    const labelled = method === 'bands' || method === 'reference' ? method : 'labels';
    await mergeStack({ frames, reference }, size, { method: labelled, gradients: [] }, out, merging);
  }
  return { tone: IDENTITY_TONE, noise: await noiseOf(), grey: null, mix: null, contrast: null };
}

/** Pairs of frames that can show the same place. */
function overlapping(frames: readonly PlacedFrame[], size: MergeSize): [number, number][] {
  const whole = { x: 0, y: 0, ...size };
  const areas = frames.map((f) => footprintOf(f.geometry, f) ?? whole);
  return areas.flatMap((area, i) =>
    areas.flatMap((other, j): [number, number][] => (j > i && canTouch(area, other) ? [[i, j]] : [])),
  );
}
