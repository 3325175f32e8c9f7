// What clients do wrong is told in words of our own, as 4xx: what, which value, what is accepted.
import { connect } from 'node:net';
import request from 'supertest';
import { problemSchema } from '@blendrak/contract';
import { localServices, temporaryFolder } from '../testing/inProcess';
import { makeApp } from './makeApp';

const { path, clean } = temporaryFolder();
const services = localServices(path);
const app = makeApp(services, null, null);
const server = app.express.listen(0, '127.0.0.1');
const http = request(server);
beforeAll(() => new Promise((done) => (server.listening ? done(null) : server.once('listening', () => done(null)))));
afterAll(async () => {
  await app.queue.stop();
  server.close();
  await Promise.all([services.pool.close(), services.quick.close()]);
  services.storage.close();
  clean();
});

const words = ({ body }: { body: unknown }): string => problemSchema.parse(body).detail;
const LIBRARY = /Invalid input|expected .* received undefined|Unexpected token|ZodError|ENOENT|vips|Multipart:/;

function raw(text: string): Promise<string> {
  const { port } = server.address() as { port: number };
  return new Promise((done) => {
    const socket = connect(port, '127.0.0.1', () => socket.write(text));
    let answer = '';
    socket.on('data', (part) => (answer += part.toString()));
    socket.on('close', () => done(answer));
    setTimeout(() => socket.destroy(), 1500);
  });
}

it.each([
  ['no name', {}, 'name: received nothing. Accepted: a text.'],
  ['a name that is a number', { name: 7 }, 'name: received 7. Accepted: a text.'],
  ['an empty name', { name: '' }, 'name: received "". Accepted: a length of at least 1.'],
  ['a kind there is none of', { name: 'x', kind: 'collage' }, 'kind: received "collage"'],
  ['a field too many', { name: 'x', colour: 1 }, 'colour is not known here'],
  ['a list instead', [], 'the body: received []. Accepted: an object with named fields.'],
])('a job with %s', async (_, body, expected) => {
  const answer = await http.post('/api/jobs').send(body);
  expect(answer.status).toBe(400);
  expect(words(answer)).toContain(expected);
});

it.each([
  ['malformed JSON', 'application/json', '{"name": ', 400, 'The body is no valid JSON'],
  ['an unknown charset', 'application/json; charset=koi8-r', '{}', 415, 'Accepted: JSON in UTF-8'],
  ['too much', 'application/json', JSON.stringify({ name: 'x'.repeat(5e6) }), 413, 'JSON of up to 4 MB'],
  ['half a form', 'multipart/form-data; boundary=x', '--x\r\nContent-Disposition: form-data; name="file"', 400, 'form'],
  ['a form without boundary', 'multipart/form-data', 'x', 400, 'form'],
])('%s is the client’s mistake', async (_, type, body, status, expected) => {
  const { id } = (await http.post('/api/jobs').send({ name: 'Forms' })).body as { id: string };
  const answer = await http
    .post(type.startsWith('multi') ? `/api/jobs/${id}/files` : '/api/jobs')
    .set('Content-Type', type)
    .send(body);
  expect([answer.status, words(answer)]).toEqual([status, expect.stringContaining(expected)]);
  expect(words(answer)).not.toMatch(LIBRARY);
});

it('an address that encodes nothing, and names with zero bytes', async () => {
  expect(await raw('GET /api/jobs/%E0%A4%A HTTP/1.1\r\nHost: x\r\nConnection: close\r\n\r\n')).toMatch(
    /^HTTP\/1.1 400/,
  );
  const { id } = (await http.post('/api/jobs').send({ name: 'Zero' })).body as { id: string };
  const folder = await http.post(`/api/jobs/${id}/folder`).send({ path: '/tmp/a\0b' });
  expect(folder.status).toBeGreaterThanOrEqual(400);
  expect(folder.status).toBeLessThan(500);
  expect(words(folder)).not.toMatch(LIBRARY);
});

it.each([
  ['get', '/api/jobs/none', 404],
  ['get', '/api/nothing', 404],
  ['get', '/api/merges/none', 404],
  ['get', '/api/merges/none/operations', 404],
  ['get', '/api/merges/none/operations?since=x', 400],
  ['get', '/api/merges/none/findings', 404],
  ['post', '/api/merges/none/changes', 400],
  ['get', '/api/merges/none/probe', 400],
  ['get', '/api/news?since=-4', 400],
  ['get', '/iiif/none/full/max/0/default.jpg', 404],
  ['get', '/iiif/p-none/full/max/0/default.jpg', 404],
  ['post', '/api/jobs/work/none/cancel', 404],
  ['delete', '/api/jobs/none', 404],
] as const)('%s %s is refused in words of our own', async (method, target, status) => {
  const answer = await http[method](target);
  expect(answer.status).toBe(status);
  expect(words(answer)).not.toMatch(LIBRARY);
  expect(words(answer)).toMatch(/[.]$/);
});
