// Grain of a merge: measured where it was added, none where none was; an inspection sees through it.
import type { Kernels } from '../kernels';
import type { Plane } from '../image';
import { inspectSmall } from '../testing/inspection';
import { openTestKernels } from '../testing/openTestKernels';
import { addNoise, blockTexture } from '../testing/pictures';
import { blurredSeries, frameOf, pasteRect, STACK_NOISE } from '../testing/stack';
import { gatherCells, grainOf, grainSamples, type Grain } from './index';

const [W, H] = [320, 256];
/** Texture on the left, hardly any on the right. */
const planes = blurredSeries(W, H, 5, 2, [0, 1, 2, 3, 4]).map((p, k) =>
  addNoise({ ...p, data: p.data.map((v, i) => (i % W < 200 ? v : 0.4 + 0.05 * (v - 0.4))) }, STACK_NOISE, 40 + k),
);
let kernels: Kernels;
beforeAll(async () => {
  kernels = await openTestKernels();
});
const grainIn = (merge: Plane): Grain | null => {
  const frames = planes.map((p) => frameOf(kernels, p));
  const stack = gatherCells(kernels, frameOf(kernels, merge), frames, { x: 0, y: 0, width: W, height: H });
  return grainOf(grainSamples(stack), stack.noise);
};
const levels = (grain: Grain): number[] => grain.pixel.map((v) => 255 * Math.sqrt(v));

it('of six levels is measured as six levels, give or take a quarter', () => {
  const grain = grainIn(addNoise(planes[2]!, 6 / 255, 8))!;
  for (const level of levels(grain).slice(2, 5)) expect(Math.abs(level - 6)).toBeLessThan(1.5);
});

it('is none in a merge like its frames, nor in one with a displaced part', () => {
  expect(grainIn(planes[2]!)).toBeNull();
  const displaced = pasteRect(planes[2]!, blockTexture(W, H, 99), 80, 60, 120, 90);
  expect(grainIn(displaced)).toBeNull();
});

it('hides nothing that is plain, and makes no findings of its own', () => {
  const inspect = (merge: Plane): string[] =>
    inspectSmall(
      kernels,
      'focus-stack',
      frameOf(kernels, addNoise(merge, 5 / 255, 8)),
      planes.map((p) => frameOf(kernels, p)),
    ).found.map((d) => d.defect);
  expect(inspect(planes[2]!)).toEqual([]);
  expect(inspect(pasteRect(planes[2]!, planes[4]!, 72, 80, 88, 72))).toEqual(['soft-patch']);
  expect(5 / 255).toBeGreaterThan(4 * STACK_NOISE);
});
