// What a layer of evidence is: maps over the merge's cells, measured region by region in one pass, and yardsticks of the whole picture.
import type { CellStack, Grain, WorkingPx } from '../../cells';
import type { FocusAxis } from '../../defocus';
import type { FrameGeometry, FrameSize } from '../../frame';
import type { Plane, Region } from '../../image';

/** Kinds of merges. */
export const MERGE_KINDS = ['focus-stack', 'panorama', 'bracket'] as const;
export type MergeKind = (typeof MERGE_KINDS)[number];

/** Maps of one layer; each has one value per cell. */
export type LayerMaps = Readonly<Record<string, Uint8Array | Float32Array>>;

/** A frame of the set as a survey sees it: small, in its own place on the sensor. */
export interface SurveyedFrame extends FrameSize {
  /** Encoded luma, 0..1. */
  readonly luma: Plane;
  /** Full-size px per px of it. */
  readonly unitPx: number;
  /** Variance of its noise at that size. */
  readonly noise: number;
}

/** Where a frame lies in the merge, and its size. */
export interface SizedGeometry extends FrameSize {
  readonly geometry: FrameGeometry;
}

/** What is known of the set before any region is read. Plain data: it travels to workers and is kept with the merge. */
export interface SetFacts {
  readonly kind: MergeKind;
  /** Where the frames stand on the focus axis; null for sets without one. */
  readonly axis: FocusAxis | null;
  /** What of the merge is picture, working px on the cell grid; null for all of it. Around it lies a mat. */
  readonly inside: Region | null;
  /** Grain that the merge has of its own; null for none. */
  readonly grain: Grain | null;
  /** The px that the merge is inspected in. */
  readonly working: WorkingPx;
  /** Results of surveys by layer. */
  readonly surveys: Readonly<Record<string, unknown>>;
}

/** A region as layers look at it. */
export interface RegionView {
  readonly stack: CellStack;
  readonly facts: SetFacts;
  /** The maps of another layer, which must be named among the needs. */
  of<M extends LayerMaps>(layer: Layer<M>): M;
  /** What this set's survey for a layer found; null where it was not made. */
  survey<V>(layer: Layer<LayerMaps, unknown, unknown, V>): V | null;
  /** What is left to look for, of a layer that narrows its search. */
  focus<H>(layer: Layer<LayerMaps, unknown, unknown, unknown, H>): H | null;
}

/**
 * A layer.
 * M maps, S what one region gives to the yardsticks, C the yardsticks, V what a survey of the frames found, H what to look for.
 */
export interface Layer<M extends LayerMaps, S = unknown, C = unknown, V = unknown, H = unknown> {
  readonly name: string;
  readonly kinds: readonly MergeKind[];
  /** Layers whose maps it reads; they are measured before. */
  readonly needs: readonly Layer<LayerMaps>[];
  /** New maps with nothing in them. */
  empty(cells: number): M;
  /** Reduces a region to maps. */
  measure(view: RegionView): { readonly maps: M; readonly samples: S };
  /** The picture's own yardsticks, from the samples of all regions in any order. */
  calibrate(samples: readonly S[]): C;
  /** Looks at each frame by itself before the pass. */
  readonly survey?: {
    /** In a worker, one frame at a time. */
    look(frame: SurveyedFrame): unknown;
    /** `looks` one per frame; null for frames that were not looked at. */
    join(looks: readonly unknown[], frames: readonly SizedGeometry[], working: WorkingPx): V;
  };
  /** For layers that cost less once the picture has told what need not be looked for. */
  readonly narrowing?: {
    readonly start: H;
    /** From what was seen so far; the same while nothing is sure. */
    narrow(now: H, seen: readonly S[]): H;
    /** What the yardsticks ask for; a pass that looked for less is done again. */
    wanted(calibration: C): H;
    covers(looked: H, wanted: H): boolean;
  };
}
