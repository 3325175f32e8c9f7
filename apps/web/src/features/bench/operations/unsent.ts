// What waits in the outbox.
import type { HandOrder, OperationChange } from '@blendrak/contract';

/** A mask from a file, for something to paint with. */
export interface MaskOrder {
  readonly kind: 'mask';
  readonly donor: number;
  readonly file: File;
}

/** The mask of an operation, to be laid to the edges of what it paints in. */
export interface SnapOrder {
  readonly kind: 'snap';
  readonly operationId: string;
  readonly reachPx: number;
}

/** What the server works out before it is done: a mask that fits, a tone that is evened or matched, a line pulled straight. */
export type WorkOrder = HandOrder | MaskOrder | SnapOrder;

interface Named {
  readonly id: string;
  readonly mergeId: string;
  /** The page that it was asked on. */
  readonly page: string;
}

/** A change that the server has not acknowledged yet. */
export interface UnsentChange extends Named {
  readonly change: OperationChange;
}

/** An order that it has not carried out yet. */
export interface UnsentOrder extends Named {
  readonly order: WorkOrder;
}

export type Unsent = UnsentChange | UnsentOrder;

export function isOrder(unsent: Unsent): unsent is UnsentOrder {
  return 'order' in unsent;
}
