// Worker threads for heavy work. Two pools: one for long jobs, one thread for what a person is waiting for.
import { availableParallelism } from 'node:os';
import { fileURLToPath } from 'node:url';
import Piscina from 'piscina';
import { InputError } from '../codecs';
import type { RunTask } from './protocol';
import type { Answer } from './worker';

export interface Pool {
  readonly run: RunTask;
  readonly threads: number;
  close(): Promise<void>;
}

/**
 * Opens a pool.
 * @param threads default: one per core, 4 at most (memory grows with each)
 */
export function openPool(threads = Math.min(4, availableParallelism())): Pool {
  const piscina = new Piscina({
    // Beside the bundle; tests, which run from source, name the built worker.
    filename: process.env['BLENDRAK_WORKER'] ?? fileURLToPath(new URL('./worker.js', import.meta.url)),
    minThreads: 1,
    maxThreads: threads,
    // Kernels and their memory are costly to make: workers stay.
    idleTimeout: 3_600_000,
    concurrentTasksPerWorker: 1,
  });
  return {
    threads,
    run: (async (name: string, request: unknown, signal?: AbortSignal) => {
      const answer = (await piscina.run({ name, request }, signal ? { signal } : {})) as Answer;
      if ('value' in answer) return answer.value;
      throw new InputError(answer.refused.file, answer.refused.problem, answer.refused.accepted);
    }) as RunTask,
    close: () => piscina.destroy(),
  };
}
