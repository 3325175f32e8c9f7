// What the steps of the pipeline hand to each other.
import pMap from 'p-map';
import type { Exif } from '@blendrak/contract';
import type { BlockShift, PlaneModel } from '@blendrak/core/align';
import type { FrameGeometry, LocalContrast } from '@blendrak/core/frame';
import type { ChannelWeights, Mask, ToneCurve } from '@blendrak/core/image';
import type { RunTask, StoredInfo, StoredPicture } from '../jobs';

/** A stored picture with its name. */
export interface SetPicture extends StoredPicture {
  readonly name: string;
  readonly width: number;
  readonly height: number;
  readonly bits: StoredInfo['bits'];
  readonly exif: Exif | null;
}

/** Sides of a merge, px. */
export type MergeSize = Pick<SetPicture, 'width' | 'height'>;

/** A frame placed in the merge, with how well that worked. */
export interface PlacedFrame extends SetPicture {
  readonly geometry: FrameGeometry;
  readonly tone: ToneCurve;
  /** Shares of its channels, where the merge has no colour. */
  readonly grey?: ChannelWeights | null;
  /** The same, where the merge lost its colour after its tone was made. */
  readonly mix?: ChannelWeights | null;
  /** Local contrast that the merge was given when it was finished: the same for all its frames. */
  readonly contrast?: LocalContrast | null;
  /** How far it misses others, px; NaN where nothing ties it. */
  readonly residualPx: number;
  readonly correlation: number;
  /** Local shifts against a neighbour that the alignment leaves, px of the frame. */
  readonly blocks?: readonly BlockShift[];
}

/** A frame's residual as records keep it: null where nothing ties the frame to others. */
export function knownResidual({ residualPx }: PlacedFrame): number | null {
  return Number.isFinite(residualPx) ? residualPx : null;
}

/** The distance that a frame was focused to, as its file says it, m; null where it says nothing. */
export function saidDistance({ exif }: Pick<SetPicture, 'exif'>): number | null {
  return exif?.focusDistanceM ?? null;
}

/** How the frames of a set are aligned. */
export interface AlignmentOptions {
  /** Index of the frame whose geometry the merge takes; panoramas have a canvas of their own. */
  readonly reference: number | 'auto';
  /** Freedoms of each frame's map; 'auto' takes no more than are needed. Not of panoramas. */
  readonly model: PlaneModel | 'auto';
  /** Frames may be shifted locally so far that straight lines bend by so many px; 0: not at all. */
  readonly bendPx: number;
  /** What the frames are aligned on; null: all of the picture. Not of panoramas. */
  readonly subject: Mask | null;
}

export const ALIGNMENT_DEFAULTS: AlignmentOptions = { reference: 'auto', model: 'auto', bendPx: 0, subject: null };

export interface StepContext {
  readonly run: RunTask;
  /** Tasks kept in flight at once. */
  readonly parallel: number;
  readonly signal?: AbortSignal;
  /** Called with the share of the step done and words for it. */
  readonly onProgress: (share: number, message: string) => void;
}

/**
 * Runs work over items with a bounded number in flight; after the first failure no more is begun.
 * @returns results in the order of the items
 * @throws the first failure
 */
export function inParallel<T, R>(
  items: readonly T[],
  parallel: number,
  work: (item: T, index: number) => Promise<R>,
): Promise<R[]> {
  return pMap(items, work, { concurrency: Math.max(1, parallel) });
}
