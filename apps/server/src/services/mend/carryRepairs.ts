// The repairs of a job's last merge carried over to a new one: nobody paints twice because a frame came or the alignment changed.
import type { Carry, Operation } from '@blendrak/contract';
import { carryOperation, type CarryMerge } from '@blendrak/core/repair';
import type { MergeBody, Storage } from '../../storage';
import { newId, type Services } from '../context';
import { donorNamesOf } from '../look/merges';
import { bareOperation } from './bareOperation';
import { operationWords } from './operationWords';

/** The merge that repairs are carried over from. */
export interface LastRepairs {
  readonly body: MergeBody;
  /** What it was painted with, by number. */
  readonly donorNames: readonly string[];
  /** Picture that it is, of one that was made elsewhere. */
  readonly pictureId: string | null;
  readonly operations: readonly Operation[];
}

/** The repairs of a job's last merge; null where there are none. */
export function lastRepairs(
  { storage, merges }: Pick<Services, 'storage' | 'merges'>,
  jobId: string,
): LastRepairs | null {
  const head = storage.merges.headOf(jobId);
  const operations = head ? storage.operations.listByMerge(head.id) : [];
  if (!head || operations.length === 0) return null;
  const body = merges.body(head.id);
  const donorNames = donorNamesOf(storage, head.id, body);
  return { body, donorNames, pictureId: storage.merges.find(head.id)!.picture_id, operations };
}

/**
 * Carries repairs over to a merge that has just been kept, in their order, with what they are called and whether they act.
 * @returns how many were, and why others were not
 */
export function carryRepairs(
  storage: Storage,
  last: LastRepairs,
  to: { readonly id: string; readonly body: MergeBody; readonly pictureId: string | null },
): Carry {
  const isSamePicture = last.pictureId !== null && last.pictureId === to.pictureId;
  const [before, now] = [placed(last.body), placed(to.body)];
  const left: Carry['left'] = [];
  let taken = 0;
  for (const operation of last.operations.toSorted((a, b) => a.order - b.order)) {
    const carried = carryOperation(operation, before, now, isSamePicture);
    if ('why' in carried) {
      left.push({ words: operationWords(operation, last.donorNames), why: carried.why });
      continue;
    }
    const { enabled, name, variant } = operation;
    const id = newId();
    storage.operations.append(to.id, id, bareOperation(carried.operation), storage.merges.bumpRevision(to.id));
    const mask = carried.operation.mask ? { ...operation.mask!, insideOut: carried.operation.mask.insideOut } : null;
    storage.operations.patch(id, { enabled, name, variant, mask }, storage.merges.bumpRevision(to.id));
    taken += 1;
  }
  return { taken, left };
}

function placed({ width, height, frames }: MergeBody): CarryMerge {
  return {
    width,
    height,
    frames: frames.map(({ pictureId, fileName, geometry }) => ({ id: pictureId, name: fileName, geometry })),
  };
}
