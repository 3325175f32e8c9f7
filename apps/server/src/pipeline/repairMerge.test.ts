// Which repairs are tried for a seam of a panorama, in which order, with the work itself played by stand-ins.
import type { Detection, SetFacts } from '@blendrak/core/inspect';
import { layShape, partsOf, type Operation } from '@blendrak/core/repair';
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

/** Plays the tasks; what is found after a repair is up to the case. */
async function tried(after: (acting: number, operations: readonly Operation[]) => readonly Detection[]) {
  const asked: [name: string, acting: number][] = [];
  const run = (name: string, request: { scene: InspectionScene }): Promise<unknown> => {
    const { operations } = request.scene;
    const acting = operations.flatMap(partsOf).length;
    asked.push([name, acting]);
    if (name === 'fitMask') return Promise.resolve([{ donor: 1, points: [[150, 40], [206, 40], [206, 240], [150, 240]] }]); // prettier-ignore
    if (name === 'recheck') return Promise.resolve(acting === 0 ? [seam] : after(acting, operations));
    if (name === 'nudge') return Promise.resolve(null);
    return Promise.resolve(field(name === 'evenField' ? 0.1 : 0.02));
  };
  const frame = { geometry: null, tone: [], grey: null };
  const scene = { merge: {}, frames: [frame, frame], operations: [] } as unknown as InspectionScene;
  const context = { run, parallel: 1, signal: new AbortController().signal, onProgress: () => undefined };
  const outcome: TriedRepair[] = [];
  await repairMerge(
    scene,
    [{ id: 'f', defect: 'seam', bbox: box, polygon, donors: [1] }],
    { facts: { kind: 'panorama' } as SetFacts, yardsticks: {} },
    SIZE,
    context as unknown as StepContext,
    (one) => outcome.push(one),
  );
  return { outcome, asked };
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
