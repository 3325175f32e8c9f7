// Looking again at findings after strokes: what people decide while it goes on stands.
import { FULL_SIZE } from '@blendrak/core/cells';
import { join } from 'node:path';
import type { Services } from '../context';
import { localServices, temporaryFolder } from '../../testing/inProcess';
import { plainFinding, recordMerge } from '../../testing/plainMerge';
import { adding, paintStroke } from '../../testing/paint';
import { makeOperationsService } from './operations';

const { path, clean } = temporaryFolder();
const services = localServices(join(path, 'data'));
afterAll(async () => {
  await Promise.all([services.pool.close(), services.quick.close()]);
  services.storage.close();
  clean();
});

const STROKE = paintStroke(0, [[40, 40]], { sizePx: 60, hardness: 1 });

/** Services whose inspection of a place finds nothing left, and does something meanwhile. */
function looking(meanwhile: () => void): Services {
  const run = ((name: string) => {
    meanwhile();
    return name === 'recheck' ? Promise.resolve([]) : Promise.reject(new Error(name));
  }) as Services['quick']['run'];
  return { ...services, quick: { ...services.quick, run } };
}

async function paintedOver(mergeId: string, meanwhile: (findingId: string) => void): Promise<string> {
  const { storage } = services;
  recordMerge(services, mergeId, 3, 1024, {
    grain: null,
    inside: null,
    working: FULL_SIZE,
    surveys: {},
    yardsticks: {},
  });
  const finding = plainFinding(mergeId, `finding of ${mergeId}`);
  storage.findings.insert(finding, 0);
  const repair = makeOperationsService(looking(() => meanwhile(finding.id)));
  repair.change(mergeId, adding(`stroke of ${mergeId}`, STROKE));
  await repair.settled();
  return finding.id;
}

it('a finding of which nothing is left counts as repaired', async () => {
  const id = await paintedOver('gone', () => undefined);
  expect(services.storage.findings.find(id)).toMatchObject({ decision: 'repaired' });
});

it('a decision that came while it was looked at stands, with its reason', async () => {
  const id = await paintedOver('decided', (finding) =>
    services.storage.findings.decide(finding, 'accepted', 'meant to be soft', 1),
  );
  expect(services.storage.findings.find(id)).toMatchObject({ decision: 'accepted', reason: 'meant to be soft' });
});
