// The conductor's thread: it hands long work out to the pool and puts together what comes back, so that the server's own
// thread has nothing to do but answer.
import { parentPort, workerData } from 'node:worker_threads';
import { NICENESS, openPool, refusalOf, type RunTask } from '../../jobs';
import { shootCardOrder, shootOrder } from '../camera';
import { mergeInPlace, type OnFirst } from '../../pipeline';
import { makeMerge } from '../make/makeMerge';
import type { CallName, Calls, FromConductor, ToConductor } from './protocol';

const port = parentPort!;
const { threads } = workerData as { readonly threads: number };
const pool = openPool({ threads, niceness: NICENESS.background });
const running = new Map<number, AbortController>();

interface CallContext {
  readonly signal: AbortSignal;
  readonly onProgress: (share: number, message: string) => void;
  readonly onFirst: OnFirst;
}

type Handlers = { [N in CallName]: (request: Calls[N][0], context: CallContext) => Promise<Calls[N][1]> };

const HANDLERS: Handlers = {
  task: ({ name, request }, { signal }) => {
    const run = pool.run as (name: string, request: unknown, signal: AbortSignal) => ReturnType<RunTask>;
    return run(name, request, signal);
  },
  merge: (order, context) => makeMerge(order, { ...context, run: pool.run, parallel: pool.threads }, context.onFirst),
  source: ({ order, tiles }, context) =>
    mergeInPlace(order, tiles, { ...context, run: pool.run, parallel: pool.threads }),
  shoot: ({ order, folder }, { signal, onProgress }) => shootOrder(order, folder, onProgress, signal),
  shootCard: ({ order, folder }, { signal, onProgress }) => shootCardOrder(order, folder, onProgress, signal),
};

async function carryOut(id: number, name: CallName, request: unknown): Promise<void> {
  const abort = new AbortController();
  running.set(id, abort);
  const context: CallContext = {
    signal: abort.signal,
    onProgress: (share, message) => send({ id, progress: [share, message] }),
    onFirst: (first) => send({ id, first }),
  };
  try {
    const handle = HANDLERS[name] as (request: unknown, context: CallContext) => Promise<unknown>;
    send({ id, answer: { value: await handle(request, context) } });
  } catch (error) {
    const known = refusalOf(error);
    send(known ? { id, answer: known } : { id, failure: error instanceof Error ? error.message : String(error) });
  } finally {
    running.delete(id);
  }
}

function send(message: FromConductor): void {
  port.postMessage(message);
}

port.on('message', (message: ToConductor) => {
  if ('abort' in message) running.get(message.abort)?.abort();
  else void carryOut(message.id, message.name, message.request);
});
