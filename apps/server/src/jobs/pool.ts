// Worker threads for heavy work. Two pools: one for long jobs, one thread for what a person is waiting for.
import { availableParallelism } from 'node:os';
import { fileURLToPath } from 'node:url';
import Piscina from 'piscina';
import { InputError } from '../codecs';
import type { RunTask } from './protocol';

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
    filename: fileURLToPath(new URL('./worker.js', import.meta.url)),
    minThreads: 1,
    maxThreads: threads,
    // Kernels and their memory are costly to make: workers stay.
    idleTimeout: 3_600_000,
    concurrentTasksPerWorker: 1,
  });
  return {
    threads,
    run: (async (name: string, request: unknown, signal?: AbortSignal) => {
      try {
        return (await piscina.run({ name, request }, signal ? { signal } : {})) as unknown;
      } catch (error) {
        throw revive(error);
      }
    }) as RunTask,
    close: () => piscina.destroy(),
  };
}

/** Errors lose their class on the way between threads; ours are told by name and fields. */
function revive(error: unknown): unknown {
  if (
    error instanceof Error &&
    error.name === 'InputError' &&
    'file' in error &&
    'problem' in error &&
    'accepted' in error
  ) {
    return new InputError(String(error.file), String(error.problem), String(error.accepted));
  }
  return error;
}
