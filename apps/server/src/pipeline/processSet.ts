// The one way from pictures to findings, for every kind, for merges of our own and for those made elsewhere: align → merge or
// register → explain and inspect.
import type { MergeKind } from '@blendrak/contract';
import { CELL_PX } from '@blendrak/core/kernels';
import type { LabelGrid } from '@blendrak/core/merge';
import { alignBracket, type AlignedBracket } from './alignBracket';
import { alignFrames, type AlignedSet } from './alignFrames';
import { alignPanorama, type AlignedPanorama, type FailedFrame } from './alignPanorama';
import { inspectMerge, type Inspection, type OnFirst } from './inspectMerge';
import { BRACKET_DEFAULTS, mergeBracket, type BracketOptions, type MergedBracket } from './mergeBracket';
import {
  mergePanorama,
  PANORAMA_DEFAULTS,
  softRemarks,
  type MergedPanorama,
  type PanoramaOptions,
} from './mergePanorama';
import { mergeStack, STACK_DEFAULTS, type StackOptions } from './mergeStack';
import { registerPanorama, registerPlane } from './registerMerge';
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

/** Frames laid on each other, by kind. */
export type Aligned =
  | { readonly kind: 'focus-stack'; readonly set: AlignedSet }
  | { readonly kind: 'panorama'; readonly set: AlignedPanorama }
  | { readonly kind: 'bracket'; readonly set: AlignedBracket };

interface OwnMerge {
  readonly width: number;
  readonly height: number;
  /** Frames that take part, in order. */
  readonly frames: readonly PlacedFrame[];
  /** Share of the merge per frame; null where only an inspection can tell. */
  readonly shares: readonly number[] | null;
  /** Which frame each cell is from, where the merge knows. */
  readonly grid: LabelGrid | null;
  /** Frame whose profile the merge takes, index into frames. */
  readonly profileOf: number;
  readonly failed: readonly FailedFrame[];
  readonly remarks: readonly FailedFrame[];
}

export type MergedSet = OwnMerge &
  (
    | (Extract<Aligned, { kind: 'focus-stack' }> & { readonly merged: null })
    | (Extract<Aligned, { kind: 'panorama' }> & { readonly merged: MergedPanorama })
    | (Extract<Aligned, { kind: 'bracket' }> & { readonly merged: MergedBracket })
  );

/** Parts of the work, as progress names them. */
export type StepName = 'align' | 'merge' | 'place' | 'inspect';

/** Gives the context of a part of the work, from share to share of the whole. */
export type ContextOf = (from: number, to: number, step: StepName) => StepContext;

/**
 * Lays the frames of a set on each other.
 * @throws InputError when they cannot be put together, naming the frame
 */
export async function alignSet(
  kind: MergeKind,
  pictures: readonly SetPicture[],
  options: AlignmentOptions,
  context: StepContext,
): Promise<Aligned> {
  if (kind === 'panorama') return { kind, set: await alignPanorama(pictures, options, context) };
  if (kind === 'bracket') return { kind, set: await alignBracket(pictures, options, context) };
  return { kind, set: await alignFrames(pictures, options, context) };
}

/**
 * Merges an aligned set.
 * @param out path of the tile file of the merge
 * @throws InputError when the options do not fit the frames
 */
export async function mergeAligned(
  aligned: Aligned,
  options: MergeOptions,
  out: string,
  context: StepContext,
): Promise<MergedSet> {
  if (aligned.kind === 'panorama') {
    const { kind, set } = aligned;
    const merged = await mergePanorama(set, options.panorama, out, context);
    const { width, height, frames, shares } = merged;
    // An alignment that is used again still says what an earlier merge of it had to say.
    const soft = softRemarks(merged).filter((r) => !set.remarks.some((s) => s.name === r.name && s.why === r.why));
    const said = { failed: set.failed, remarks: [...set.remarks, ...soft] };
    return { kind, set, merged, width, height, frames, shares, grid: merged.grid, profileOf: 0, ...said };
  }
  if (aligned.kind === 'bracket') {
    const { kind, set } = aligned;
    const merged = await mergeBracket(set, set.frames[set.reference]!, options.bracket, out, context);
    const { width, height, shares, grid } = merged;
    const { frames, failed, remarks, reference } = set;
    return { kind, set, merged, width, height, frames, shares, grid, profileOf: reference, failed, remarks };
  }
  const { kind, set } = aligned;
  const { frames, reference } = set;
  const { width, height } = frames[reference]!;
  const grid = await mergeStack(set, { width, height }, options.stack, out, context);
  const said = { failed: [], remarks: [] };
  return { kind, set, merged: null, width, height, frames, shares: null, grid, profileOf: reference, ...said };
}

/**
 * Aligns and merges.
 * @param out path of the tile file of the merge
 * @throws InputError when the frames cannot be put together, naming the frame
 */
export async function mergeSet(
  kind: MergeKind,
  pictures: readonly SetPicture[],
  options: MergeOptions,
  out: string,
  context: ContextOf,
): Promise<MergedSet> {
  return mergeAligned(
    await alignSet(kind, pictures, options.alignment, context(0, 0.45, 'align')),
    options,
    out,
    context(0.45, 1, 'merge'),
  );
}

/** A set to be processed. */
export interface SetOrder {
  readonly kind: MergeKind;
  readonly pictures: readonly SetPicture[];
  /** A merge made elsewhere, registered instead of making one; null to make one. */
  readonly elsewhere: SetPicture | null;
  readonly options: MergeOptions;
  /** Frames laid on each other before; null to align them. */
  readonly known: Aligned | null;
  /** Path of the tile file of an own merge. */
  readonly tiles: string;
  /** Whether the merge is inspected. */
  readonly inspect: boolean;
  /** Whether findings are told that nobody sees on a screen at full size; default not. */
  readonly alsoUnseen?: boolean;
  /** Told what a first look shows, before the whole is looked at. */
  readonly onFirst?: OnFirst;
}

/** Which frame each whole cell shows. */
export interface ShownFrames {
  readonly width: number;
  readonly height: number;
  /** The closest frame, even where it does not explain the cell. */
  readonly closest: Uint8Array;
  /** The frame shown; 255 where none explains the cell. */
  readonly shown: Uint8Array;
}

/** A set that was processed. */
export interface ProcessedSet {
  readonly aligned: Aligned;
  /** How it was merged; null for a merge made elsewhere. */
  readonly own: MergedSet | null;
  readonly merge: SetPicture;
  /** Frames where they lie in the merge. */
  readonly frames: readonly PlacedFrame[];
  /** Known from the merging for own merges, inferred by the inspection for others; null where nobody looked. */
  readonly shown: ShownFrames | null;
  readonly shares: readonly number[] | null;
  readonly inspection: Inspection | null;
  readonly failed: readonly FailedFrame[];
  readonly remarks: readonly FailedFrame[];
}

/**
 * Aligns, merges or registers, explains and inspects.
 * @throws InputError when the frames cannot be put together, or do not belong to the merge
 */
export async function processSet(order: SetOrder, context: ContextOf): Promise<ProcessedSet> {
  const { kind, pictures, elsewhere, options, tiles, alsoUnseen = false, onFirst } = order;
  const mergedAt = order.inspect ? 0.6 : 1;
  const alignedAt = order.known ? 0 : 0.45 * mergedAt;
  const aligned = order.known ?? (await alignSet(kind, pictures, options.alignment, context(0, alignedAt, 'align')));
  const made = elsewhere
    ? await registered(aligned, elsewhere, context(alignedAt, mergedAt, 'place'))
    : await ownMerge(aligned, options, tiles, context(alignedAt, mergedAt, 'merge'));
  const { merge, frames, own } = made;
  const inspection = order.inspect
    ? await inspectMerge(
        { kind, merge, width: merge.width, height: merge.height, frames, alsoUnseen, ...(onFirst && { onFirst }) },
        context(mergedAt, 1, 'inspect'),
      )
    : null;
  const known = own?.grid ? knownCells(own.grid, merge) : null;
  const inferred = inspection && {
    ...{ width: inspection.width, height: inspection.height },
    ...{ closest: inspection.explanation.closest, shown: inspection.explanation.label },
  };
  return {
    ...made,
    remarks: [...made.remarks, ...finishRemarks(made, inspection)],
    aligned,
    shown: known ?? inferred,
    shares: own?.shares ?? inspection?.shares ?? null,
    inspection,
  };
}

/** What a merge was given when it was finished, as far as it bears on what can be found. */
function finishRemarks({ merge, frames }: Made, inspection: Inspection | null): FailedFrame[] {
  const contrast = frames[0]?.contrast;
  const unitPx = inspection?.facts.working.unitPx ?? 1;
  const words = [
    inspection?.facts.inside ? 'it has a mat around it, which was not looked at' : null,
    contrast
      ? `its local contrast was raised by about ${Math.round(100 * contrast.amount)} % over ${Math.round(contrast.radiusPx)} px: frames are seen so, too`
      : null,
    (frames[0]?.grey ?? frames[0]?.mix)
      ? 'it has no colour: frames are seen without, and colour fringes cannot be told'
      : null,
    unitPx > 1
      ? `it and its frames are soft at the pixel: it was looked at in px of ${unitPx} × ${unitPx}, as large as their detail`
      : null,
    inspection?.facts.grain ? 'it has grain of its own: what is fainter than that cannot be told' : null,
  ];
  return words.flatMap((why) => (why ? [{ name: merge.name, why }] : []));
}

type Made = Pick<ProcessedSet, 'merge' | 'frames' | 'own' | 'failed' | 'remarks'>;

async function registered(aligned: Aligned, merge: SetPicture, context: StepContext): Promise<Made> {
  const { frames, remarks } =
    aligned.kind === 'panorama'
      ? await registerPanorama(merge, aligned.set, context)
      : await registerPlane(merge, aligned, context);
  const said = aligned.kind === 'focus-stack' ? { failed: [], remarks: [] } : aligned.set;
  return { merge, frames, own: null, failed: said.failed, remarks: [...said.remarks, ...remarks] };
}

async function ownMerge(aligned: Aligned, options: MergeOptions, tiles: string, context: StepContext): Promise<Made> {
  const own = await mergeAligned(aligned, options, tiles, context);
  const noise = await context.run('noise', { tiles }, context.signal);
  const { width, height, frames, failed, remarks } = own;
  const merge: SetPicture = { name: 'merge.tif', tiles, noise, width, height, bits: 16, exif: null };
  return { merge, frames, own, failed, remarks };
}

/** Labels of the merging over whole cells: what is shown is what is closest. */
function knownCells(grid: LabelGrid, { width, height }: SetPicture): ShownFrames {
  const [w, h] = [Math.floor(width / CELL_PX), Math.floor(height / CELL_PX)];
  const map = new Uint8Array(w * h);
  for (let y = 0; y < h; y++) map.set(grid.labels.subarray(y * grid.width, y * grid.width + w), y * w);
  return { width: w, height: h, closest: map, shown: map };
}
