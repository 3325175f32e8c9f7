// The repairs of a merge done on another one of the same set-up, too: products shot alike on one table, a bracket for each room.
import type { Copied, CopyOrder, Operation } from '@blendrak/contract';
import { partsOf } from '@blendrak/core/repair';
import { RequestError } from '../../shared/requestError';
import { newId, type Services } from '../context';
import { requireUnsigned } from '../finish/signed';
import { note } from '../log/journal';
import { bareOperation } from './bareOperation';
import type { Asker, OperationsService } from './operations';

/**
 * Takes the repairs that act on another merge over, in their order. What was matched to the tone of that picture is left.
 * @throws RequestError for the merge itself, or one of another kind, size or number of frames; nothing is done then
 */
export function copyRecord(
  services: Services,
  repair: OperationsService,
  mergeId: string,
  { from }: CopyOrder,
  { person }: Asker,
): Copied {
  const { storage, merges } = services;
  requireUnsigned(services, mergeId);
  const [own, other] = [merges.open(mergeId), merges.open(from)];
  if (from === mergeId)
    throw new RequestError(400, 'from: this is the merge itself. Accepted: another merge of the same set-up.');
  const facts = ({ body }: typeof own): string =>
    `${body.facts.kind.replace('-', ' ')} of ${body.frames.length} frames, ${body.width} × ${body.height} px`;
  if (facts(own) !== facts(other))
    throw new RequestError(409, `from: that merge is a ${facts(other)}. Accepted: a ${facts(own)}, as this one is.`);
  const acting = storage.operations.listByMerge(from).filter((o) => o.enabled && o.variant === '');
  const taken = acting.filter((o) => isOfAnyPicture(o, own.body.frames.length));
  for (const operation of taken.toSorted((a, b) => a.order - b.order)) {
    const id = newId();
    repair.change(mergeId, { id, change: { kind: 'add', operation: bareOperation(operation) } }, { person });
    const { name, mask } = operation;
    if (name !== '' || mask) {
      const change = { kind: 'patch' as const, operationId: id, patch: { name, mask } };
      repair.change(mergeId, { id: newId(), change }, { person });
    }
  }
  if (taken.length > 0)
    note(services, own.row.job_id, 'repaired', `${taken.length} repairs of another merge were taken over.`);
  return { taken: taken.length, left: acting.length - taken.length };
}

/** Whether an operation paints with frames, and says nothing of the tone of the picture that it was made on. */
function isOfAnyPicture(operation: Operation, frames: number): boolean {
  return partsOf(operation).every(({ tone, donor }) => !tone && (donor === null || donor < frames));
}
