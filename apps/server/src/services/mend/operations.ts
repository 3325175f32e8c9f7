// Operations of a repair: what people add, change, take back and make again. Every change is logged with its inverse, under the
// name that its sender gave it.
import { isDeepStrictEqual } from 'node:util';
import type { NamedChange, NewOperation, OperationChange } from '@blendrak/contract';
import {
  checkMask,
  checkPart,
  MOST_NUDGE_PX,
  operationRegion,
  partsOf,
  type OperationPart,
} from '@blendrak/core/repair';
import type { Region } from '@blendrak/core/image';
import { withoutGaps, type LoggedChange, type OperationFields } from '../../storage';
import { RequestError } from '../../shared/requestError';
import type { Services } from '../context';
import { requireUnsigned } from '../finish/signed';
import { operationWords } from './operationWords';
import { makeRecheck } from './recheck';

/** Who asks, and from which page: undo is a person's own, news are told to other pages. */
export interface Asker {
  readonly person: string;
  readonly page?: string | undefined;
}

export interface OperationsService {
  /**
   * Does what is asked of a merge's operations; the same one sent again changes nothing.
   * @throws ParameterError for an operation that cannot be rendered
   * @throws RequestError when the change's id stands for another one already, or names what is not there
   */
  change(mergeId: string, named: NamedChange, asker?: Asker): void;
  /** Looks again at all findings that the operations of a merge touch. */
  lookAgain(mergeId: string): void;
  /** Resolves when all rechecks begun so far are done. */
  settled(): Promise<void>;
}

/** A change as it is carried out: of which operation, and in words for other pages. */
interface Done {
  readonly operationId: string;
  readonly what: string;
  /** Where it showed before. */
  readonly before?: Region | undefined;
}

/** Whoever no person asked for it: the application by itself. */
export const NOBODY: Asker = { person: '' };

export function makeOperationsService(services: Services): OperationsService {
  const { storage, events, merges } = services;
  const recheck = makeRecheck(services);
  return {
    change(mergeId, named, asker = NOBODY) {
      const { row, donorNames: names } = merges.open(mergeId);
      requireUnsigned(services, mergeId);
      if (named.change.kind === 'add')
        for (const part of partsOf(named.change.operation)) {
          requireDonor(part, names.length);
          checkPart(part);
        }
      const done = storage.transaction(() =>
        isKnown(services, mergeId, named) ? null : carryOut(services, mergeId, named, asker.person, names),
      );
      if (!done) return;
      // The state is noted at once: a page may ask for a tile as of it when the next change has come already.
      merges.painted(mergeId);
      const { page } = asker;
      events.publish({ topic: 'operations', id: row.job_id, mergeId, what: done.what, ...(page && { by: page }) });
      if (done.before) recheck.later(mergeId, done.before);
      recheck.later(mergeId, operationRegion(storage.operations.find(done.operationId)!.operation));
    },
    lookAgain: (mergeId) =>
      storage.operations.listByMerge(mergeId).forEach((o) => recheck.later(mergeId, operationRegion(o))),
    settled: () => recheck.settled(),
  };
}

function requireDonor({ donor, shift, tone, pull }: OperationPart, frames: number): void {
  if (pull && (donor !== null || shift || tone))
    throw new RequestError(
      400,
      'change.operation.pull: what is pulled is the picture as it is. Accepted: donor null, without shift or tone.',
    );
  if (shift && donor !== null && Math.hypot(...shift) > MOST_NUDGE_PX)
    throw new RequestError(
      400,
      `change.operation.shift: a frame lies where it lies, ${Math.hypot(...shift).toFixed(1)} px off it shows another place. Accepted: a nudge by up to ${MOST_NUDGE_PX} px, or a shift of the merge itself, donor null.`,
    );
  if (donor === null || donor < frames) return;
  throw new RequestError(
    400,
    `change.operation.donor: this merge has frames 0 to ${frames - 1}, or null for the merge itself, received ${donor}.`,
  );
}

/** Whether the same was asked for under this name before. */
function isKnown({ storage }: Services, mergeId: string, { id, change }: NamedChange): boolean {
  const known = storage.operationChanges.find(id);
  if (!known) return false;
  const same =
    known.mergeId === mergeId &&
    known.asked === JSON.stringify(withoutOperation(change)) &&
    (change.kind !== 'add' || isSameOperation(storage.operations.find(id)?.operation, change.operation));
  if (same) return true;
  throw new RequestError(409, `id: ${id} names another change already. Accepted: an id of its own for each change.`);
}

function isSameOperation(known: NewOperation | undefined, asked: NewOperation): boolean {
  const bare = ({ kind, donor, shape, tone, shift, pull, also }: NewOperation): string =>
    JSON.stringify({ kind, donor, shape, tone, shift, pull, also });
  return known !== undefined && bare(known) === bare(asked);
}

function withoutOperation(change: OperationChange): object {
  return change.kind === 'add' ? { kind: 'add' } : change;
}

function carryOut(
  services: Services,
  mergeId: string,
  { id, change }: NamedChange,
  person: string,
  frames: readonly string[],
): Done | null {
  const { merges, operations, operationChanges } = services.storage;
  const asked = JSON.stringify(withoutOperation(change));
  const wordsFor = (operationId: string): string => operationWords(operations.find(operationId)!.operation, frames);
  if (change.kind === 'add') {
    operations.append(mergeId, id, change.operation, merges.bumpRevision(mergeId));
    const log = { operationId: id, before: { live: false }, after: { live: true } };
    operationChanges.append(id, mergeId, person, asked, log);
    return { operationId: id, what: `${wordsFor(id)} was painted` };
  }
  if (change.kind === 'undo' || change.kind === 'redo') {
    const step = change.kind === 'undo' ? takeBack(services, mergeId, person) : makeAgain(services, mergeId, person);
    operationChanges.append(id, mergeId, person, asked, null);
    if (!step) return null;
    const word = change.kind === 'undo' ? 'taken back' : 'brought back';
    return { operationId: step.operationId, what: `${wordsFor(step.operationId)} was ${word}`, before: step.region };
  }
  const { operationId } = change;
  const known = operations.find(operationId);
  if (known?.mergeId !== mergeId || !known.fields.live)
    throw new RequestError(404, `operationId: this merge has no operation ${operationId} (any more).`);
  if (change.kind === 'patch' && change.patch.mask) checkMask(known.operation, change.patch.mask);
  const after: Partial<OperationFields> = change.kind === 'remove' ? { live: false } : withoutGaps(change.patch);
  const before = only(known.fields, after);
  operations.patch(operationId, after, merges.bumpRevision(mergeId));
  operationChanges.append(id, mergeId, person, asked, { operationId, before, after });
  const what = `${wordsFor(operationId)} was ${change.kind === 'remove' ? 'removed' : 'changed'}`;
  return { operationId, what, before: operationRegion(known.operation) };
}

/** A change that was turned round, and where its operation showed before. */
interface Step extends LoggedChange {
  readonly region: Region;
}

/** A person's last change whose result nobody has changed since is turned round. */
function takeBack({ storage }: Services, mergeId: string, person: string): Step | undefined {
  const { merges, operations, operationChanges } = storage;
  const last = operationChanges.standing(mergeId, person).find((c) => stands(storage, c.operationId, c.after));
  if (!last) return undefined;
  const region = operationRegion(operations.find(last.operationId)!.operation);
  operations.patch(last.operationId, last.before, merges.bumpRevision(mergeId));
  operationChanges.markUndone(mergeId, last.id);
  return { ...last, region };
}

function makeAgain({ storage }: Services, mergeId: string, person: string): Step | undefined {
  const { merges, operations, operationChanges } = storage;
  const last = operationChanges.undone(mergeId, person).find((c) => stands(storage, c.operationId, c.before));
  if (!last) return undefined;
  const region = operationRegion(operations.find(last.operationId)!.operation);
  operations.patch(last.operationId, last.after, merges.bumpRevision(mergeId));
  operationChanges.markStanding(mergeId, last.id);
  return { ...last, region };
}

/** Whether an operation still is as a change left it. */
function stands({ operations }: Services['storage'], id: string, expected: Partial<OperationFields>): boolean {
  const { fields } = operations.find(id)!;
  return Object.entries(expected).every(([name, value]) =>
    isDeepStrictEqual(fields[name as keyof OperationFields], value),
  );
}

/** The fields of an operation that a change names. */
function only(fields: OperationFields, change: Partial<OperationFields>): Partial<OperationFields> {
  return Object.fromEntries(Object.entries(fields).filter(([name]) => name in change));
}
