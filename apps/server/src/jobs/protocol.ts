// What the pool's workers can do: one table, task → [request, response].
import type { Exif, PanoramaLayoutName, TestFrame } from '@blendrak/contract';
import type {
  AdjustedRig,
  AdjustOptions,
  BlockShift,
  CameraRig,
  FrameLine,
  KeyPoint,
  LightPair,
  MeasuredTie,
  PlaneModel,
  Tie,
  TiedPair,
  Upright,
} from '@blendrak/core/align';
import type { FrameGeometry, LocalField, Matrix3, Similarity, TurnedGeometry, FrameSize } from '@blendrak/core/frame';
import type { Mask, NoiseCurve, Plane, Region, ToneCurve } from '@blendrak/core/image';
import type { CalibrationSamples, Calibration, Detection, EvidenceMaps } from '@blendrak/core/inspect';
import type {
  BasePart,
  ExposureBase,
  LabelProposal,
  LightTone,
  MotionMasks,
  SeamLabels,
  SeamView,
  ToneGrid,
} from '@blendrak/core/merge';
import type { FocusAxis, NearSide } from '@blendrak/core/defocus';
import type { RepairStroke } from '@blendrak/core/repair';
import type { FrameCheck, ProposedSet, Sorting } from '@blendrak/core/sort';
import type { FrameMeasure, TracedFinding } from '@blendrak/core/trace';
import type { PartFile } from '../codecs';
import type { TileRequest } from '../tiles';

/** A picture on disk. */
export interface StoredPicture {
  readonly tiles: string;
  readonly noise: NoiseCurve;
}

/** A picture on disk, placed in a merge. */
export interface PlacedPicture extends StoredPicture {
  readonly geometry: FrameGeometry;
  readonly tone: ToneCurve;
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

/** A frame of a bracket with its share by cell; null where nothing moved. */
export interface ExposedPicture extends PlacedPicture {
  readonly share: Plane | null;
  readonly ev: number;
}

/** What two frames of a panorama share. */
export interface RelatedFrames {
  /** Camera axes of the first → of the second. */
  readonly rotation: Matrix3;
  /** The focal length that most corners agreed on, px. */
  readonly focalPx: number;
  /** Corners that agree: x, y in the first, x, y in the second, px. */
  readonly places: readonly (readonly [number, number, number, number])[];
}

/** A merge with the frames it was made from, and the strokes painted on it. */
export interface InspectionScene {
  readonly merge: StoredPicture;
  readonly frames: readonly PlacedPicture[];
  readonly strokes: readonly RepairStroke[];
}

export interface StoredInfo {
  readonly width: number;
  readonly height: number;
  readonly bits: 8 | 16;
  readonly profileName: string | null;
  readonly icc: Uint8Array | null;
  readonly exif: Exif | null;
  readonly noise: NoiseCurve;
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

/** What a tile shows. */
export type TileSource =
  | { readonly kind: 'picture'; readonly tiles: string }
  /** A frame where it lies in a merge, toned like it. */
  | { readonly kind: 'frame'; readonly frame: PlacedPicture }
  /** A merge with strokes painted in; frames that no stroke names may be left out. */
  | { readonly kind: 'repaired'; readonly scene: InspectionScene };

/** A panorama's cameras, to be laid out anew. */
export interface CameraSet {
  readonly frames: readonly PlacedPicture[];
  readonly rig: CameraRig;
  readonly down: readonly [number, number, number];
  readonly vignetting: readonly [number, number];
  readonly locals: readonly (LocalField | null)[];
}

export interface ProbeResult {
  readonly frames: readonly FrameMeasure[];
  readonly shown: number | null;
}

/** A file that was looked at. */
export interface LookedAt {
  /** SHA-256 of the contents. */
  readonly digest: string;
  readonly exif: Exif | null;
}

export interface Tasks {
  /** Looks at a file for sorting: what it saw goes to the file `out`, a thumbnail where it is told to. */
  readonly look: [{ path: string; name: string; out: string; thumb?: string }, LookedAt];
  /** Takes a file that holds several pictures apart; null for one that holds one. */
  readonly expand: [{ path: string; name: string; folder: string }, readonly PartFile[] | null];
  /** Groups frames into sets and checks each set. */
  readonly group: [
    { looks: readonly string[] },
    {
      sorting: Sorting;
      checks: readonly (readonly FrameCheck[])[];
      labels: readonly (readonly string[])[];
      overlaps: readonly (readonly number[])[];
    },
  ];
  /** Checks one set, as it was put together by hand. */
  readonly checkSet: [
    { looks: readonly string[]; kind: ProposedSet['kind'] },
    { checks: readonly FrameCheck[]; overlaps: readonly number[] },
  ];
  /** Decodes a file into a tile file. */
  readonly store: [{ path: string; name: string; out: string }, StoredInfo];
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
  /** Finds a merge made elsewhere on a frame: merge px → frame px at full size. Searches unless it is told where to start. */
  readonly place: [{ frame: StoredPicture; merge: StoredPicture; start?: Similarity }, PairResult];
  /** Fits source tone → target tone. `sourceToTarget` maps px at full size. */
  readonly tone: [{ source: StoredPicture; target: StoredPicture; sourceToTarget: Similarity }, ToneCurve];
  /** Gains of light, source → target. `sourceToTarget` maps px at full size. */
  readonly lightGain: [
    { source: StoredPicture; target: StoredPicture; sourceToTarget: Similarity },
    readonly [number, number, number],
  ];
  /** Corners of a picture, full-size px; `mirrored` looks at its mirror image. */
  readonly points: [{ picture: StoredPicture; mirrored?: boolean }, readonly KeyPoint[]];
  /** Which of the pairs of frames show the same, for the best of some focal lengths. */
  readonly relate: [
    {
      frames: readonly { points: readonly KeyPoint[]; size: FrameSize }[];
      pairs: readonly (readonly [number, number])[];
      focalPx: readonly number[];
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
  /** Light of overlapping frames where both tell it. */
  readonly light: [
    { frames: readonly TurnedPicture[]; pairs: readonly (readonly [number, number])[] },
    readonly LightPair[],
  ];
  /** A frame as the search for seams sees it; null where the canvas does not show it. */
  readonly seamView: [{ frame: PlacedPicture; cellPx: number; width: number; height: number }, SeamView | null];
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
    { frames: readonly PlacedPicture[]; region: Region; width: number; height: number; keep?: number },
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
  readonly pyramid: [{ tiles: string }, null];
  /** Noise of a picture already on disk. */
  readonly noise: [{ tiles: string }, NoiseCurve];
  /** Evidence of a region, without its margin. */
  readonly evidence: [
    { scene: InspectionScene; axis: FocusAxis; region: Region; sides: readonly NearSide[] },
    { maps: EvidenceMaps; samples: CalibrationSamples },
  ];
  readonly trace: [
    { scene: InspectionScene; detection: Detection; gridWidth: number; nearSide: NearSide; names: readonly string[] },
    TracedFinding,
  ];
  /** Inspects one place again; returns the detections there in whole-picture cells. */
  readonly recheck: [
    {
      scene: InspectionScene;
      axis: FocusAxis;
      calibration: Calibration;
      region: Region;
      gridWidth: number;
      gridHeight: number;
    },
    readonly Detection[],
  ];
  /** Measures all frames around a point. */
  readonly probe: [{ scene: InspectionScene; x: number; y: number; sizePx: number }, ProbeResult];
  /** Writes the repaired picture as TIFF; `icc` is the path of its profile. */
  readonly exportTiff: [{ scene: InspectionScene; icc: string | null; out: string }, null];
  /** Writes a TIFF as PNG or JPEG, by the ending of `out`. */
  readonly convertTiff: [{ tiff: string; out: string }, null];
  /** Gets a thread ready: its kernels, and the encoder of tiles. */
  readonly warmUp: [null, null];
  /** A tile, encoded; `icc` is the path of the picture's profile. */
  readonly tile: [{ source: TileSource; tile: TileRequest; icc: string | null }, Uint8Array];
  /** The mask of one frame over a whole merge, PNG. */
  readonly mask: [{ strokes: readonly RepairStroke[]; frame: number; width: number; height: number }, Uint8Array];
  /** Label maps as a small PNG: red = frame shown + 1 (0 none of them), green = closest frame + 1. */
  readonly labelPicture: [{ labels: string; width: number; height: number }, Uint8Array];
  /** A panorama as another projection would show it, JPEG; null where that cannot show it. */
  readonly projection: [
    { cameras: CameraSet; projection: PanoramaLayoutName; longSidePx: number; icc: string | null },
    Uint8Array | null,
  ];
  /** How the light of a scene is spread in a developed frame. */
  readonly testLight: [{ path: string; exif: Exif | null }, TestFrame['light']];
}

export type TaskName = keyof Tasks;
export type TaskRequest<N extends TaskName> = Tasks[N][0];
export type TaskResponse<N extends TaskName> = Tasks[N][1];

/** Message to a worker. */
export interface TaskMessage<N extends TaskName = TaskName> {
  readonly name: N;
  readonly request: TaskRequest<N>;
}

/** Runs a task somewhere; rejects when the signal aborts before or while it runs. */
export type RunTask = <N extends TaskName>(
  name: N,
  request: TaskRequest<N>,
  signal?: AbortSignal,
) => Promise<TaskResponse<N>>;
