// Which repairs are tried for a seam of a panorama, in which order, with the work itself played by stand-ins.
import type { Detection, SetFacts } from '@blendrak/core/inspect';
import type { DefectWord } from '@blendrak/contract';
import { fittedShape, layShape, partsOf, type Operation, type RepairSource } from '@blendrak/core/repair';
import type { InspectionScene } from '../jobs';
import { repairMerge, type TriedRepair } from './repairMerge';
import type { StepContext } from './types';

const SIZE = { width: 400, height: 300 };
const polygon = [[190, 40], [206, 40], [206, 240], [190, 240]] as const; // prettier-ignore
const box = { x: 190, y: 40, width: 16, height: 200 };
const [columns] = [SIZE.width / 4];
const cells = Array.from({ length: 200 }, (_, k) => (10 + Math.floor(k / 4)) * columns + 48 + (k % 4));
const seam: Detection = { defect: 'seam', cells, bbox: box, polygon, confidence: 0.8, measurements: {} };
const field = (value: number) => ({ columns: 2, rows: 2, values: new Array<number>(12).fill(value) });

/** What is repaired: how it is called, and what is there when it is looked at by itself. */
interface Case {
  readonly kind?: SetFacts['kind'];
  readonly defect?: DefectWord;
  readonly before?: Detection;
}
interface Asked {
  readonly scene: InspectionScene;
  readonly source: RepairSource;
  readonly found?: unknown;
}

/** Plays the tasks; what is found after a repair is up to the case. */
async function tried(
  after: (acting: number, operations: readonly Operation[], sources: readonly RepairSource[]) => readonly Detection[],
  { kind = 'panorama', defect = 'seam', before = seam }: Case = {},
) {
  const asked: [name: string, acting: number][] = [];
  const sources: RepairSource[] = [];
  const evened: unknown[] = [];
  const run = (name: string, request: Asked): Promise<unknown> => {
    const { operations } = request.scene;
    const acting = operations.flatMap(partsOf).length;
    asked.push([name, acting]);
    if (name === 'evenField') evened.push(request.found);
    if (name === 'fitMask') sources.push(request.source);
    if (name === 'fitMask') return Promise.resolve([{ donor: 1, shape: fittedShape([[150, 40], [206, 40], [206, 240], [150, 240]]) }]); // prettier-ignore
    if (name === 'recheck') return Promise.resolve(acting === 0 ? [before] : after(acting, operations, sources));
    if (name === 'nudge') return Promise.resolve(null);
    return Promise.resolve(field(name === 'evenField' ? 0.1 : 0.02));
  };
  const frame = { geometry: null, tone: [], grey: null };
  const scene = { merge: {}, frames: [frame, frame], operations: [] } as unknown as InspectionScene;
  const context = { run, parallel: 1, signal: new AbortController().signal, onProgress: () => undefined };
  const outcome: TriedRepair[] = [];
  await repairMerge(
    scene,
    [{ id: 'f', defect, bbox: box, polygon, donors: [1] }],
    { facts: { kind } as SetFacts, yardsticks: {} },
    SIZE,
    context as unknown as StepContext,
    (one) => outcome.push(one),
  );
  return { outcome, asked, sources, evened };
}

it('the tone is evened, and what is left of the step is covered by the frame, matched to what was evened', async () => {
  const { outcome, asked } = await tried(() => []);
  const [{ repair, rest }] = outcome as [TriedRepair];
  expect(rest).toBe(0);
  const [evened, cover, ...more] = partsOf(repair!);
  expect([evened!.donor, evened!.tone!.values[0], cover!.donor, cover!.tone!.values[0], more]).toEqual([null, 0.1, 1, 0.02, []]); // prettier-ignore
  expect(cover!.shape).toMatchObject({ kind: 'outline', points: polygon });
  // The cover's tone is found with the evening acting.
  expect(asked.find(([name]) => name === 'toneField')).toEqual(['toneField', 1]);
});

it('where that leaves the seam, evening alone is tried, then the frame painted over it; the best of them is told', async () => {
  const half = { ...seam, cells: cells.slice(0, 100) };
  const { outcome, asked } = await tried(() => [half]);
  expect(outcome).toMatchObject([{ rest: 0.5, plants: null }]);
  const looked = asked.filter(([name, acting]) => name === 'recheck' && acting > 0).map(([, acting]) => acting);
  expect(looked.slice(0, 3)).toEqual([2, 1, 1]);
  expect(looked.length).toBeGreaterThan(3);
});

it('a repair that plants another defect is not proposed, and what it would plant is told', async () => {
  const planted: Detection = {
    ...seam,
    defect: 'ghost',
    bbox: { ...box, x: 150, width: 40 },
    cells: cells.map((c) => c - 6),
  };
  const { outcome } = await tried(() => [planted]);
  expect(outcome).toMatchObject([{ repair: null, plants: 'ghost' }]);
});

it('what a repair would plant in a small part of the place is spared by its mask: the rest is mended', async () => {
  const small = cells.slice(80, 100).map((c) => c - 6);
  const planted: Detection = {
    ...seam,
    defect: 'ghost',
    bbox: { x: 168, y: 120, width: 16, height: 20 },
    cells: small,
  };
  const covers = (operations: readonly Operation[], cell: number): boolean => {
    const mask = new Float32Array(columns! * (SIZE.height / 4));
    for (const { shape } of operations.flatMap(partsOf))
      layShape(mask, { x: 0, y: 0, width: columns!, height: SIZE.height / 4 }, shape, 4);
    return mask[cell]! > 0.5;
  };
  const { outcome } = await tried((_acting, operations) => (covers(operations, small[10]!) ? [planted] : []));
  expect(outcome).toMatchObject([{ rest: 0, plants: null }]);
  const { repair } = outcome[0]!;
  expect(small.filter((c) => covers([repair!], c))).toEqual([]);
  expect(covers([repair!], cells[0]!) && covers([repair!], cells[199]!)).toBe(true);
});

it('of two repairs that close it the one after which less else is found is taken', async () => {
  const beside: Detection = { ...seam, defect: 'ghost', cells: cells.slice(0, 40) };
  // The evening with its cover leaves a little of something else, the evening alone nothing.
  const { outcome } = await tried((acting) => (acting === 2 ? [beside] : []));
  expect(outcome).toMatchObject([{ rest: 0, plants: null }]);
  expect(partsOf(outcome[0]!.repair!)).toHaveLength(1);
  // Where all leave it, it is a repair all the same.
  const { outcome: others } = await tried(() => [beside]);
  expect(others).toMatchObject([{ rest: 0, plants: null }]);
  expect(others[0]!.repair).not.toBeNull();
});

it('a halo of a bracket is evened at the lightness that was found; a seam has lost its tone at any', async () => {
  const halo = { kind: 'bracket', defect: 'halo', before: { ...seam, defect: 'halo' } } as const;
  expect((await tried(() => [], halo)).evened).toEqual([polygon]);
  expect((await tried(() => [])).evened).toEqual([undefined]);
});

it('a halo that is traded for softness nearly as wide is not mended, though softness is what a halo hides', async () => {
  const halo: Detection = { ...seam, defect: 'halo' };
  const soft = (count: number): Detection => ({ ...seam, defect: 'soft-patch', cells: cells.slice(0, count) });
  const stack = { kind: 'focus-stack', defect: 'halo', before: halo } as const;
  expect((await tried(() => [soft(180)], stack)).outcome).toMatchObject([
    { repair: null, rest: 1, plants: 'soft-patch' },
  ]);
  expect((await tried(() => [soft(30)], stack)).outcome).toMatchObject([{ rest: 0 }]);
});

it('a place that is called otherwise when it is looked at by itself is repaired as what it is called then, if nothing else helps', async () => {
  const border: Detection = { ...seam, defect: 'border' };
  const untilBeside = (_acting: number, _operations: unknown, sources: readonly RepairSource[]) =>
    sources.includes('beside') ? [] : [border];
  const { sources, outcome } = await tried(untilBeside, { before: border });
  expect(sources).toEqual([1, 'beside']);
  expect(outcome).toMatchObject([{ rest: 0, plants: null }]);
  expect((await tried(() => [], { before: border })).sources).toEqual([1]);
  // Where nothing is painted over what it is called, it stays what it was.
  const gap: Detection = { ...seam, defect: 'focus-gap' };
  expect((await tried(() => [gap], { before: gap })).sources).toEqual([1]);
});
