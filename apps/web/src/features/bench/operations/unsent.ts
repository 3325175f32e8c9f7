// What waits in the outbox.
import type { OperationChange } from '@blendrak/contract';

/** A change that the server has not acknowledged yet. */
export interface UnsentChange {
  readonly id: string;
  readonly mergeId: string;
  /** The page that it was asked on. */
  readonly page: string;
  readonly change: OperationChange;
}
