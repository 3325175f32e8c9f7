// A look is data: which panes there are, and which layers of which pictures lie in each. What draws them knows no look.
import type { LookMapName } from '@blendrak/contract';
import type { BenchMerge } from '../../../shared/queries';
import type { DonorMark } from '../donors';
import type { CommandWords } from '../../../shared/commands/keys';

/** A picture of a merge, by what it is of. */
export type PictureOf = 'repaired' | 'proposed' | 'before' | { readonly frame: number } | { readonly map: LookMapName };

export interface LookLayer {
  readonly of: PictureOf;
  /** 0..1; 1 when left out. */
  readonly opacity?: number;
  readonly composite?: GlobalCompositeOperation;
  /** Shown only to the left of this column of the picture, px. */
  readonly leftOf?: number;
}

export interface Pane {
  /** From the lowest. */
  readonly layers: readonly LookLayer[];
  /** How many times as bright it is shown; 1 when left out. */
  readonly gain?: number;
}

/** What a look may depend on, beside the merge. */
export interface LookSight {
  /** The frame in question: the donor in hand, or the best one of the open finding. */
  readonly frame: number;
  /** Of looks that change by themselves: whether the other picture's turn is now. */
  readonly isOther: boolean;
  /** Where a look that has one is parted, picture px from the left. */
  readonly partedAt: number;
}

export interface Look<Id extends string = string> {
  readonly id: Id;
  /** Its word on the button; it says which frame it is about, if it is about one. */
  label(frame: DonorMark): string;
  /** Its key: held, it is seen for as long; with Shift it is chosen for good. */
  readonly key: Pick<CommandWords, 'label' | 'shown'> & { readonly letter: string };
  /** The most used are buttons of their own; the others share a menu. */
  readonly place: 'bar' | 'menu';
  /** What it shows and how to read it, for the menu. */
  readonly about?: string;
  /** Map that it needs, which not every merge has. */
  readonly map?: LookMapName;
  /** Shows another picture in turn, so often. */
  readonly turnsAfterMs?: number;
  /** Whether it has a line that parts it. */
  readonly isParted?: boolean;
  /** In reading order; tools work in the last one, the others follow it. */
  panes(merge: Pick<BenchMerge, 'frames'>, sight: LookSight): readonly Pane[];
}

/** Whether a pane shows the repaired merge as it is: where it can be painted on. */
export function showsRepair({ layers, gain = 1 }: Pane): boolean {
  return gain === 1 && layers.length === 1 && layers[0]!.of === 'repaired';
}
