// What a detector is: one file per defect that says how it is found, who could repair it, and what it is called in words.
import type { Region } from '../image';
import type { Defect, Detection } from './detection';
import type { Layer, LayerMaps, MergeKind, SetFacts } from './layers/layer';

/** What detectors look at: maps of all layers over a grid of cells, and the picture's own yardsticks. */
export interface Evidence {
  readonly width: number;
  readonly height: number;
  /** The whole picture, of which this may be a part: its size, and where the part begins in it, cells. */
  readonly picture: Region;
  readonly facts: SetFacts;
  /** @throws ParameterError for a layer that the kind is not inspected by */
  of<M extends LayerMaps>(layer: Layer<M>): M;
  /** Whether the picture has yardsticks of a layer: those that came later are not known of merges inspected before. */
  knows(layer: Layer<LayerMaps>): boolean;
  yardstick<M extends LayerMaps, S, C>(layer: Layer<M, S, C>): C;
}

/** What is known of a finding when its cause is put into words. */
export interface CauseFacts {
  readonly measurements: Detection['measurements'];
  /** Name of the frame that the merge shows most here. */
  readonly shown: string;
  /** Name of the frame to repair from; '' when none helps. */
  readonly donor: string;
  /** Names of all frames, in shooting order. */
  readonly frames: readonly string[];
}

export interface Detector {
  readonly defect: Defect;
  readonly kinds: readonly MergeKind[];
  /** Layers of evidence that it reads. */
  readonly layers: readonly Layer<LayerMaps>[];
  find(evidence: Evidence): Detection[];
  /**
   * What makes one frame a better donor than another: the detail it has, the light of near edges it is free of, or the moment it shows,
   * which is to be what the merge shows most of already. Null where no frame can repair it.
   */
  readonly donorBy: 'detail' | 'spill' | 'moment' | null;
  /** Whether several frames together may repair it, none of which covers all of it; default not. */
  readonly mendsInParts?: boolean;
  /** Whether it is so small that the picture around it says what should be there: repairable though no frame has it; default not. */
  readonly fillsFromAround?: boolean;
  /** Whether it is a step of tone or colour, not other structure; default not. */
  readonly isOfTone?: boolean;
  /** Change (RMS, 0..1) that is to be expected at least where it is only estimated; 0 when left out. */
  readonly leastChange?: number;
  /** Why it is there, in a sentence or two. */
  cause(facts: CauseFacts): string;
  /** What to do about it. */
  readonly advice: string;
}
