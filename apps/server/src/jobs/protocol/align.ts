// Tasks of aligning a set, and of laying a merge made elsewhere on it.
import type {
  AdjustedRig,
  AdjustOptions,
  BlockShift,
  CameraRig,
  CanvasTie,
  FittedCanvas,
  ShiftTie,
  FrameLine,
  KeyPoint,
  MeasuredTie,
  MixedTone,
  PlaneModel,
  Tie,
  TiedPair,
  Upright,
} from '@blendrak/core/align';
import type { LocalContrast, LocalField, Matrix3, Similarity, TurnedGeometry, FrameSize } from '@blendrak/core/frame';
import type { ChannelWeights, Mask, Region, ToneCurve } from '@blendrak/core/image';
import type { PlacedPicture, SizedPicture, StoredPicture } from './pictures';

/** What two frames of a panorama share. */
export interface RelatedFrames {
  /** Camera axes of the first → of the second. */
  readonly rotation: Matrix3;
  /** The focal length that most corners agreed on, px. */
  readonly focalPx: number;
  /** Corners that agree: x, y in the first, x, y in the second, px. */
  readonly places: readonly (readonly [number, number, number, number])[];
}

export interface PairResult {
  readonly toMoving: Similarity;
  readonly correlation: number;
  readonly overlap: number;
  readonly residualPx: number;
  /** Local shifts that the map leaves, full-size px of the reference. */
  readonly blocks: readonly BlockShift[];
}

/** How the frames of a stack or bracket lie on the reference. */
export interface FittedPlanes {
  readonly model: PlaneModel;
  /** Reference px → frame px. */
  readonly toFrame: readonly Matrix3[];
  /** Median distance of each frame's ties, px. */
  readonly residualPx: readonly number[];
  readonly locals: readonly (LocalField | null)[];
}

/** What a frame shows of a merge made elsewhere. */
export interface MatchedMerge {
  /** Frame px → merge px. */
  readonly matrix: Matrix3;
  /** Merge px per frame px, and how far the frame is turned in the merge, rad. */
  readonly scale: number;
  readonly turnRad: number;
  /** Corners that agree: x, y in the merge, x, y in the frame, px. */
  readonly places: readonly (readonly [number, number, number, number])[];
}

export interface AlignTasks {
  /** Registers `moving` to `reference`: reference px → moving px at full size; on a subject where one is given. */
  readonly register: [
    { reference: StoredPicture; moving: StoredPicture; initial?: Similarity; subject?: Mask | null },
    PairResult,
  ];
  /** One map per frame from the ties of pairs, and local fields where lines may bend by `bendPx`. */
  readonly planes: [
    {
      pictures: readonly SizedPicture[];
      reference: number;
      /** Frame px → reference px. */
      start: readonly Similarity[];
      pairs: readonly TiedPair[];
      model: PlaneModel | 'auto';
      bendPx: number;
    },
    FittedPlanes,
  ];
  /** Local fields of turned cameras, none of which is the reference. */
  readonly localFields: [
    { views: readonly TurnedGeometry[]; sizes: readonly FrameSize[]; pairs: readonly TiedPair[]; bendPx: number },
    readonly (LocalField | null)[],
  ];
  /** Where one frame of a set is sharp; null for nowhere. */
  readonly sharpPart: [{ pictures: readonly StoredPicture[]; index: number }, Mask | null];
  /** Finds a merge made elsewhere on a frame: merge px → frame px at full size. */
  readonly place: [{ frame: StoredPicture; merge: StoredPicture }, PairResult];
  /** Which corners of a merge a frame shows; null when no more agree than chance explains. */
  readonly matchMerge: [
    { merge: readonly KeyPoint[]; frame: readonly KeyPoint[]; size: FrameSize },
    MatchedMerge | null,
  ];
  /** The canvas that explains what frames show of a merge. */
  readonly canvas: [
    { ties: readonly CanvasTie[]; down: readonly [number, number, number]; focalPx: number; unitPx: number },
    FittedCanvas | null,
  ];
  /** Precise ties of a merge to a frame that lies roughly in it: (x, y) shows what the geometry would show at (u, v). */
  readonly mergeTies: [{ merge: StoredPicture; frame: PlacedPicture; fine: boolean }, readonly ShiftTie[]];
  /** The mix of a frame's channels that the merge it lies in shows; null where that has colour, or nothing can be told. */
  readonly greyMix: [{ frame: PlacedPicture; merge: StoredPicture }, ChannelWeights | null];
  /** By how much a merge's local contrast was raised over its toned frames; null where it was not. */
  readonly localContrast: [
    { frames: readonly PlacedPicture[]; merge: StoredPicture; inside: Region | null },
    LocalContrast | null,
  ];
  /** The one tone curve of a merge of frames that are toned alike; null where nothing tells. */
  readonly commonTone: [{ frames: readonly PlacedPicture[]; merge: StoredPicture }, ToneCurve | null];
  /** The vignetting that a merge was freed of and its frames still have; null where nothing shows it. */
  readonly mergeShade: [
    { frames: readonly PlacedPicture[]; merge: StoredPicture },
    readonly [v1: number, v2: number] | null,
  ];
  /** Fits the tone of a frame to that of the merge it lies in. */
  readonly tone: [{ frame: PlacedPicture; merge: StoredPicture; isExposure: boolean }, ToneCurve];
  /** The same for an exposure in a merge without colour; null where it tells too little. `mix` where that is known. */
  readonly mixedTone: [{ frame: PlacedPicture; merge: StoredPicture; mix: ChannelWeights | null }, MixedTone | null];
  /** Gains of light, source → target. `sourceToTarget` maps px at full size. */
  readonly lightGain: [
    { source: StoredPicture; target: StoredPicture; sourceToTarget: Similarity },
    readonly [number, number, number],
  ];
  /** Corners of a picture, full-size px; `mirrored` looks at its mirror image, `many` at a picture that is larger than a frame. */
  readonly points: [{ picture: StoredPicture; mirrored?: boolean; many?: boolean }, readonly KeyPoint[]];
  /** Which of the pairs of frames show the same, for the best of some focal lengths. */
  readonly relate: [
    {
      frames: readonly { points: readonly KeyPoint[]; size: FrameSize }[];
      pairs: readonly (readonly [number, number])[];
      focalPx: readonly number[];
      /** Frames are related by guided matching where plain matching finds too little; needs the focal length. */
      guided: boolean;
    },
    readonly (RelatedFrames | null)[],
  ];
  /** Precise ties of two frames; the rig holds these two. */
  readonly ties: [
    { reference: StoredPicture; moving: StoredPicture; rig: CameraRig; fine: boolean },
    readonly MeasuredTie[],
  ];
  readonly adjust: [
    { sizes: readonly FrameSize[]; start: CameraRig; ties: readonly Tie[]; options: AdjustOptions },
    AdjustedRig,
  ];
  /** Which way is up, and the straight lines of each frame. */
  readonly upright: [
    { pictures: readonly StoredPicture[]; rig: CameraRig },
    Upright & { readonly lines: readonly (readonly FrameLine[])[] },
  ];
}
