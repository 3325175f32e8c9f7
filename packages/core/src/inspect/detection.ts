// A suspected defect before tracing: where it is and what was measured.
import { outlineOf, type Component, type Region } from '../image';
import { CELL_PX } from '../kernels';
import type { MergeKind } from './layers/layer';

/** Closed list of defect words. */
export const DEFECTS = [
  'halo',
  'ghost',
  'seam',
  'misalignment',
  'soft-patch',
  'focus-gap',
  'mask-speckle',
  'border',
  'dust',
  'fringe',
  'clipping',
] as const;

export type Defect = (typeof DEFECTS)[number];

/** Defects that only one kind of merge can have. */
const OF_ONE_KIND: Partial<Record<Defect, MergeKind>> = { 'focus-gap': 'focus-stack', clipping: 'bracket' };

/** Whether a kind of merge can have a defect at all. */
export function canHave(kind: MergeKind, defect: Defect): boolean {
  return (OF_ONE_KIND[defect] ?? kind) === kind;
}

/** RMS of a just visible change of fine detail: 1 % of full scale. */
export const JUST_VISIBLE = 0.01;

/** Squared error of tone that shows: 0.014 of full scale, about 3.6 levels of 255, twice a mid tone's just noticeable step. */
export const VISIBLE_SQUARED = 2e-4;

export interface Measurement {
  readonly value: number;
  readonly unit: string;
}

export interface Detection {
  readonly defect: Defect;
  /** Cells of the evidence grid that show it. */
  readonly cells: readonly number[];
  /** Bounding box in merge px. */
  readonly bbox: Region;
  /** Outline in merge px. */
  readonly polygon: readonly (readonly [number, number])[];
  /** 0..1; 0.5 and above is reported. */
  readonly confidence: number;
  readonly measurements: Readonly<Record<string, Measurement>>;
  /** RMS by which the merge is wrong, encoded, where the detector knows it better than the difference from a donor tells. */
  readonly rms?: number;
  /** Frames that have the defect themselves and cannot repair it; default none. */
  readonly shownBy?: readonly number[];
  /** Whether no frame shows what should be there; default: tracing finds out. */
  readonly noFrameHasIt?: boolean;
}

/** Bounding box and outline of a component in merge px. */
export function placeComponent(component: Component, gridWidth: number): Pick<Detection, 'bbox' | 'polygon'> {
  const { box } = component;
  return {
    bbox: { x: box.x * CELL_PX, y: box.y * CELL_PX, width: box.width * CELL_PX, height: box.height * CELL_PX },
    polygon: outlineOf(component, gridWidth).map(([x, y]) => [x * CELL_PX, y * CELL_PX] as const),
  };
}

/** Evidence against its threshold as a confidence: 0.5 at the threshold, 0.9 at about three times it. */
export function confidenceOf(evidence: number, threshold: number): number {
  const r = Math.max(0, evidence / threshold);
  return r ** 2 / (1 + r ** 2);
}
