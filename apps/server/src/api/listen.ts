// The addresses on which the server answers: this machine's own, and others only when asked for.
import { createServer, type RequestListener, type Server } from 'node:http';
import { hostname, networkInterfaces } from 'node:os';
import { InputError } from '../codecs';
import { errorCode } from '../shared/errorCode';

export interface Listening {
  readonly port: number;
  readonly servers: readonly Server[];
  /** Address and port of each, as bound. */
  readonly bound: readonly string[];
  /** Names with port under which requests may come. */
  readonly hosts: ReadonlySet<string>;
  /** Sets what answers; until then every request is told to wait. */
  answer(listener: RequestListener): void;
  close(): void;
}

const LOOPBACK = ['127.0.0.1', '::1'];
/** Systems without this family have no such address. */
const NO_FAMILY = new Set(['EADDRNOTAVAIL', 'EAFNOSUPPORT']);

/**
 * Binds a port, before anything else is touched.
 * @param port 0 for any free one
 * @param host a further address; "0.0.0.0" or "::" for all
 * @throws InputError when the port is taken or the address is not this machine's
 */
export async function listen(port: number, host: string | null): Promise<Listening> {
  let listener: RequestListener = (_request, response) => {
    response.writeHead(503, { 'Content-Type': 'text/plain', 'Retry-After': '1' }).end('Blendrak is starting.\n');
  };
  const every = host === '0.0.0.0' || host === '::';
  const wanted = every
    ? [host]
    : [...LOOPBACK, ...(host && !LOOPBACK.includes(host) && host !== 'localhost' ? [host] : [])];
  const servers: Server[] = [];
  let actual = port;
  try {
    for (const address of wanted) {
      const server = createServer((request, response) => listener(request, response));
      try {
        await bind(server, actual, address);
      } catch (error) {
        const code = errorCode(error);
        if (address === '::1' && NO_FAMILY.has(code)) continue;
        throw refusal(code, actual, address) ?? error;
      }
      const found = server.address();
      if (typeof found === 'object' && found) actual = found.port;
      servers.push(server);
    }
  } catch (error) {
    servers.forEach((s) => s.close());
    throw error;
  }
  return {
    port: actual,
    servers,
    bound: servers.map((s) => {
      const at = s.address();
      return typeof at === 'object' && at ? withPort(at.address, at.port) : String(at);
    }),
    hosts: new Set(namesOf(host, every).map((name) => withPort(name, actual).toLowerCase())),
    answer: (next) => (listener = next),
    close: () => {
      for (const server of servers) {
        server.close();
        server.closeAllConnections();
      }
    },
  };
}

function bind(server: Server, port: number, address: string): Promise<void> {
  return new Promise((done, fail) => {
    server.once('error', fail);
    // Only loopback is bound twice; "::" alone takes both families.
    server.listen({ port, host: address, ipv6Only: address === '::1' }, () => {
      server.off('error', fail);
      done();
    });
  });
}

function refusal(code: string, port: number, address: string): InputError | null {
  if (code === 'EADDRINUSE')
    return new InputError('--port', `port ${port} is in use`, 'a free port, such as PORT=4311');
  if (code === 'EACCES')
    return new InputError(
      '--port',
      `port ${port} may not be used by this user`,
      'a port above 1023, such as PORT=4311',
    );
  if (code === 'EADDRNOTAVAIL' || code === 'ENOTFOUND' || code === 'EAI_AGAIN')
    return new InputError(
      '--host',
      `${address} is no address of this machine`,
      'an address of this machine, or 0.0.0.0',
    );
  return null;
}

/** What this machine is called by those who may ask. */
function namesOf(host: string | null, every: boolean): string[] {
  const own = ['localhost', ...LOOPBACK];
  if (!host) return own;
  if (!every) return [...own, host];
  const addresses = Object.values(networkInterfaces()).flatMap((list) => (list ?? []).map((a) => a.address));
  return [...own, ...addresses, hostname(), `${hostname()}.local`];
}

function withPort(name: string, port: number): string {
  const host = name.includes(':') ? `[${name}]` : name;
  return port === 80 ? host : `${host}:${port}`;
}
