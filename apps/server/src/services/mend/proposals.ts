// Proposed repairs: listed, kept as operations, refused.
import type { Proposal, ProposalChoice } from '@blendrak/contract';
import { RequestError } from '../../shared/requestError';
import { newId, type Services } from '../context';
import { note } from '../log/journal';
import type { Asker, OperationsService } from './operations';

export function listProposals({ storage, merges }: Services, mergeId: string): Proposal[] {
  merges.body(mergeId);
  return storage.proposals.listByMerge(mergeId);
}

/**
 * Keeps proposals, in the order in which they are named, and refuses others. What is kept already stays as it is.
 * @throws RequestError for a proposal that is not of this merge, or that has nothing to keep; nothing is done then
 */
export function chooseProposals(
  services: Services,
  repair: OperationsService,
  mergeId: string,
  { keep, refuse }: ProposalChoice,
  asker: Asker,
): void {
  const { storage, events, merges } = services;
  const { row } = merges.open(mergeId);
  const kept = keep.map((id) => requireProposal(services, mergeId, id)).filter((p) => p.state !== 'kept');
  const refused = refuse.map((id) => requireProposal(services, mergeId, id));
  for (const { id, operation } of kept) {
    if (!operation)
      throw new RequestError(409, `keep: for ${id} nothing that was tried helps, so there is nothing to keep.`);
  }
  for (const { id, operation } of kept) {
    const change = newId();
    repair.change(mergeId, { id: change, change: { kind: 'add', operation: operation! } }, asker);
    storage.proposals.keep(id, change);
  }
  refused.forEach((p) => storage.proposals.refuse(p.id));
  if (kept.length > 0)
    note(
      services,
      row.job_id,
      'repaired',
      `${kept.length} proposed ${kept.length === 1 ? 'repair was' : 'repairs were'} kept.`,
    );
  events.publish({ topic: 'proposals', id: row.job_id, mergeId });
}

function requireProposal({ storage }: Services, mergeId: string, id: string): Proposal {
  const proposal = storage.proposals.find(id);
  if (proposal?.mergeId !== mergeId)
    throw new RequestError(404, `This merge has no proposal ${id} (any more): it may have been worked out anew.`);
  return proposal;
}
