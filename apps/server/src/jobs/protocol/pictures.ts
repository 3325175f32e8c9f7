// Pictures as tasks speak of them.
import type { FrameGeometry, LocalContrast, TurnedGeometry } from '@blendrak/core/frame';
import type { ChannelWeights, NoiseCurve, ToneCurve } from '@blendrak/core/image';
import type { Operation } from '@blendrak/core/repair';

/** A picture on disk. */
export interface StoredPicture {
  readonly tiles: string;
  readonly noise: NoiseCurve;
}

/** A picture on disk, placed in a merge. */
export interface PlacedPicture extends StoredPicture {
  readonly geometry: FrameGeometry;
  readonly tone: ToneCurve;
  /** Shares of its channels, where it is to be seen without colour: the merge has none. */
  readonly grey?: ChannelWeights | null;
  /** The same, where it is to lose its colour after it was toned. */
  readonly mix?: ChannelWeights | null;
  /** Local contrast that the merge was given when it was finished. */
  readonly contrast?: LocalContrast | null;
}

/** A frame of a panorama on its canvas. */
export interface TurnedPicture extends SizedPicture {
  readonly geometry: TurnedGeometry;
}

/** A picture on disk with its size. */
export interface SizedPicture extends StoredPicture {
  readonly width: number;
  readonly height: number;
}

/** A merge with the frames it was made from, and the operations of its repair. */
export interface InspectionScene {
  readonly merge: StoredPicture;
  readonly frames: readonly PlacedPicture[];
  /** Other merges of the set, which are painted with by the numbers after those of the frames. */
  readonly sources?: readonly PlacedPicture[];
  readonly operations: readonly Operation[];
}

/** What operations paint with, by number: frames, then other merges of the set. */
export function donorsOf({
  frames,
  sources = [],
}: Pick<InspectionScene, 'frames' | 'sources'>): readonly PlacedPicture[] {
  return [...frames, ...sources];
}
