// The cache of what the server has told, as all screens share it.
import { notifyManager, QueryClient } from '@tanstack/react-query';

/**
 * Answers reach the screens within the turn in which they come, and so together with what is changed beside them: by default they come a turn
 * later, in which a stroke was neither unsent nor among the operations, and nothing could be taken back.
 */
export function makeQueryClient(): QueryClient {
  notifyManager.setScheduler(queueMicrotask);
  return new QueryClient({ defaultOptions: { queries: { staleTime: 30_000, retry: 2 } } });
}
