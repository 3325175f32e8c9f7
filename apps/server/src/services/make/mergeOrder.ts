// A merge to be made for a job, as it is handed to the thread that makes it, and what comes back.
import type { AlignmentSettings, Finding, MergeKind, MergeSettings } from '@blendrak/contract';
import type { ContextOf, SetPicture } from '../../pipeline';
import type { MergeBody } from '../../storage';

/** A picture with its row's id. */
export interface JobPicture extends SetPicture {
  readonly id: string;
}

export interface MergeOrder {
  readonly kind: MergeKind;
  readonly id: string;
  readonly pictures: readonly JobPicture[];
  /** A merge made elsewhere, to be registered instead of making one. */
  readonly elsewhere: JobPicture | null;
  readonly reference: number | 'auto';
  readonly wantedReference: string;
  readonly mergeOptions: MergeSettings;
  readonly alignment: AlignmentSettings;
  /** The last merge of the same frames, aligned in the same way; null when they are to be aligned. */
  readonly last: MergeBody | null;
  /** Path that receives the merge's tiles; not written for one made elsewhere. */
  readonly tiles: string;
  /** Path that receives the label maps, and the maps that people look at. */
  readonly labels: string;
}

/** An order under way. */
export interface MergeRequest extends MergeOrder {
  readonly context: ContextOf;
}

export interface MadeMerge {
  /** A MergeBody as JSON. */
  readonly body: string;
  readonly findings: readonly Finding[];
  /** Whether label maps were written. */
  readonly labelled: boolean;
}
