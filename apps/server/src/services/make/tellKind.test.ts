// What kind of set a job's frames are: said by somebody, or told from them.
import { basename, join } from 'node:path';
import { shootingRange } from '../../testing/shotSets';
import { localServices } from '../../testing/inProcess';
import { newId, type Services } from '../context';
import { changeJob, createJob, openJob } from '../jobsService';
import { tellKind } from './tellKind';

const range = shootingRange();
let services: Services;
let frames: { readonly path: string; readonly name: string }[];
beforeAll(async () => {
  services = localServices(join(range.root, 'data'));
  const { files } = await range.shoot('cove', 3, {}, 480);
  frames = files.map(({ path }) => ({ path, name: basename(path) }));
});
afterAll(async () => {
  await Promise.all([services.pool.close(), services.quick.close()]);
  services.storage.close();
});

const summary = (id: string) => openJob(services, id).summary;
const tell = (id: string) => tellKind(services, id, frames, () => undefined, new AbortController().signal);

it('is told from the frames where nobody said it, and kept', async () => {
  const { id, isKindOpen } = createJob(services, 'From a client');
  expect(isKindOpen).toBe(true);
  expect(await tell(id)).toBe('panorama');
  expect(summary(id)).toMatchObject({ kind: 'panorama', isKindOpen: false });
});

it('is what somebody said, whatever the frames look like, until it is left to them again', async () => {
  const { id } = createJob(services, 'Said');
  changeJob(services, id, { kind: 'bracket' });
  expect(await tell(id)).toBe('bracket');
  changeJob(services, id, { kind: 'auto' });
  expect(summary(id).isKindOpen).toBe(true);
  expect(await tell(id)).toBe('panorama');
  expect(createJob(services, 'Known', 'focus-stack').isKindOpen).toBe(false);
});

it('is not changed while the job is being processed', () => {
  const { id } = createJob(services, 'Busy');
  services.storage.work.insert(newId(), id, 'process', {});
  expect(() => changeJob(services, id, { kind: 'bracket' })).toThrow(/being processed/);
  expect(summary(id).isKindOpen).toBe(true);
});
