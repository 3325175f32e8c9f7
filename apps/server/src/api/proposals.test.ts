// Proposed repairs over HTTP: worked out, seen, kept, taken back and refused.
import { z } from 'zod';
import {
  findingChangesSchema,
  operationChangesSchema,
  problemSchema,
  proposalSchema,
  workSchema,
  type Finding,
  type Operation,
  type Proposal,
} from '@blendrak/contract';
import { placeOperation, tileState } from '@blendrak/core/repair';
import { asking } from '../testing/paint';
import { openSoftPatchJob } from '../testing/softPatchJob';
import { until } from '../testing/until';

let opened: Awaited<ReturnType<typeof openSoftPatchJob>>;
beforeAll(async () => {
  opened = await openSoftPatchJob();
});
afterAll(() => opened.close());

it('repairs are worked out, seen before they are kept, taken back, and refused', async () => {
  const { http, job, mergeId: id } = opened;
  const current = async (): Promise<{ findings: Finding[] }> => ({
    findings: findingChangesSchema.parse((await http.get(`/api/merges/${id}/findings`)).body).changed,
  });
  const operationsOf = async (merge: string): Promise<Operation[]> =>
    operationChangesSchema.parse((await http.get(`/api/merges/${merge}/operations`)).body).changed;
  const tile = async (name: string): Promise<Buffer> =>
    (await http.get(`/iiif/${name}/160,120,120,96/max/0/default.png`)).body as Buffer;
  const { findings } = await current();
  const [finding] = findings;
  const proposals = async (): Promise<Proposal[]> =>
    z.array(proposalSchema).parse((await http.get(`/api/merges/${id}/proposals`)).body);
  const nothing = await http.post(`/api/merges/${id}/mend`).send({ findingId: 'elsewhere' });
  expect([nothing.status, problemSchema.parse(nothing.body).detail]).toEqual([
    409,
    'findingId: elsewhere is no open finding of this merge that a frame can repair.',
  ]);
  const work = workSchema.parse((await http.post(`/api/merges/${id}/mend`).send({ findingId: finding!.id })).body);
  await until(job, (j) => j.work.some((w) => w.id === work.id && w.status === 'done'));
  const [proposal, ...others] = await proposals();
  expect([proposal, others]).toMatchObject([{ findingId: finding!.id, closes: true, state: 'waiting' }, []]);
  // Nothing is changed by looking at it.
  const part = { x: 160, y: 120, width: 120, height: 96 };
  const placed = placeOperation({ id: proposal!.id, ...proposal!.operation! });
  const seen = `/iiif/r-${id}/160,120,120,96/max/0/default.png?v=${tileState([placed], part, 120)}`;
  const plain = await tile(`r-${id}`);
  const foreseen = await http.get(seen);
  expect([foreseen.status, (foreseen.body as Buffer).equals(plain)]).toEqual([200, false]);
  const kept = await http.post(`/api/merges/${id}/proposals`).send({ keep: [proposal!.id] });
  expect(operationChangesSchema.parse(kept.body).changed).toMatchObject([proposal!.operation]);
  expect((await tile(`r-${id}`)).equals(foreseen.body as Buffer)).toBe(true);
  await until(current, (m) => m.findings[0]!.decision === 'repaired');
  expect(await proposals()).toMatchObject([{ state: 'kept' }]);
  await http.post(`/api/merges/${id}/proposals`).send({ keep: [proposal!.id] });
  expect(await operationsOf(id)).toHaveLength(1);
  await http.post(`/api/merges/${id}/changes`).send(asking({ kind: 'undo' }));
  await until(current, (m) => m.findings[0]!.decision === 'open');
  expect(await proposals()).toMatchObject([{ state: 'waiting' }]);
  await http.post(`/api/merges/${id}/proposals`).send({ refuse: [proposal!.id] });
  expect(await proposals()).toMatchObject([{ state: 'refused' }]);
  const unknown = await http.post(`/api/merges/${id}/proposals`).send({ keep: ['elsewhere'] });
  expect([unknown.status, problemSchema.parse(unknown.body).detail]).toEqual([
    404,
    'This merge has no proposal elsewhere (any more): it may have been worked out anew.',
  ]);
});

it('a thing that was drawn around roughly comes from one frame, in a mask that fits; where nothing differs none is made', async () => {
  const { http, mergeId: id } = opened;
  const fits = (donor: number) =>
    http.post(`/api/merges/${id}/by-hand`).send({ kind: 'fit', donor, polygon: [[136, 96], [310, 92], [304, 240], [130, 244]] }); // prettier-ignore
  const count = async (): Promise<number> =>
    operationChangesSchema.parse((await http.get(`/api/merges/${id}/operations`)).body).changed.length;
  const before = await count();
  const made = operationChangesSchema.parse((await fits(1)).body).changed.at(-1)!;
  if (made.shape.kind !== 'outline') throw new Error('expected an outline');
  const [xs, ys] = [made.shape.points.map(([x]) => x), made.shape.points.map(([, y]) => y)];
  const box = [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
  // The patch is soft from (160, 120) to (280, 216); comparing smooths over a cell or two.
  expect(box.map((v, k) => Math.abs(v - [160, 120, 280, 216][k]!) <= 10)).toEqual([true, true, true, true]);
  expect([made.donor, await count()]).toEqual([1, before + 1]);
  const again = await fits(1);
  expect([again.status, problemSchema.parse(again.body).detail]).toEqual([
    409,
    'frame2.png shows nothing else there than the merge. Accepted: an outline around what differs.',
  ]);
  const nobody = await fits(9);
  expect([nobody.status, problemSchema.parse(nobody.body).detail]).toEqual([
    400,
    'donor: this merge has frames 0 to 3, received 9.',
  ]);
  expect(await count()).toBe(before + 1);
});

describe('a merge that is mended at once', () => {
  const mended = async () => {
    const { http, job, jobId } = opened;
    const before = (await job()).summary.mergeId;
    const works = (await job()).work.length;
    await http.post(`/api/jobs/${jobId}/process`).send({ mend: true });
    const { summary } = await until(job, (j) => j.summary.mergeId !== before);
    const id = summary.mergeId!;
    await until(job, (j) => j.work.length > works + 1 && j.work.every((w) => w.status === 'done'));
    const read = async () => ({
      findings: findingChangesSchema.parse((await http.get(`/api/merges/${id}/findings`)).body).changed,
      operations: operationChangesSchema.parse((await http.get(`/api/merges/${id}/operations`)).body).changed,
      proposals: z.array(proposalSchema).parse((await http.get(`/api/merges/${id}/proposals`)).body),
    });
    return until(read, (r) => r.findings[0]?.decision === 'repaired');
  };

  it('has its repair kept, and says so', async () => {
    const { http, mergeId } = opened;
    // What was done on the merge before would come along.
    const known = operationChangesSchema.parse((await http.get(`/api/merges/${mergeId}/operations`)).body).changed;
    for (const { id } of known)
      await http.post(`/api/merges/${mergeId}/changes`).send(asking({ kind: 'remove', operationId: id }));
    const { findings, operations, proposals } = await mended();
    expect([findings.length, operations.length]).toEqual([1, 1]);
    expect(proposals).toMatchObject([{ findingId: findings[0]!.id, closes: true, state: 'kept' }]);
  });

  it('is not mended twice where a repair that came along closes it', async () => {
    const { operations, proposals } = await mended();
    expect(operations.length).toBe(1);
    expect(proposals.filter((p) => p.operation)).toEqual([]);
  });
});
