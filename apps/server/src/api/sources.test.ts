// Another merge of the set, made to be painted with, over HTTP: on the merge's own grid, in its tone, by a number after the frames.
import { existsSync } from 'node:fs';
import sharp from 'sharp';
import { z } from 'zod';
import {
  findingChangesSchema,
  mergeSourceSchema,
  operationChangesSchema,
  problemSchema,
  workSchema,
} from '@blendrak/contract';
import { asking, paintStroke } from '../testing/paint';
import { openSoftPatchJob } from '../testing/softPatchJob';
import { until } from '../testing/until';

let opened: Awaited<ReturnType<typeof openSoftPatchJob>>;
beforeAll(async () => {
  opened = await openSoftPatchJob();
});
afterAll(() => opened.close());

const sources = async () =>
  z.array(mergeSourceSchema).parse((await opened.http.get(`/api/merges/${opened.mergeId}/sources`)).body);
const detailOf = async (answer: PromiseLike<{ status: number; body: unknown }>): Promise<[number, string]> => {
  const { status, body } = await answer;
  return [status, problemSchema.parse(body).detail];
};
const make = (method: string) => opened.http.post(`/api/merges/${opened.mergeId}/sources`).send({ method });

/** Mean difference of two pictures of the merge's tiles over a region, levels. */
async function apart(a: string, b: string, region: string): Promise<number> {
  const read = async (id: string): Promise<Buffer> =>
    sharp((await opened.http.get(`/iiif/${id}/${region}/max/0/default.png`)).body as Buffer)
      .raw()
      .toBuffer();
  const [p, q] = [await read(a), await read(b)];
  return p.reduce((sum, v, i) => sum + Math.abs(v - q[i]!), 0) / p.length;
}

it('is made once, refused by name where it cannot be, and painted with like a frame', async () => {
  const { http, job, mergeId } = opened;
  expect(await sources()).toEqual([]);
  expect(await detailOf(make('fusion'))).toEqual([
    400,
    'method: fusion makes no other merge of this focus stack. Accepted: labels, bands, reference.',
  ]);
  // There is nothing beyond the frames yet.
  const ahead = asking({ kind: 'add', operation: paintStroke(4, [[220, 168]], { sizePx: 20 }) });
  expect((await detailOf(http.post(`/api/merges/${mergeId}/changes`).send(ahead)))[0]).toBe(400);
  const work = workSchema.parse((await make('labels')).body);
  await until(job, (j) => j.work.some((w) => w.id === work.id && w.status === 'done'));
  const [made, ...others] = await sources();
  expect([made, others]).toMatchObject([{ method: 'labels', name: 'own merge, sharpest frame' }, []]);
  expect(await detailOf(make('labels'))).toEqual([
    409,
    'method: own merge, sharpest frame is there already, after the frames.',
  ]);
  // It lies on the merge as it came, but for the soft patch.
  const [source, merge] = [`f-${mergeId}-4`, `m-${mergeId}`];
  expect(await apart(source, merge, '300,20,160,90')).toBeLessThan(1.5);
  expect(await apart(source, merge, '180,130,80,70')).toBeGreaterThan(4);

  // Painted in over the patch it closes the finding, and says what it was done with.
  const stroke = paintStroke(4, [[190, 168], [250, 168]], { sizePx: 150, hardness: 1 }); // prettier-ignore
  await http.post(`/api/merges/${mergeId}/changes`).send(asking({ kind: 'add', operation: stroke }));
  expect(await apart(`r-${mergeId}`, source, '180,130,80,70')).toBeLessThan(0.6);
  const findings = async () => findingChangesSchema.parse((await http.get(`/api/merges/${mergeId}/findings`)).body);
  await until(findings, (f) => f.changed[0]!.decision === 'repaired');
  const report = (await http.get(`/api/merges/${mergeId}/report.json`)).body as { repairs: unknown[] };
  expect(report.repairs).toMatchObject([
    { words: 'A stroke with own merge, sharpest frame', donor: 'own merge, sharpest frame' },
  ]);
  expect((await http.get(`/api/merges/${mergeId}/masks/4.png`)).status).toBe(200);
  const strip = await http.get(`/api/merges/${mergeId}/probe?x=220&y=168&size=72`);
  expect(strip.body).toMatchObject({ patchCount: 5 });
  expect((strip.body as { frames: unknown[] }).frames).toHaveLength(4);
});

it('stays with its merge: the next one says what it does not carry over, and the files go with the job', async () => {
  const { http, job, jobId, mergeId, services } = opened;
  const [{ id }] = (await sources()) as [z.infer<typeof mergeSourceSchema>];
  const tiles = services.storage.folder.tiles(id);
  expect(existsSync(tiles)).toBe(true);
  await http.post(`/api/jobs/${jobId}/process`).send({});
  const { summary } = await until(job, (j) => j.summary.mergeId !== mergeId);
  const next = (await http.get(`/api/merges/${summary.mergeId}`)).body as { carried: unknown };
  expect(next.carried).toEqual({
    taken: 0,
    left: [
      {
        words: 'A stroke with own merge, sharpest frame',
        why: 'it paints with another merge of the frames as they lay before',
      },
    ],
  });
  expect(operationChangesSchema.parse((await http.get(`/api/merges/${mergeId}/operations`)).body).changed).toHaveLength(
    1,
  );
  await http.delete(`/api/jobs/${jobId}`);
  expect([existsSync(tiles), services.storage.sources.ids()]).toEqual([false, []]);
});
