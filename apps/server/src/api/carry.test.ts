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
  const ask = (change: Parameters<typeof asking>[0]) =>
    http.post(`/api/merges/${mergeId}/changes`).send(asking(change));
  expect((await merge(mergeId)).carried).toBeNull();
  // The patch is mended from the second frame, a dab of the first is switched off, one of the fourth will miss its frame.
  const patch = asking({ kind: 'add', operation: paintStroke(1, [[180, 168], [260, 168]], { sizePx: 130, hardness: 1 }) }); // prettier-ignore
  const [off, gone] = [0, 3].map((donor) =>
    asking({ kind: 'add', operation: paintStroke(donor, [[50, 50]], { sizePx: 20 }) }),
  ) as [typeof patch, typeof patch];
  for (const change of [patch, off, gone]) await http.post(`/api/merges/${mergeId}/changes`).send(change);
  const mask = { growPx: 3, softenPx: 2, strength: 1, insideOut: null, snapped: null };
  await ask({ kind: 'patch', operationId: patch.id, patch: { name: 'rim of the plate', mask } });
  await ask({ kind: 'patch', operationId: off.id, patch: { enabled: false } });

  const last = (await job()).pictures.findLast((p) => p.role === 'frame')!;
  await http.delete(`/api/jobs/${jobId}/pictures/${last.id}`);
  const second = await again();
  const carried = await operations(second);
  expect(carried.map(({ donor, name, enabled, mask: m }) => ({ donor, name, enabled, mask: m }))).toEqual([
    { donor: 1, name: 'rim of the plate', enabled: true, mask },
    { donor: 0, name: '', enabled: false, mask: null },
  ]);
  expect((await merge(second)).carried).toEqual({
    taken: 2,
    left: [{ words: 'A stroke with frame4.png', why: 'frame4.png is no longer among the frames' }],
  });
  const open = async () => (await job()).summary.openFindings;
  await until(open, (n) => n === 0);
  // Nothing is lost: what was left is on the merge before.
  expect(opened.services.storage.operations.listByMerge(mergeId).length).toBe(3);
});
