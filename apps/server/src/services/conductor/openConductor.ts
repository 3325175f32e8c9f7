// The conductor as the server sees it: a pool for long work that also carries out whole pieces of it.
import { fileURLToPath } from 'node:url';
import { Worker } from 'node:worker_threads';
import type { CardOrder, ShootOrder } from '@blendrak/contract';
import { longWorkThreads, valueOf, type Pool, type RunTask } from '../../jobs';
import type { OnFirst, PlacedMerge, PlaceOrder } from '../../pipeline';
import type { Card, CardTruth } from '../camera';
import type { MadeMerge, MergeOrder } from '../make/mergeOrder';
import type { CallName, Calls, FromConductor, ToConductor } from './protocol';

type OnProgress = (share: number, message: string) => void;

/** Long work; it gives way to what a person is waiting for. */
export interface Conductor extends Pool {
  merge(order: MergeOrder, tell: Tell, signal: AbortSignal): Promise<MadeMerge>;
  source(order: PlaceOrder, tiles: string, onProgress: OnProgress, signal: AbortSignal): Promise<PlacedMerge>;
  shootCard(order: CardOrder, folder: string, onProgress: OnProgress, signal: AbortSignal): Promise<CardTruth>;
  shoot(order: ShootOrder, folder: string, onProgress: OnProgress, signal: AbortSignal): Promise<Card>;
}

/** What is told of a piece of work while it goes on. */
interface Tell {
  readonly onProgress: OnProgress;
  readonly onFirst: OnFirst;
}

interface Waiting extends Tell {
  readonly done: (value: unknown) => void;
  readonly fail: (error: unknown) => void;
}

/** @param threads of its pool; default: as many as long work is given */
export function openConductor(threads = longWorkThreads()): Conductor {
  const waiting = new Map<number, Waiting>();
  let thread: Worker | null = null;
  let count = 0;
  const nothing = (): void => undefined;

  /** The thread, started when it is needed first and after it died. */
  const awake = (): Worker => {
    if (thread) return thread;
    // Beside the bundle; tests, which run from source, name the built thread.
    const file = process.env['BLENDRAK_CONDUCTOR'] ?? fileURLToPath(new URL('./conductor.js', import.meta.url));
    const started = new Worker(file, { workerData: { threads } });
    const end = (error: Error): void => {
      if (thread === started) thread = null;
      for (const call of waiting.values()) call.fail(error);
      waiting.clear();
    };
    started.on('message', (message: FromConductor) => settle(message));
    started.on('error', end);
    started.on('exit', () => end(new Error('the thread for long work ended')));
    thread = started;
    return started;
  };

  const settle = (message: FromConductor): void => {
    const call = waiting.get(message.id);
    if (!call) return;
    if ('progress' in message) {
      call.onProgress(...message.progress);
      return;
    }
    if ('first' in message) {
      call.onFirst(message.first);
      return;
    }
    waiting.delete(message.id);
    if ('failure' in message) {
      call.fail(new Error(message.failure));
      return;
    }
    try {
      call.done(valueOf(message.answer));
    } catch (error) {
      call.fail(error);
    }
  };

  const call = <N extends CallName>(
    name: N,
    request: Calls[N][0],
    tell: Partial<Tell>,
    signal?: AbortSignal,
  ): Promise<Calls[N][1]> =>
    new Promise<unknown>((done, fail) => {
      if (signal?.aborted) {
        fail(new Error('cancelled'));
        return;
      }
      const id = ++count;
      const send = (message: ToConductor): void => awake().postMessage(message);
      const cancel = (): void => send({ abort: id });
      const over = <T>(settle: (value: T) => void) => {
        return (value: T): void => {
          signal?.removeEventListener('abort', cancel);
          settle(value);
        };
      };
      waiting.set(id, { done: over(done), fail: over(fail), onProgress: nothing, onFirst: nothing, ...tell });
      signal?.addEventListener('abort', cancel);
      send({ id, name, request });
    }) as Promise<Calls[N][1]>;

  return {
    threads,
    run: ((name: string, request: unknown, signal?: AbortSignal) =>
      call('task', { name, request }, {}, signal)) as RunTask,
    merge: (order, tell, signal) => call('merge', order, tell, signal),
    source: (order, tiles, onProgress, signal) => call('source', { order, tiles }, { onProgress }, signal),
    shootCard: (order, folder, onProgress, signal) => call('shootCard', { order, folder }, { onProgress }, signal),
    shoot: (order, folder, onProgress, signal) => call('shoot', { order, folder }, { onProgress }, signal),
    close: async () => {
      await thread?.terminate();
    },
  };
}
