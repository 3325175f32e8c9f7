// Tasks of merging.
import type { LightPair } from '@blendrak/core/align';
import type { Plane, Region } from '@blendrak/core/image';
import type {
  BasePart,
  ExposureBase,
  LabelOptions,
  LabelProposal,
  LightTone,
  MotionMasks,
  SeamLabels,
  SeamView,
  ToneGrid,
} from '@blendrak/core/merge';
import type { PlacedPicture, TurnedPicture } from './pictures';

/** A frame of a bracket with its share by cell; null where nothing moved. */
export interface ExposedPicture extends PlacedPicture {
  readonly share: Plane | null;
  readonly ev: number;
}

export interface MergeTasks {
  /** Light of overlapping frames where both tell it. */
  readonly light: [
    { frames: readonly TurnedPicture[]; pairs: readonly (readonly [number, number])[] },
    readonly LightPair[],
  ];
  /** What the blur of two frames differs by where both show detail, px² of the merge. */
  readonly blurs: [{ frames: readonly [PlacedPicture, PlacedPicture]; width: number; height: number }, number[]];
  /** A frame as the search for seams sees it; null where the canvas does not show it. */
  readonly seamView: [
    { frame: PlacedPicture; softness: number; cellPx: number; width: number; height: number },
    SeamView | null,
  ];
  readonly seams: [{ views: readonly SeamView[]; width: number; height: number }, SeamLabels];
  /** Frames in the merge's place, small: encoded luma, −1 where there is no picture; and its noise. */
  readonly smallLuma: [
    { frames: readonly PlacedPicture[]; width: number; height: number; longSidePx: number },
    readonly { luma: Plane; noise: number }[],
  ];
  readonly motion: [{ frames: readonly { luma: Plane; noise: number; ev: number }[]; reference: number }, MotionMasks];
  /** First pass of exposure fusion. */
  readonly reduceExposures: [
    { frames: readonly ExposedPicture[]; region: Region; width: number; height: number },
    BasePart,
  ];
  /** Second pass: the base. */
  readonly fuseBase: [{ parts: readonly BasePart[]; width: number; height: number }, ExposureBase];
  /** Third pass, into a tile file that exists. */
  readonly fuseExposures: [
    { frames: readonly ExposedPicture[]; base: ExposureBase; regions: readonly Region[]; out: string },
    null,
  ];
  /** A bracket as light, into a tile file that exists. */
  readonly mergeLight: [
    { frames: readonly ExposedPicture[]; tone: LightTone; regions: readonly Region[]; out: string },
    null,
  ];
  /** Frames by their shares, into a tile file that exists. */
  readonly blendShares: [{ frames: readonly ExposedPicture[]; regions: readonly Region[]; out: string }, null];
  /** Proposes labels for a region (with its own margin read on top). */
  readonly labels: [
    { frames: readonly PlacedPicture[]; region: Region; width: number; height: number } & LabelOptions,
    LabelProposal,
  ];
  /** Band by band, into a tile file that exists. */
  readonly fuseBands: [{ frames: readonly PlacedPicture[]; regions: readonly Region[]; out: string }, null];
  /** Fuses regions into a tile file that exists. */
  readonly fuse: [
    {
      frames: readonly PlacedPicture[];
      grid: { width: number; height: number; labels: Uint8Array };
      regions: readonly Region[];
      out: string;
      /** Bands over which frames are blended; default 3. */
      levels?: number;
      /** Corrections of tone per cell, on shared memory. */
      tones?: ToneGrid | null;
    },
    null,
  ];
}
