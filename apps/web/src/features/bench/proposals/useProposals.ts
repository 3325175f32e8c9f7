// The repairs proposed for a merge: asked for, worked out, kept and refused.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useMemo } from 'react';
import { isOpenWork, type MendInput, type Proposal, type ProposalChoice, type Work } from '@blendrak/contract';
import { placeOperation, type PlacedOperation } from '@blendrak/core/repair';
import { api, wordsOf } from '../../../shared/api';
import { keepOperations, KEYS, knownRevision, useJob, type BenchMerge } from '../../../shared/queries';

const NONE: readonly Proposal[] = [];

export interface Proposing {
  readonly proposals: readonly Proposal[];
  /** Being worked out; null while nothing is. */
  readonly work: Work | null;
  workOut(order: MendInput): void;
  choose(choice: Partial<ProposalChoice>): void;
}

/** @param complain is told why something was not done */
export function useProposals({ id: mergeId, jobId }: BenchMerge, complain: (words: string) => void): Proposing {
  const client = useQueryClient();
  const job = useJob(jobId);
  const key = KEYS.proposals(mergeId);
  const proposals = useQuery({ queryKey: key, queryFn: () => api.proposals(mergeId) }).data ?? NONE;
  const works = job.data?.work;
  const work = useMemo(() => works?.find((w) => w.kind === 'mend' && isOpenWork(w)) ?? null, [works]);
  const { mutate: workOut } = useMutation({
    mutationFn: (order: MendInput) => api.mend(mergeId, order),
    onSuccess: () => client.invalidateQueries({ queryKey: KEYS.job(jobId) }),
    onError: (error) => complain(wordsOf(error)),
  });
  const { mutate: choose } = useMutation({
    mutationFn: (choice: Partial<ProposalChoice>) =>
      api.chooseProposals(mergeId, knownRevision(client, KEYS.operations(mergeId)), choice),
    onSuccess: (changes) => {
      keepOperations(client, mergeId, changes);
      void client.invalidateQueries({ queryKey: key });
    },
    onError: (error) => complain(wordsOf(error)),
  });
  return useMemo(() => ({ proposals, work, workOut, choose }), [choose, proposals, work, workOut]);
}

/** What a proposal would add to the repair; null where it adds nothing, or has been added. */
export function useProposed(proposal: Proposal | undefined): PlacedOperation | null {
  return useMemo(
    () =>
      proposal?.operation && proposal.state === 'waiting'
        ? placeOperation({ id: proposal.id, ...proposal.operation })
        : null,
    [proposal],
  );
}
