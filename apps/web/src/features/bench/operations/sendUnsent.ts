// How what waits in the outbox is sent: each under its name, so that none is done twice.
import type { OperationChanges } from '@blendrak/contract';
import { api } from '../../../shared/api';
import { isOrder, type Unsent } from './unsent';

/** @param since revision of the operations that this page knows */
export function sendUnsent(unsent: Unsent, since: number): Promise<OperationChanges> {
  const { id, mergeId } = unsent;
  if (!isOrder(unsent)) return api.change(mergeId, since, { id, change: unsent.change }, unsent.page);
  const { order } = unsent;
  if (order.kind === 'mask') return api.takeMask(mergeId, since, id, order.donor, order.file);
  if (order.kind === 'snap') return api.snapMask(mergeId, since, id, order.operationId, order.reachPx);
  return api.byHand(mergeId, since, id, order);
}
