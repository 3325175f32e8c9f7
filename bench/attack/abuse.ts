// The interface abused: requests of every wrong form. Each is the client's mistake, none the server's.
import { connect } from 'node:net';
import { makeClient, type Client } from './client';
import type { Row } from './table';

const PLACES = [
  '/api/jobs',
  '/api/jobs/x',
  '/api/jobs/x/files',
  '/api/jobs/x/folder',
  '/api/jobs/x/process',
  '/api/jobs/x/plan',
  '/api/jobs/x/focus-step',
  '/api/jobs/x/merge-frames',
  '/api/jobs/work/x/cancel',
  '/api/cards',
  '/api/cards/x/sort',
  '/api/cards/x/sorting',
  '/api/merges/x',
  '/api/merges/x/operations',
  '/api/merges/x/findings',
  '/api/merges/x/changes',
  '/api/merges/x/probe?x=NaN&y=1e999',
  '/api/exports/x',
  '/api/merges/x/masks/-1.png',
  '/api/findings/x',
  '/api/camera/shoot',
  '/api/plans',
  '/api/plans/x',
  '/api/kit',
  '/api/test-frame',
  '/api/news?since=x',
  '/iiif/p-x/full/max/0/default.jpg',
  '/iiif/r-x/0,0,0,0/max/0/default.jpg',
  '/iiif/%00/info.json',
  '/api/%E0%A4%A',
  '/api/jobs/..%2f..%2fetc',
];
const METHODS = ['GET', 'POST', 'PUT', 'PATCH', 'DELETE'];
const BODIES: readonly (readonly [type: string, body: string])[] = [
  ['application/json', '{'],
  ['application/json', 'null'],
  ['application/json', '[]'],
  ['application/json', '{"name":null,"path":7,"id":{},"change":[]}'],
  ['application/json', `{"name":"${'x'.repeat(3000)}"}`],
  ['application/json', '{"__proto__":{"name":"x"}}'],
  ['application/json', `${'['.repeat(50_000)}`],
  ['application/json; charset=latin9', '{}'],
  ['application/json', `{"path":"a\\u0000b"}`],
  ['text/plain', 'hello'],
  ['multipart/form-data', 'x'],
  [
    'multipart/form-data; boundary=b',
    '--b\r\nContent-Disposition: form-data; name="file"; filename="\u0000.jpg"\r\n\r\nx\r\n--b--',
  ],
  ['application/x-www-form-urlencoded', 'name=x'],
];

export async function attackByRequests(client: Client, count: number, random: () => number): Promise<Row[]> {
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!;
  const wrong: string[] = [];
  for (let k = 0; k < count; k++) {
    const [place, method] = [pick(PLACES), pick(METHODS)];
    const [type, body] = pick(BODIES);
    const init = method === 'GET' ? { method } : { method, body, headers: { 'content-type': type } };
    const answer = await fetch(client.url + place, init);
    const text = await answer.text();
    if (answer.status >= 500 || (answer.status >= 400 && !text.includes('"detail"')))
      wrong.push(`${method} ${place} ${type}: ${answer.status} ${text.slice(0, 120)}`);
  }
  for (const line of ['GET / HTTP/9.9', 'NONSENSE', `GET /${'x'.repeat(90_000)} HTTP/1.1`, '\0\0\0\0'])
    await rawRequest(client.url, `${line}\r\nHost: x\r\n\r\n`);
  const alive = await makeClient(client.url)
    .get('/api/jobs')
    .then(
      () => true,
      () => false,
    );
  return [
    {
      what: `${count} requests of wrong form`,
      result: `${wrong.length} answered as the server’s fault ${wrong[0] ?? ''}`,
      good: wrong.length === 0,
    },
    { what: 'the server after requests that are no HTTP', result: alive ? 'answers' : 'is gone', good: alive },
  ];
}

function rawRequest(url: string, text: string): Promise<void> {
  const { hostname, port } = new URL(url);
  return new Promise((done) => {
    const socket = connect(Number(port), hostname, () => socket.end(text));
    socket.on('error', () => done());
    socket.on('close', () => done());
    socket.resume();
    setTimeout(() => socket.destroy(), 2000).unref();
  });
}
