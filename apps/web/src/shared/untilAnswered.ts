// What is asked under a name of its own may be asked again: it is carried out once. So it is sent until the server has answered.
import { ServerProblem } from './api';

/** After how long it is tried again while the server cannot be reached. */
const RETRY_MS = 1500;

/** How a mutation whose order has a name is sent. */
export const untilAnswered = {
  networkMode: 'always',
  retry: (_count: number, error: Error): boolean => error instanceof ServerProblem && error.status === 0,
  retryDelay: RETRY_MS,
} as const;
