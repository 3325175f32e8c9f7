// What is asked under a name of its own may be asked again: it is carried out once. So it is sent until the server has answered.
import { ServerProblem } from './api';

/** After how long it is tried again while the server cannot be reached. */
const RETRY_MS = 1500;

/**
 * How a mutation whose order has a name is sent.
 * @param onAway is told once that the server cannot be reached
 */
export function untilAnswered(onAway: () => void = () => undefined) {
  return {
    networkMode: 'always',
    retry: (count: number, error: Error): boolean => {
      const isAway = error instanceof ServerProblem && error.status === 0;
      if (isAway && count === 0) onAway();
      return isAway;
    },
    retryDelay: RETRY_MS,
  } as const;
}
