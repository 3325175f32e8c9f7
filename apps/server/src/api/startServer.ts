// Starts the application: port, data folder, pools, queue, HTTP; in this order, so that a start that cannot be leaves no trace.
import { randomBytes } from 'node:crypto';
import { homedir } from 'node:os';
import { fileURLToPath } from 'node:url';
import pino from 'pino';
import { InputError } from '../codecs';
import { NICENESS, openPool } from '../jobs';
import { openConductor } from '../services/conductor/openConductor';
import type { Services } from '../services/context';
import { queueDemo } from '../services/demoService';
import { makeEvents } from '../services/events';
import { resolveRoots } from '../services/intake/folders';
import { makeMerges } from '../services/look/merges';
import { claimFolder, openStorage } from '../storage';
import { listen, type Listening } from './listen';
import { makeApp } from './makeApp';

export interface ServerOptions {
  readonly port: number;
  /** Address to listen on besides this machine's own; null for none. */
  readonly host: string | null;
  readonly dataFolder: string;
  /** Folders that pictures may be read from where they lie; none given: the user's home. */
  readonly readFolders: readonly string[];
  readonly shareTiles: boolean;
  readonly demo: boolean;
}

/** Threads for what a person waits for: tiles of two viewers at once, or one while the other measures. */
const QUICK_THREADS = 2;

/** Starts and runs until SIGINT or SIGTERM; prints one line with the address when ready. */
export async function startServer(options: ServerOptions): Promise<void> {
  const { port, host, dataFolder, readFolders } = options;
  if (!(Number.isInteger(port) && port >= 0 && port < 65536))
    throw new InputError('--port', `${port} is no port`, '1 to 65535');
  const roots = resolveRoots(readFolders.length > 0 ? readFolders : [homedir()]);
  const listening = await listen(port, host);
  try {
    await run(options, listening, roots, dataFolder);
  } catch (error) {
    listening.close();
    throw error;
  }
}

async function run(
  { host, shareTiles, demo }: ServerOptions,
  listening: Listening,
  roots: readonly string[],
  dataFolder: string,
): Promise<void> {
  const log = pino({ level: process.env['LOG_LEVEL'] ?? 'warn' }, pino.destination(2));
  const claim = claimFolder(dataFolder);
  const storage = openStorage(dataFolder, claim);
  const services: Services = {
    storage,
    events: makeEvents(),
    merges: makeMerges(storage),
    pool: openConductor(),
    quick: openPool({ threads: QUICK_THREADS, niceness: NICENESS.interactive }),
    roots,
    log,
  };
  const token = host === null ? null : randomBytes(18).toString('base64url');
  const web = fileURLToPath(new URL('../../web/dist', import.meta.url));
  const { express, queue, repair } = makeApp(services, web, { hosts: listening.hosts, token, shareTiles });
  // The first tile would wait for a thread to get ready: it does so now.
  for (let k = 0; k < QUICK_THREADS; k++)
    services.quick
      .run('warmUp', null)
      .catch((error: unknown) => log.debug({ err: error }, 'a thread did not get ready'));
  if (demo) queueDemo(services);
  listening.answer(express);
  queue.wake();
  const name = host === null || host === '0.0.0.0' || host === '::' ? 'localhost' : host;
  const address = `http://${name.includes(':') ? `[${name}]` : name}:${listening.port}`;
  claim.announce(address);
  for (const notice of storage.notices) process.stderr.write(`blendrak: ${notice}\n`);
  if (host !== null)
    process.stdout.write(`Listening on ${listening.bound.join(', ')}; the token belongs to the address.\n`);
  process.stdout.write(`Blendrak is ready at ${address}${token ? `/?token=${token}` : ''}\n`);
  const stop = async (): Promise<void> => {
    listening.close();
    await queue.stop();
    await repair.settled();
    await Promise.all([services.pool.close(), services.quick.close()]);
    storage.close();
    process.exit(0);
  };
  process.once('SIGINT', () => void stop());
  process.once('SIGTERM', () => void stop());
}
