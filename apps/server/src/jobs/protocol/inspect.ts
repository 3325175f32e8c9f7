// Tasks of inspecting a merge beside its frames.
import type { FinenessSample, GrainSample, WorkingPx } from '@blendrak/core/cells';
import type { NoiseCurve, Region } from '@blendrak/core/image';
import type {
  Detection,
  EvidenceMaps,
  Looking,
  MergeKind,
  RegionEvidence,
  SetFacts,
  Yardsticks,
} from '@blendrak/core/inspect';
import type { DonorPart, FrameChoice, MaskGrowth, MaskShape, Operation, ToneField } from '@blendrak/core/repair';
import type { FrameMeasure, TracedFinding } from '@blendrak/core/trace';
import type { InspectionScene, PlacedPicture, StoredPicture } from './pictures';

export interface ProbeResult {
  readonly frames: readonly FrameMeasure[];
  readonly shown: number | null;
}

export interface InspectTasks {
  /** What the surveys of all layers see in one frame, by layer. */
  readonly survey: [{ kind: MergeKind; picture: StoredPicture }, Readonly<Record<string, unknown>>];
  /** What of a merge is picture, well inside its mat, on the cell grid; null where it has none. */
  readonly mat: [{ merge: StoredPicture }, Region | null];
  /** How fine detail is in a region, in px of so many, of the frames. */
  readonly fineness: [{ frames: readonly PlacedPicture[]; unitPx: number; region: Region }, readonly FinenessSample[]];
  /** Noise of a picture in px of so many. */
  readonly noiseIn: [{ picture: StoredPicture; unitPx: number }, NoiseCurve];
  /** Cells of a region, in working px, that are even in all frames, and what the merge shows there. */
  readonly grain: [
    { scene: InspectionScene; kind: MergeKind; working: WorkingPx; region: Region },
    readonly GrainSample[],
  ];
  /** Evidence of a region, in working px, without its margin. */
  readonly evidence: [{ scene: InspectionScene; facts: SetFacts; region: Region; looking: Looking }, RegionEvidence];
  /** All detectors over the evidence of a whole merge, overlaps settled; in working px and cells. */
  readonly detect: [{ maps: EvidenceMaps; facts: SetFacts; yardsticks: Yardsticks }, readonly Detection[]];
  /** In px and cells of the merge, as all that follows. */
  readonly trace: [
    {
      scene: InspectionScene;
      facts: SetFacts;
      yardsticks: Yardsticks;
      detection: Detection;
      names: readonly string[];
    },
    TracedFinding,
  ];
  /** Inspects one place again; returns the detections there in whole-picture cells. */
  readonly recheck: [
    {
      scene: InspectionScene;
      facts: SetFacts;
      yardsticks: Yardsticks;
      region: Region;
    },
    readonly Detection[],
  ];
  /** The mask of an operation laid to the edges of what it paints in: 0..255 over a region, and what its strength was. */
  readonly snapMask: [
    { scene: InspectionScene; operation: Operation; reachPx: number; mostPx: number },
    { values: Uint8Array; region: Region; strength: number } | 'too large',
  ];
  /** What evens the merge's own tone within a mask, told by one frame or several; null where nothing around tells of it. */
  readonly evenField: [
    {
      scene: InspectionScene;
      donors: readonly number[];
      shape: MaskShape;
      marginPx: number;
      /** Outline of what was found: lightness that it hardly has is not evened. Without it all is. */
      found?: readonly (readonly [number, number])[];
    },
    ToneField | null,
  ];
  /** What brings a donor's tone to what surrounds a mask; null where nothing there can be compared. */
  readonly toneField: [
    {
      scene: InspectionScene;
      donor: number | null;
      shape: MaskShape;
      shift?: readonly [number, number];
      /** Places that are wrong themselves, and tell nothing of the tone. */
      apart?: readonly (readonly (readonly [number, number])[])[];
      /** How far around what the mask touches tones are compared, px; default 0. */
      marginPx?: number;
      /** Whether tones are compared by lightness, too: a merge of exposures bends them from place to place. Default not. */
      byLight?: boolean;
      /** Whether the merge's tone is right under the mask, too: what is wrong there is detail alone. Default not. */
      within?: boolean;
    },
    ToneField | null,
  ];
  /**
   * A mask that covers a polygon and what around it is not what its source shows: one part per frame. Nothing where the source does not
   * reach.
   */
  readonly fitMask: [
    {
      scene: InspectionScene;
      facts: SetFacts;
      polygon: readonly (readonly [number, number])[];
      /** One frame, or several that are chosen place by place. */
      source: number | FrameChoice;
    } & MaskGrowth,
    readonly DonorPart[],
  ];
  /** By how much a donor has to be moved to meet what surrounds a mask, px; null where that tells too little. */
  readonly nudge: [{ scene: InspectionScene; donor: number; shape: MaskShape }, readonly [number, number] | null];
  /** From how far away of the merge itself a mask is best filled, px; null where nothing near can be used. */
  readonly findFill: [
    { scene: InspectionScene; shape: MaskShape; apart: readonly (readonly (readonly [number, number])[])[] },
    readonly [number, number] | null,
  ];
  /** Measures all frames around a point, and shows it as each of them does; `icc` is the path of the merge's profile. */
  readonly probe: [
    { scene: InspectionScene; kind: MergeKind; x: number; y: number; sizePx: number; icc: string | null },
    ProbeResult & { readonly patches: Uint8Array; readonly patchPx: number },
  ];
}
