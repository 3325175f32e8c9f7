// Starts the application: storage, pools, queue, HTTP.
import { createServer } from 'node:http';
import { fileURLToPath } from 'node:url';
import pino from 'pino';
import { InputError } from '../codecs';
import { openPool } from '../jobs';
import type { Services } from '../services/context';
import { queueDemo } from '../services/demoService';
import { makeEvents } from '../services/events';
import { openStorage } from '../storage';
import { makeApp } from './makeApp';

export interface ServerOptions {
  readonly port: number;
  readonly dataFolder: string;
  readonly demo: boolean;
}

/** Starts and runs until SIGINT or SIGTERM; prints one line with the address when ready. */
export async function startServer({ port, dataFolder, demo }: ServerOptions): Promise<void> {
  if (!(Number.isInteger(port) && port >= 0 && port < 65536))
    throw new InputError('--port', `${port} is no port`, '1 to 65535');
  const log = pino({ level: process.env['LOG_LEVEL'] ?? 'warn' }, pino.destination(2));
  const services: Services = {
    storage: openStorage(dataFolder),
    events: makeEvents(),
    pool: openPool(),
    quick: openPool(1),
    log,
  };
  const { express, queue, repair } = makeApp(services, fileURLToPath(new URL('../../web/dist', import.meta.url)));
  if (demo) queueDemo(services);
  const server = createServer(express);
  await new Promise<void>((resolve, reject) => {
    server.once('error', (error: NodeJS.ErrnoException) => {
      const taken = error.code === 'EADDRINUSE';
      reject(taken ? new InputError('--port', `port ${port} is in use`, 'a free port, such as PORT=4311') : error);
    });
    server.listen(port, resolve);
  });
  queue.wake();
  const address = server.address();
  const actual = typeof address === 'object' && address ? address.port : port;
  process.stdout.write(`Blendrak is ready at http://localhost:${actual}\n`);
  const stop = async (): Promise<void> => {
    server.close();
    server.closeAllConnections();
    await queue.stop();
    await repair.settled();
    await Promise.all([services.pool.close(), services.quick.close()]);
    services.storage.close();
    process.exit(0);
  };
  process.once('SIGINT', () => void stop());
  process.once('SIGTERM', () => void stop());
}
