// Work `mend`: repairs of a merge's open findings worked out by themselves, each rendered and inspected, and kept as proposals.
import { z } from 'zod';
import {
  isMendable,
  isOpenWork,
  maskShapeSchema,
  type Finding,
  type MendOrder,
  type OperationPartRecord,
  type Proposal,
  type Work,
} from '@blendrak/contract';
import { placeOperation, type OperationPart } from '@blendrak/core/repair';
import { rankDonors } from '@blendrak/core/trace';
import { closes, repairMerge, type ToRepair, type TriedRepair } from '../../pipeline';
import { RequestError } from '../../shared/requestError';
import { toWork } from '../../storage';
import { newId, type Services } from '../context';
import { lookAgainOf } from './lookAgain';
import { NOBODY, type Asker, type OperationsService } from './operations';
import { chooseProposals } from './proposals';

export const mendPayload = z.strictObject({
  mergeId: z.string(),
  findingIds: z.array(z.string()),
  /** In whose name what closes is kept at once; null where it is only proposed. */
  keepFor: z.string().nullable().default(null),
});
type MendPayload = z.infer<typeof mendPayload>;

/** Seen by nobody: merges are mended at once of what is more visible than this (see core/print). */
const SEEN = 20;

/**
 * Queues the working out of repairs.
 * @throws RequestError when no open finding can be repaired, or repairs of this merge are being worked out already
 */
export function startMend(
  { storage, merges, events }: Services,
  mergeId: string,
  order: MendOrder,
  { person }: Asker = NOBODY,
): Work {
  const { row, body } = merges.open(mergeId);
  if (!body.inspection)
    throw new RequestError(
      409,
      'This merge was never inspected. Have it worked anew, so that places can be looked at again.',
    );
  const running = storage.work
    .rowsOf(row.job_id, 'mend')
    .find((w) => isOpenWork(w) && mendPayload.parse(JSON.parse(w.payload)).mergeId === mergeId);
  if (running)
    throw new RequestError(409, 'Repairs of this merge are being worked out already: wait for them, or cancel first.');
  const findings = storage.findings.listByMerge(mergeId).filter((f) => isWanted(f, order));
  if (findings.length === 0) throw new RequestError(409, nothingWords(order));
  const id = newId();
  const keepFor = 'over' in order && order.keep ? person : null;
  const payload = { mergeId, findingIds: findings.map((f) => f.id), keepFor } satisfies MendPayload;
  storage.work.insert(id, row.job_id, 'mend', payload);
  events.publish({ topic: 'job', id: row.job_id });
  return toWork(storage.work.find(id)!);
}

/** Queues the mending of a merge that has just been made, where anything of it can be mended. */
export function mendAtOnce(services: Services, mergeId: string): void {
  const order = { over: SEEN, keep: true };
  if (services.storage.findings.listByMerge(mergeId).some((f) => isWanted(f, order)))
    startMend(services, mergeId, order);
}

function isWanted(finding: Finding, order: MendOrder): boolean {
  if (finding.decision !== 'open' || !isMendable(finding)) return false;
  return 'findingId' in order ? finding.id === order.findingId : finding.severity >= order.over;
}

function nothingWords(order: MendOrder): string {
  return 'findingId' in order
    ? `findingId: ${order.findingId} is no open finding of this merge that a frame can repair.`
    : `over: no open finding of a visibility of ${order.over} or more can be repaired from a frame.`;
}

/** Works repairs out; taken up again after a kill, it goes on with the findings that were not settled. */
export async function runMend(
  services: Services,
  repair: OperationsService,
  workId: string,
  { mergeId, findingIds, keepFor }: MendPayload,
  onProgress: (share: number, message: string) => void,
  signal: AbortSignal,
): Promise<void> {
  const { storage, merges, pool, events } = services;
  const { scene, body, row } = merges.painted(mergeId);
  const revision = storage.merges.revisionOf(mergeId)!;
  const settled = storage.proposals.listByWork(workId);
  const done = new Set(settled.map((p) => p.findingId));
  const findings = findingIds.flatMap((id) => {
    const finding = storage.findings.find(id);
    return finding && finding.decision === 'open' && !done.has(id) ? [toRepair(finding)] : [];
  });
  const acting = settled.flatMap(({ id, operation, closes: isClosed, state }) =>
    operation && isClosed && state === 'waiting' ? [placeOperation({ id, ...operation })] : [],
  );
  const keep = (tried: TriedRepair): void => {
    // Somebody may have removed the finding's merge, or settled it by hand, in the meantime.
    if (!storage.findings.find(tried.findingId)) return;
    storage.transaction(() => storage.proposals.put(proposalOf(tried, mergeId, revision), workId));
    events.publish({ topic: 'proposals', id: row.job_id, mergeId });
  };
  await repairMerge(
    { ...scene, operations: [...scene.operations, ...acting] },
    findings,
    lookAgainOf(body)!,
    body,
    { run: pool.run, parallel: pool.threads, signal, onProgress },
    keep,
  );
  if (keepFor === null) return;
  const closing = storage.proposals.listByWork(workId).filter((p) => p.closes && p.operation && p.state === 'waiting');
  const choice = { keep: closing.map((p) => p.id), refuse: [] };
  if (closing.length > 0) chooseProposals(services, repair, mergeId, choice, { person: keepFor });
}

function toRepair(finding: Finding): ToRepair {
  const { id, defect, bbox, polygon } = finding;
  return { id, defect, bbox, polygon, donors: rankDonors(finding) };
}

function proposalOf(tried: TriedRepair, mergeId: string, revision: number): Proposal {
  const { findingId, repair, rest, plants } = tried;
  return {
    ...{ id: newId(), mergeId, findingId, rest, plants, revision, closes: closes(tried), state: 'waiting' },
    operation: repair && {
      kind: 'paint',
      ...partRecord(repair),
      ...(repair.also && { also: repair.also.map(partRecord) }),
    },
  };
}

function partRecord({ donor, shape, tone, shift }: OperationPart): OperationPartRecord {
  return {
    donor,
    ...(shift && { shift: [shift[0], shift[1]] }),
    ...(tone && { tone: { ...tone, values: [...tone.values] } }),
    shape: maskShapeSchema.parse(shape),
  };
}
