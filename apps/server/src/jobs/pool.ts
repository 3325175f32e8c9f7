// Worker threads for heavy work. Two kinds: for long jobs, which give way, and for what a person is waiting for.
import { fileURLToPath } from 'node:url';
import Piscina from 'piscina';
import { InputError } from '../codecs';
import { workerArguments } from '../shared/workerArguments';
import { valueOf, type Answer } from './answer';
import { longWorkThreads } from './longWorkThreads';
import type { RunTask, TaskName } from './protocol';

export interface Pool {
  readonly run: RunTask;
  readonly threads: number;
  close(): Promise<void>;
}

export interface PoolOptions {
  /** Default: as many as long work is given. */
  readonly threads?: number;
  /** How far its threads give way to others; default: not at all. */
  readonly niceness?: number;
}

/**
 * How far threads give way, as the operating system counts it: long work gets a tenth of the time where tiles want all of
 * it, and tiles half of what the server's own thread gets.
 */
export const NICENESS = { interactive: 3, background: 10 } as const;
/** Reading files ends some time, or the disk does not answer: then the thread is given up. */
const READ_LIMIT_S = 1800;
const READING: ReadonlySet<TaskName> = new Set<TaskName>(['store', 'summarise', 'expand']);

export function openPool({ threads = longWorkThreads(), niceness = 0 }: PoolOptions = {}): Pool {
  const piscina = new Piscina({
    // Beside the bundle; tests, which run from source, name the built worker.
    filename: process.env['BLENDRAK_WORKER'] ?? fileURLToPath(new URL('./worker.js', import.meta.url)),
    execArgv: workerArguments(),
    minThreads: 1,
    maxThreads: threads,
    // Kernels and their memory are costly to make: workers stay.
    idleTimeout: 3_600_000,
    concurrentTasksPerWorker: 1,
    // Beside other tests on the same cores, long work that gives way would never end.
    niceIncrement: process.env['BLENDRAK_NICENESS'] === 'off' ? 0 : niceness,
  });
  return {
    threads,
    run: (async (name: TaskName, request: unknown, signal?: AbortSignal) => {
      const limit = READING.has(name) ? readLimit() : null;
      const signals = [signal, limit?.signal].filter((s) => s !== undefined);
      try {
        const options = signals.length > 0 ? { signal: AbortSignal.any(signals) } : {};
        return valueOf((await piscina.run({ name, request }, options)) as Answer);
      } catch (error) {
        if (!limit?.signal.aborted || signal?.aborted) throw error;
        const file = (request as { readonly name: string }).name;
        throw new InputError(
          file,
          `reading it did not end within ${limit.seconds} s and was given up`,
          'files on a disk that answers',
        );
      } finally {
        limit?.clear();
      }
    }) as RunTask,
    close: () => piscina.destroy(),
  };
}

/** A signal that comes when a file has been read for too long; shorter for tests. */
function readLimit(): { readonly signal: AbortSignal; readonly seconds: number; clear(): void } {
  const seconds = Number(process.env['BLENDRAK_READ_LIMIT_S'] ?? READ_LIMIT_S);
  const abort = new AbortController();
  const timer = setTimeout(() => abort.abort(), seconds * 1000);
  timer.unref();
  return { signal: abort.signal, seconds, clear: () => clearTimeout(timer) };
}
