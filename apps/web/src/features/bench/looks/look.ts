// A look is data: which panes there are, and which layers of which pictures lie in each. What draws them knows no look.
import type { BenchMerge } from '../../../shared/queries';
import type { CommandWords } from '../../../shared/commands/keys';

/** A picture of a merge, by what it is of. */
export type PictureOf = 'repaired' | 'before' | { readonly frame: number };

export interface LookLayer {
  readonly of: PictureOf;
  /** 0..1; 1 when left out. */
  readonly opacity?: number;
  readonly composite?: GlobalCompositeOperation;
}

export interface Pane {
  /** From the lowest. */
  readonly layers: readonly LookLayer[];
}

export interface Look<Id extends string = string> {
  readonly id: Id;
  /** Its word on the button; it says which frame it is about, if it is about one. */
  label(frame: number): string;
  /** Seen for as long as its key is held. */
  readonly peek?: Omit<CommandWords, 'id' | 'hold'>;
  /**
   * From left to right; tools work in the last one, the others follow it.
   * @param frame the frame in question: the donor in hand, or the best one of the open finding
   */
  panes(merge: Pick<BenchMerge, 'frames'>, frame: number): readonly Pane[];
}
