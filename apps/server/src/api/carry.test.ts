// A job that is merged again, over HTTP: its repairs come along, those whose frame is gone say so.
import { mergeSchema, operationChangesSchema, type Merge, type Operation } from '@blendrak/contract';
import { asking, paintStroke } from '../testing/paint';
import { openSoftPatchJob } from '../testing/softPatchJob';
import { until } from '../testing/until';

let opened: Awaited<ReturnType<typeof openSoftPatchJob>>;
beforeAll(async () => {
  opened = await openSoftPatchJob();
});
afterAll(() => opened.close());

const merge = async (id: string): Promise<Merge> =>
  mergeSchema.parse((await opened.http.get(`/api/merges/${id}`)).body);
const operations = async (id: string): Promise<Operation[]> =>
  operationChangesSchema.parse((await opened.http.get(`/api/merges/${id}/operations`)).body).changed;

/** Processes the job again; the new merge's id. */
async function again(): Promise<string> {
  const { http, jobId, job } = opened;
  const before = (await job()).summary.mergeId;
  await http.post(`/api/jobs/${jobId}/process`).send({});
  const { summary } = await until(job, (j) => j.summary.mergeId !== before);
  return summary.mergeId!;
}

it('repairs come along with name, mask and order, close what they closed, and say what could not', async () => {
  const { http, jobId, mergeId, job } = opened;
  const ask = (change: Parameters<typeof asking>[0], id = mergeId) =>
    http.post(`/api/merges/${id}/changes`).send(asking(change));
  expect((await merge(mergeId)).carried).toBeNull();
  // The patch is mended from the second frame, and a dab of the fourth is switched off.
  const patch = asking({ kind: 'add', operation: paintStroke(1, [[180, 168], [260, 168]], { sizePx: 130, hardness: 1 }) }); // prettier-ignore
  const dab = asking({ kind: 'add', operation: paintStroke(3, [[50, 50]], { sizePx: 20 }) });
  for (const change of [patch, dab]) await http.post(`/api/merges/${mergeId}/changes`).send(change);
  const mask = { growPx: 3, softenPx: 2, strength: 1, insideOut: null, snapped: null };
  await ask({ kind: 'patch', operationId: patch.id, patch: { name: 'rim of the plate', mask } });
  await ask({ kind: 'patch', operationId: dab.id, patch: { enabled: false } });

  const second = await again();
  const carried = await operations(second);
  expect(carried.map(({ donor, name, enabled, mask: m }) => ({ donor, name, enabled, mask: m }))).toEqual([
    { donor: 1, name: 'rim of the plate', enabled: true, mask },
    { donor: 3, name: '', enabled: false, mask: null },
  ]);
  expect((await merge(second)).carried).toEqual({ taken: 2, left: [] });
  const open = async () => (await job()).summary.openFindings;
  await until(open, (n) => n === 0);

  const last = (await job()).pictures.findLast((p) => p.role === 'frame')!;
  await http.delete(`/api/jobs/${jobId}/pictures/${last.id}`);
  const third = await again();
  expect((await operations(third)).map((o) => o.name)).toEqual(['rim of the plate']);
  expect((await merge(third)).carried).toEqual({
    taken: 1,
    left: [{ words: 'A stroke with frame4.png', why: 'frame4.png is no longer among the frames' }],
  });
  // Nothing is lost: what was left is on the merge before.
  expect(opened.services.storage.operations.listByMerge(second).length).toBe(2);
});
