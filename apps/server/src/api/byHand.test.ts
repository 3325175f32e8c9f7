// What is drawn or brought by hand, over HTTP: lines pulled straight, tones evened, masks and repairs that come from elsewhere.
import sharp from 'sharp';
import {
  operationChangesSchema,
  pinSchema,
  problemSchema,
  type HandOrder,
  type Operation,
  type OperationMaskRecord,
} from '@blendrak/contract';
import { asking } from '../testing/paint';
import { openAlteredJob } from '../testing/softPatchJob';
import { until } from '../testing/until';

/** A dark cable over the merge that steps by 4 px in its middle. */
const [CABLE_Y, STEP_AT, STEP] = [40, 240, 4];
/** A corner of the merge is lighter than the frames have it. */
const LIFTED = { right: 150, top: 230, by: 0.08 };

let opened: Awaited<ReturnType<typeof openAlteredJob>>;
beforeAll(async () => {
  opened = await openAlteredJob((merge) => ({
    ...merge,
    data: merge.data.map((v, i) => {
      const [x, y] = [(i % merge.width) + 0.5, Math.floor(i / merge.width) + 0.5];
      const away = y - CABLE_Y - (x > STEP_AT ? STEP : 0);
      const lift = x < LIFTED.right && y > LIFTED.top ? LIFTED.by : 0;
      return v + lift + (0.02 - v) * Math.exp(-(away ** 4) / 30);
    }),
  }));
});
afterAll(() => opened.close());

const order = (body: object) => opened.http.post(`/api/merges/${opened.mergeId}/by-hand`).send(body);
const operations = async (): Promise<Operation[]> =>
  operationChangesSchema.parse((await opened.http.get(`/api/merges/${opened.mergeId}/operations`)).body).changed;
const undo = () => opened.http.post(`/api/merges/${opened.mergeId}/changes`).send(asking({ kind: 'undo' }));
const refusal = ({ status, body }: { status: number; body: unknown }) => [status, problemSchema.parse(body).detail];

it('a broken cable is pulled straight, as the line probe sees it; one that is straight is left', async () => {
  const segment = { from: [60, CABLE_Y] as [number, number], to: [420, CABLE_Y + STEP] as [number, number] };
  const probe = async () => {
    const answer = await opened.http.post(`/api/merges/${opened.mergeId}/pins`).send({ kind: 'line', ...segment });
    const { reading } = pinSchema.parse(answer.body);
    return reading.kind === 'line' ? reading.breaks.filter((b) => b.isBroken) : [];
  };
  const [broken] = await probe();
  expect(Math.abs(Math.abs(broken!.merge.offsetPx) - STEP)).toBeLessThan(0.5);
  const asked: HandOrder = { kind: 'straighten', ...segment, reachPx: 20 };
  const made = operationChangesSchema.parse((await order(asked)).body).changed.at(-1)!;
  const farthest = Math.max(...made.pull!.knots.map(([, , dx, dy]) => Math.hypot(dx, dy)));
  expect([made.donor, farthest > 1.5 && farthest < 2.6]).toEqual([null, true]);
  expect(await probe()).toEqual([]);
  // It is seen, too: right of the step the cable lies higher than before.
  const darkest = async (picture: string): Promise<number> => {
    const answer = await opened.http.get(`/iiif/${picture}/250,30,1,30/max/0/default.png`).responseType('blob');
    const column = await sharp(answer.body as Buffer)
      .toColourspace('b-w')
      .raw()
      .toBuffer();
    return column.indexOf(Math.min(...column));
  };
  const [before, after] = [await darkest(`m-${opened.mergeId}`), await darkest(`r-${opened.mergeId}`)];
  expect(before - after).toBeGreaterThanOrEqual(1);
  expect(refusal(await order(asked))).toEqual([
    409,
    'This line is straight already, or hangs as the frames have it, to half a px. Accepted: one that breaks, bends or steps.',
  ]);
  expect(refusal(await order({ ...asked, to: [900, 40] }))[0]).toBe(400);
  await undo();
});

it('a stroke with a frame comes in as what lies around it has its tone', async () => {
  const points: [number, number][] = [[60, 300], [90, 300]]; // prettier-ignore
  const shape = { kind: 'stroke' as const, points, sizePx: 40, hardness: 1, strength: 1 };
  const meanOf = async (picture: string): Promise<number> => {
    const answer = await opened.http.get(`/iiif/${picture}/55,290,40,20/max/0/default.png`);
    return (await sharp(answer.body as Buffer).stats()).channels[1]!.mean;
  };
  const id = opened.mergeId;
  const [merge, frame] = [await meanOf(`m-${id}`), await meanOf(`f-${id}-1`)];
  expect(merge - frame).toBeGreaterThan(12);
  const made = operationChangesSchema.parse((await order({ kind: 'match', donor: 1, shape })).body).changed.at(-1)!;
  expect(made).toMatchObject({ donor: 1, shape });
  expect(Math.abs((await meanOf(`r-${id}`)) - merge)).toBeLessThan(2);
  await undo();
  const beyond = { ...shape, points: [[4000, 300]] };
  expect(refusal(await order({ kind: 'match', donor: 1, shape: beyond }))).toEqual([
    409,
    'frame2.png shows nothing around the stroke to match its tone to. Accepted: a stroke with a rim that the frame covers.',
  ]);
});

it('the tone of a place is evened by a frame, without painting it in', async () => {
  const polygon: [number, number][] = [[300, 250], [400, 250], [400, 330], [300, 330]]; // prettier-ignore
  const made = operationChangesSchema.parse((await order({ kind: 'even', donor: 1, polygon })).body).changed.at(-1)!;
  // Merge and frame are alike there: there is nothing to add.
  expect([made.donor, Math.max(...made.tone!.values.map(Math.abs)) < 0.01]).toEqual([null, true]);
  await undo();
  expect(refusal(await order({ kind: 'even', donor: 9, polygon }))).toEqual([
    400,
    'donor: this merge has frames 0 to 3, received 9.',
  ]);
});

it('an order that is sent twice under its name, at once or later, is carried out once', async () => {
  const polygon: [number, number][] = [[300, 250], [400, 250], [400, 330], [300, 330]]; // prettier-ignore
  const path = `/api/merges/${opened.mergeId}/by-hand?id=evened-by-hand`;
  const send = () => opened.http.post(path).send({ kind: 'even', donor: 1, polygon });
  const count = (): number => opened.services.storage.operations.listByMerge(opened.mergeId).length;
  const before = count();
  const answers = [...(await Promise.all([send(), send()])), await send()];
  expect([answers.map(({ status }) => status), count() - before]).toEqual([[201, 201, 201], 1]);
  expect(refusal(await opened.http.post(`${path.slice(0, -12)}x`).send({ kind: 'even', donor: 1, polygon }))[0]).toBe(
    400,
  );
  await undo();
});

it('a pull is of the picture as it is: with a donor it is refused', async () => {
  const shape = {
    kind: 'stroke' as const,
    points: [[50, 50] as [number, number]],
    sizePx: 40,
    hardness: 1,
    strength: 1,
  };
  const pull = { knots: [[50, 50, 2, 0] as [number, number, number, number]], reachPx: 20 };
  const change = { kind: 'add' as const, operation: { kind: 'paint' as const, donor: 1, shape, pull } };
  const answer = await opened.http.post(`/api/merges/${opened.mergeId}/changes`).send(asking(change));
  expect(refusal(answer)).toEqual([
    400,
    'change.operation.pull: what is pulled is the picture as it is. Accepted: donor null, without shift or tone.',
  ]);
});

it('what could not be rendered is refused before it is kept: a fold, a pull beyond its mask, a mask that cannot be read', async () => {
  const before = (await operations()).length;
  const stroke = (sizePx: number) => ({ kind: 'stroke' as const, points: [[50, 50] as [number, number]], sizePx, hardness: 1, strength: 1 }); // prettier-ignore
  const pull = (dx: number) => ({ knots: [[50, 50, dx, 0] as [number, number, number, number]], reachPx: 20 });
  const box = { x: 0, y: 0, width: 40, height: 40 };
  const mask = { kind: 'picture' as const, box, columns: 4, rows: 4, packed: 'AAAA', strength: 1 };
  for (const [operation, words] of [
    [{ donor: null, shape: stroke(40), pull: pull(15) }, /pull.knots: .*7.0 px at most within a reach of 20 px/],
    [{ donor: null, shape: stroke(10), pull: pull(3) }, /operation.shape: .*a mask over all that the pull reaches/],
    [{ donor: 1, shape: mask }, /mask.packed: .*zlib in base 64/],
  ] as const) {
    const change = { kind: 'add' as const, operation: { kind: 'paint' as const, ...operation } };
    const answer = await opened.http.post(`/api/merges/${opened.mergeId}/changes`).send(asking(change));
    expect(refusal(answer)).toEqual([400, expect.stringMatching(words)]);
  }
  expect((await operations()).length).toBe(before);
});

describe('a mask that is changed after it was drawn', () => {
  const change = (body: object) => opened.http.post(`/api/merges/${opened.mergeId}/changes`).send(body);
  const plain = { growPx: 0, softenPx: 0, strength: 1, insideOut: null, snapped: null };
  const tile = async (): Promise<Buffer> => {
    const answer = await opened.http
      .get(`/iiif/r-${opened.mergeId}/140,100,160,140/max/0/default.png`)
      .responseType('blob');
    return sharp(answer.body as Buffer)
      .raw()
      .toBuffer();
  };
  const brushed = (points: [number, number][], sizePx: number) =>
    ({ kind: 'paint', donor: 1, shape: { kind: 'stroke', points, sizePx, hardness: 1, strength: 1 } }) as const;

  it('shows what a larger brush shows, is taken back, made again, and refused where it cannot be', async () => {
    const before = await tile();
    const small = asking({ kind: 'add', operation: brushed([[220, 170]], 40) });
    await change(small);
    const painted = await tile();
    const patch = (mask: OperationMaskRecord | null) =>
      change(asking({ kind: 'patch', operationId: small.id, patch: { mask } }));
    expect((await patch({ ...plain, growPx: 20 })).status).toBe(201);
    const grown = await tile();
    await undo();
    expect((await tile()).equals(painted)).toBe(true);
    await change(asking({ kind: 'redo' }));
    expect((await tile()).equals(grown)).toBe(true);
    const large = asking({ kind: 'add', operation: brushed([[220, 170]], 80) });
    await change(asking({ kind: 'remove', operationId: small.id }));
    await change(large);
    const wide = await tile();
    const apart = (a: Buffer, b: Buffer): number => a.reduce((sum, v, i) => sum + Number(Math.abs(v - b[i]!) > 8), 0);
    // Alike but for the rim, of which a disc of whole px knows no shares.
    expect(apart(painted, grown)).toBeGreaterThan(10 * apart(grown, wide));
    await change(asking({ kind: 'remove', operationId: large.id }));
    expect((await tile()).equals(before)).toBe(true);
    const refused = await change(
      asking({ kind: 'patch', operationId: large.id, patch: { mask: { ...plain, growPx: 3 } } }),
    );
    expect(refused.status).toBe(404);
  });

  it('lies on the edges of what is painted in, and is refused by name for what is not there', async () => {
    const stroke = asking({ kind: 'add', operation: brushed([[200, 150], [230, 170]], 50) }); // prettier-ignore
    await change(stroke);
    const snap = (operationId: string, reachPx: number) =>
      opened.http.post(`/api/merges/${opened.mergeId}/operations/${operationId}/snap`).send({ reachPx });
    const answer = await snap(stroke.id, 10);
    expect(answer.status).toBe(201);
    const { mask } = operationChangesSchema.parse(answer.body).changed.find((o) => o.id === stroke.id)!;
    const { box } = mask!.snapped!;
    // No farther than the reach and the rim's px from what was drawn.
    expect([
      box.x >= 175 - 12,
      box.y >= 125 - 12,
      box.x + box.width <= 255 + 12,
      box.y + box.height <= 195 + 12,
    ]).toEqual([true, true, true, true]);
    await undo();
    expect((await operations()).find((o) => o.id === stroke.id)!.mask).toBeNull();
    expect(refusal(await snap('nothing', 10))).toEqual([404, expect.stringMatching(/no operation nothing/)]);
    expect(refusal(await snap(stroke.id, 500))[0]).toBe(400);
    await undo();
  });
});

describe('masks', () => {
  const { http, mergeId } = { http: () => opened.http, mergeId: () => opened.mergeId };
  const bring = (file: Buffer, donor: number, name = 'mask.png') =>
    http().post(`/api/merges/${mergeId()}/masks?donor=${donor}`).attach('file', file, name);
  const grey = (width: number, height: number, value: number): Promise<Buffer> =>
    sharp(Buffer.alloc(width * height, value), { raw: { width, height, channels: 1 } })
      .png()
      .toBuffer();
  const tile = async (): Promise<Buffer> => {
    const answer = await http().get(`/iiif/r-${mergeId()}/160,120,120,96/max/0/default.png`).responseType('blob');
    return sharp(answer.body as Buffer)
      .raw()
      .toBuffer();
  };
  const apart = (a: Buffer, b: Buffer): number => a.reduce((most, v, i) => Math.max(most, Math.abs(v - b[i]!)), 0);

  it('a mask that left comes back and shows the same, in its own size and in half of it', async () => {
    const shape = { kind: 'stroke' as const, points: [[200, 150], [250, 190]] as [number, number][], sizePx: 50, hardness: 0.3, strength: 0.9 }; // prettier-ignore
    const plain = await tile();
    await http()
      .post(`/api/merges/${mergeId()}/changes`)
      .send(asking({ kind: 'add', operation: { kind: 'paint', donor: 1, shape } }));
    const painted = await tile();
    expect(apart(plain, painted)).toBeGreaterThan(20);
    const mask = (await http().get(`/api/merges/${mergeId()}/masks/1.png`).responseType('blob')).body as Buffer;
    const half = await sharp(mask).resize(240, 192).png().toBuffer();
    await undo();
    for (const [file, most] of [
      [mask, 1],
      [half, 12],
    ] as const) {
      const answer = await bring(file, 1);
      expect(answer.status).toBe(201);
      expect((await operations()).at(-1)).toMatchObject({ donor: 1, shape: { kind: 'picture' } });
      expect(apart(painted, await tile())).toBeLessThanOrEqual(most);
      await undo();
    }
  });

  it('of another shape, black all over, for no frame or no picture is refused, and nothing is changed', async () => {
    const before = (await operations()).length;
    expect(refusal(await bring(await grey(300, 300, 255), 1))).toEqual([
      400,
      'mask.png: the mask is 300 × 300 px. Accepted: the shape of this merge, 480 × 384 px, in any size.',
    ]);
    expect(refusal(await bring(await grey(240, 192, 0), 1, 'night.png'))).toEqual([
      400,
      'night.png: the mask is black all over. Accepted: white where the frame is to show.',
    ]);
    expect(refusal(await bring(await grey(240, 192, 255), 7))).toEqual([
      400,
      'donor: this merge has frames 0 to 3, received 7.',
    ]);
    expect(refusal(await bring(Buffer.from('no picture'), 1))[0]).toBe(422);
    expect((await operations()).length).toBe(before);
  });
});

it('repairs of another merge of the same set-up are taken over by name and in order; what was matched in tone is left', async () => {
  const { http, mergeId: from, job, jobId } = opened;
  const read = async (id: string): Promise<Operation[]> =>
    operationChangesSchema.parse((await http.get(`/api/merges/${id}/operations`)).body).changed;
  await http.post(`/api/jobs/${jobId}/process`).send({});
  const { summary } = await until(job, (j) => j.summary.mergeId !== from);
  const [to, before] = [summary.mergeId!, (await read(from)).length];
  const stroke = {
    kind: 'stroke' as const,
    points: [[60, 60] as [number, number]],
    sizePx: 30,
    hardness: 1,
    strength: 1,
  };
  const tone = { columns: 2, rows: 2, values: Array.from({ length: 12 }, () => 0.01) };
  const [first, second] = [0, 1].map((donor) =>
    asking({ kind: 'add', operation: { kind: 'paint', donor, shape: stroke } }),
  );
  for (const change of [
    first!,
    asking({ kind: 'add', operation: { kind: 'paint', donor: 2, shape: stroke, tone } }),
    second!,
    asking({ kind: 'patch', operationId: second!.id, patch: { name: 'The rim' } }),
  ])
    await http.post(`/api/merges/${from}/changes`).send(change);
  const copied = await http.post(`/api/merges/${to}/copies`).send({ from });
  expect(copied.body).toEqual({ taken: before + 2, left: 1 });
  expect((await read(to)).slice(-2)).toMatchObject([
    { donor: 0, name: '', shape: stroke },
    { donor: 1, name: 'The rim' },
  ]);
  const same = await http.post(`/api/merges/${to}/copies`).send({ from: to });
  expect([same.status, problemSchema.parse(same.body).detail]).toEqual([
    400,
    'from: this is the merge itself. Accepted: another merge of the same set-up.',
  ]);
  expect((await http.post(`/api/merges/${to}/copies`).send({ from: 'elsewhere' })).status).toBe(404);
});
