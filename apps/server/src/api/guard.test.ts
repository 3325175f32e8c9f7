// Who may ask: own addresses only, own pages only, and beyond this machine only with the token.
import { request as httpRequest, type IncomingHttpHeaders, type OutgoingHttpHeaders } from 'node:http';
import { networkInterfaces } from 'node:os';
import { problemSchema } from '@blendrak/contract';
import { localServices, temporaryFolder } from '../testing/inProcess';
import { listen, type Listening } from './listen';
import { makeApp, type App } from './makeApp';

const { path, clean } = temporaryFolder();
const services = localServices(path);
const TOKEN = 'a-word-of-some-length';
let own: Listening;
let guarded: Listening;
let shared: Listening;
const apps: App[] = [];

async function open(token: string | null, shareTiles: boolean): Promise<Listening> {
  const listening = await listen(0, null);
  const app = makeApp(services, null, { hosts: listening.hosts, token, shareTiles });
  apps.push(app);
  listening.answer(app.express);
  return listening;
}

beforeAll(async () => {
  own = await open(null, false);
  guarded = await open(TOKEN, false);
  shared = await open(null, true);
});
afterAll(async () => {
  for (const listening of [own, guarded, shared]) listening.close();
  for (const app of apps) await app.queue.stop();
  await Promise.all([services.pool.close(), services.quick.close()]);
  services.storage.close();
  clean();
});

interface Answer {
  readonly status: number;
  readonly headers: IncomingHttpHeaders;
  readonly body: string;
}

function ask(
  { port }: Listening,
  target: string,
  { method = 'GET', headers = {}, body = '', host = '127.0.0.1' }: Partial<Request> = {},
): Promise<Answer> {
  return new Promise((done, fail) => {
    const sent = httpRequest({ host, port, path: target, method, headers: { host: `localhost:${port}`, ...headers } });
    sent.on('response', (response) => {
      let text = '';
      response.on('data', (part: Buffer) => (text += part.toString()));
      response.on('end', () => done({ status: response.statusCode!, headers: response.headers, body: text }));
    });
    sent.on('error', fail);
    sent.end(body);
  });
}
interface Request {
  readonly method: string;
  readonly headers: OutgoingHttpHeaders;
  readonly body: string;
  readonly host: string;
}

const words = ({ body }: Answer): string => problemSchema.parse(JSON.parse(body)).detail;
const jobsHere = (): number => services.storage.jobs.list().length;
const newJob = { method: 'POST', body: '{"name":"Made"}', headers: { 'content-type': 'application/json' } };

it('listens on the addresses of this machine to itself only', async () => {
  expect(own.bound.map((b) => b.replace(/:\d+$/, ''))).toEqual(['127.0.0.1', '[::1]'].slice(0, own.bound.length));
  const others = Object.values(networkInterfaces()).flatMap((list) => (list ?? []).filter((a) => !a.internal));
  for (const { address, family } of others.filter((a) => a.family === 'IPv4')) {
    expect(family).toBe('IPv4');
    await expect(ask(own, '/api/jobs', { host: address })).rejects.toThrow('ECONNREFUSED');
  }
});

it('a port that is taken is named, and nothing is left bound', async () => {
  await expect(listen(own.port, null)).rejects.toThrow(`--port: port ${own.port} is in use. Accepted: a free port`);
  await expect(listen(0, '192.0.2.1')).rejects.toThrow('--host: 192.0.2.1 is no address of this machine');
});

it('until it is ready, everyone is told to wait', async () => {
  const listening = await listen(0, null);
  expect((await ask(listening, '/api/jobs')).status).toBe(503);
  listening.close();
});

it('answers under its own names, and under no other that leads here', async () => {
  for (const host of [`localhost:${own.port}`, `127.0.0.1:${own.port}`, `[::1]:${own.port}`, `LOCALHOST:${own.port}`])
    expect((await ask(own, '/api/jobs', { headers: { host } })).status).toBe(200);
  for (const host of ['evil.example', `evil.example:${own.port}`, 'localhost', `localhost:${own.port + 1}`]) {
    const answer = await ask(own, '/api/jobs', { headers: { host } });
    expect(answer.status).toBe(421);
    expect(words(answer)).toContain(`The host "${host}" is not this server’s. Accepted: localhost:${own.port}`);
  }
});

describe('pages of other sites', () => {
  const before = jobsHere;
  it.each([
    ['by its origin', { origin: 'http://evil.example' }],
    ['by an origin without a name', { origin: 'null' }],
    ['on another port of this machine', { origin: 'http://localhost:1', 'sec-fetch-site': 'same-site' }],
    ['by what the browser says of it', { 'sec-fetch-site': 'cross-site' }],
  ])('may not write: known %s', async (_, headers) => {
    const jobs = before();
    const answer = await ask(own, '/api/jobs', { ...newJob, headers: { ...newJob.headers, ...headers } });
    expect([answer.status, jobsHere()]).toEqual([403, jobs]);
    expect(words(answer)).toContain('Pages of other sites may not use this server');
  });

  it('may not send what browsers send unasked', async () => {
    for (const type of ['text/plain', 'application/x-www-form-urlencoded', '']) {
      const answer = await ask(own, '/api/jobs', { ...newJob, headers: type ? { 'content-type': type } : {} });
      expect(answer.status).toBe(415);
      expect(words(answer)).toContain('Accepted: application/json');
    }
  });

  it('may not read, nor start work by reading; a link may open the interface', async () => {
    const foreign = { headers: { 'sec-fetch-site': 'cross-site' } };
    expect((await ask(own, '/api/merges/x/report.json', foreign)).status).toBe(403);
    expect((await ask(own, '/iiif/p-x/full/max/0/default.jpg', foreign)).status).toBe(403);
    // There is no page in this test: not found is what an allowed request gets.
    expect((await ask(own, '/jobs', foreign)).status).toBe(404);
  });

  it('read tiles only where the start shares them, and nothing else', async () => {
    const foreign = { headers: { origin: 'http://viewer.example', 'sec-fetch-site': 'cross-site' } };
    const tile = await ask(shared, '/iiif/p-x/info.json', foreign);
    expect([tile.status, tile.headers['access-control-allow-origin']]).toEqual([404, '*']);
    expect((await ask(shared, '/api/jobs', foreign)).status).toBe(403);
    const closed = await ask(own, '/iiif/p-x/info.json');
    expect([closed.headers['access-control-allow-origin'], closed.headers['cross-origin-resource-policy']]).toEqual([
      undefined,
      'same-origin',
    ]);
  });

  it('its own pages and programs without a page may write', async () => {
    const jobs = jobsHere();
    const page = { origin: `http://localhost:${own.port}`, 'sec-fetch-site': 'same-origin' };
    expect((await ask(own, '/api/jobs', { ...newJob, headers: { ...newJob.headers, ...page } })).status).toBe(201);
    expect((await ask(own, '/api/jobs', newJob)).status).toBe(201);
    expect(jobsHere()).toBe(jobs + 2);
  });
});

describe('with a token', () => {
  it('nobody without it is answered', async () => {
    const none = await ask(guarded, '/api/jobs');
    expect(none.status).toBe(401);
    expect(words(none)).toContain('Accepted: the address that its start printed');
    expect((await ask(guarded, '/api/jobs?token=another-word')).status).toBe(401);
    expect((await ask(guarded, '/api/jobs', { headers: { authorization: 'Bearer nothing' } })).status).toBe(401);
  });

  it('the printed address gives a cookie that page scripts cannot read, and leaves the address', async () => {
    const first = await ask(guarded, `/jobs?token=${TOKEN}&x=1`);
    expect([first.status, first.headers.location]).toEqual([302, '/jobs?x=1']);
    const [cookie] = first.headers['set-cookie']!;
    expect(cookie).toMatch(/HttpOnly; SameSite=Strict/);
    const kept = cookie!.split(';')[0]!;
    expect((await ask(guarded, '/api/jobs', { headers: { cookie: `a=b; ${kept}` } })).status).toBe(200);
    expect((await ask(guarded, '/api/jobs', { headers: { authorization: `Bearer ${TOKEN}` } })).status).toBe(200);
  });
});
