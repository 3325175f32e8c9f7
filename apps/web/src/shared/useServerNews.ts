// Keeps what is known of the server fresh: by topic, so that the progress of one job does not ask for the merge of another.
import { useQueryClient, type QueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import type { Card, Job, JobSummary, News } from '@blendrak/contract';
import { PAGE_NAME } from './api';
import { listenToNews } from './newsStream';
import { KEYS } from './queries';

/** Called for what other pages did to a merge. */
type OnElsewhere = (news: News) => void;
const elsewhere = new Set<OnElsewhere>();

/** Keeps the query cache fresh for as long as the page is open; reconnects by itself after a restart of the server. */
export function useServerNews(): void {
  const client = useQueryClient();
  useEffect(
    () =>
      listenToNews({
        onNews: (news) => {
          refresh(client, news);
          if (news.by !== PAGE_NAME && news.what) elsewhere.forEach((tell) => tell(news));
        },
        onGap: () => void client.invalidateQueries(),
      }),
    [client],
  );
}

/** Tells what other pages did to a merge, in words. */
export function useDoneElsewhere(mergeId: string, tell: (words: string) => void): void {
  useEffect(() => {
    const listener: OnElsewhere = (news) => {
      if (news.mergeId === mergeId) tell(`In another window: ${news.what}.`);
    };
    elsewhere.add(listener);
    return () => void elsewhere.delete(listener);
  }, [mergeId, tell]);
}

function refresh(client: QueryClient, news: News): void {
  const again = (queryKey: readonly unknown[]): void => void client.invalidateQueries({ queryKey });
  switch (news.topic) {
    case 'work':
      showProgress(client, news);
      return;
    case 'operations':
      again(KEYS.operations(news.mergeId!));
      again(KEYS.finish(news.mergeId!));
      return;
    case 'finish':
      again(KEYS.finish(news.mergeId!));
      again(KEYS.jobs);
      again(KEYS.job(news.id));
      return;
    case 'proposals':
      again(KEYS.proposals(news.mergeId!));
      return;
    case 'sources':
      again(KEYS.sources(news.mergeId!));
      return;
    case 'pins':
      again(KEYS.pins(news.mergeId!));
      return;
    case 'findings':
      again(KEYS.findings(news.mergeId!));
      again(KEYS.finish(news.mergeId!));
      again(KEYS.jobs);
      again(KEYS.job(news.id));
      return;
    case 'job':
      again(KEYS.jobs);
      again(KEYS.job(news.id));
      return;
    case 'card':
      again(KEYS.cards);
      again(KEYS.card(news.id));
  }
}

/** Progress comes with the news: nothing is asked for. */
function showProgress(client: QueryClient, { id, work }: News): void {
  if (!work) return;
  if (work.jobId === null) {
    client.setQueryData<Card>(KEYS.card(id), (card) => card && { ...card, summary: { ...card.summary, work } });
    return;
  }
  const inSummary = (summary: JobSummary): JobSummary => (summary.id === id ? { ...summary, work } : summary);
  client.setQueryData<JobSummary[]>(KEYS.jobs, (jobs) => jobs?.map(inSummary));
  client.setQueryData<Job>(
    KEYS.job(id),
    (job) =>
      job && {
        ...job,
        summary: inSummary(job.summary),
        work: job.work.map((w) => (w.id === work.id ? work : w)),
      },
  );
}
