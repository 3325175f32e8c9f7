// Strips along an edge, filled in each known way, in a stack, a panorama and a bracket; and edges that are as they should be.
import { FULL_SIZE } from '../../cells';
import { gatherCells } from '../../cells';
import { similarityGeometry, type AlignedFrame } from '../../frame';
import { gainTone, type Plane } from '../../image';
import type { Kernels } from '../../kernels';
import { calibrate, measureRegion, regionDefects } from '../index';
import { inspectSmall } from '../../testing/inspection';
import { openTestKernels } from '../../testing/openTestKernels';
import { addNoise, blockTexture, gaussianBlur } from '../../testing/pictures';
import { blurredSeries, frameOf } from '../../testing/stack';

const [W, H] = [320, 256];
let kernels: Kernels;
beforeAll(async () => {
  kernels = await openTestKernels();
});

type Filling = 'empty' | 'mirrored' | 'smeared';

/** A strip of some px along the right edge, filled. */
function filled(plane: Plane, depth: number, filling: Filling): Plane {
  const data = plane.data.slice();
  const inner = plane.width - depth;
  for (let y = 0; y < plane.height; y++) {
    for (let x = inner; x < plane.width; x++) {
      const from = filling === 'mirrored' ? 2 * inner - 1 - x : inner - 1;
      data[y * plane.width + x] = filling === 'empty' ? 0 : plane.data[y * plane.width + from]!;
    }
  }
  return { ...plane, data };
}

const scene = blockTexture(W, H, 3);
const shown = (seed: number): AlignedFrame => frameOf(kernels, addNoise(scene, 0.004, seed));

const SETS: readonly (readonly ['focus-stack' | 'panorama' | 'bracket', () => AlignedFrame[]])[] = [
  ['focus-stack', () => blurredSeries(W, H, 3, 1, [0, 1, 2]).map((p) => frameOf(kernels, p))],
  ['panorama', () => [shown(1), { ...shown(2), geometry: similarityGeometry({ re: 1, im: 0, tx: 0.25, ty: 0 }) }]],
  ['bracket', () => [shown(1), { ...shown(2), tone: gainTone([1.15, 1.15, 1.15]) }]],
];

describe.each(SETS)('in a %s', (kind, frames) => {
  it.each(['empty', 'mirrored', 'smeared'] as const)(
    'a strip of 20 px that was %s is found along its whole length, by its sort, and no other defect is cried there',
    (filling) => {
      const merge = frameOf(kernels, filled(addNoise(scene, 0.004, 1), 20, filling));
      const { found, trace } = inspectSmall(kernels, kind, merge, frames());
      expect(found.map((d) => d.defect)).toEqual(['border']);
      const { bbox, measurements } = found[0]!;
      expect([bbox.y, bbox.height]).toEqual([0, H]);
      expect(Math.abs(bbox.x - (W - 20))).toBeLessThanOrEqual(8);
      expect(measurements['filling']!.unit.split(', ')[measurements['filling']!.value]).toBe(filling);
      expect(trace(found[0]!)).toMatchObject({ repairable: true, cause: expect.stringContaining('although frame') });
    },
  );

  it('a merge without a strip has none', () => {
    const merge = frameOf(kernels, addNoise(scene, 0.004, 1));
    expect(inspectSmall(kernels, kind, merge, frames()).found).toEqual([]);
  });
});

it('what no frame reaches is found whatever stands there, and cannot be repaired', () => {
  const left: AlignedFrame = { ...shown(1), geometry: similarityGeometry({ re: 1, im: 0, tx: -40, ty: 0 }) };
  const merge = frameOf(kernels, addNoise(blockTexture(W, H, 77), 0.004, 9));
  const { found, trace } = inspectSmall(kernels, 'panorama', merge, [left]);
  const strips = found.filter((d) => d.defect === 'border');
  expect(strips).toHaveLength(1);
  expect(Math.abs(strips[0]!.bbox.x - (W - 40))).toBeLessThanOrEqual(4);
  expect(trace(strips[0]!)).toMatchObject({ repairable: false, donor: null });
});

it('an empty strip beside a dark wall that holds little detail is found, too', () => {
  const dark = { ...scene, data: scene.data.map((v, i) => (i % W < 60 ? 0.12 + 0.002 * v : 0.12 + 0.3 * v)) };
  const noisy = (seed: number): AlignedFrame => frameOf(kernels, addNoise(dark, 0.004, seed));
  const merge = addNoise(dark, 0.004, 3);
  for (let y = 0; y < H; y++) merge.data.fill(0, y * W, y * W + 20);
  const { found } = inspectSmall(kernels, 'bracket', frameOf(kernels, merge), [noisy(1), noisy(2)]);
  const strips = found.filter((d) => d.defect === 'border');
  expect(strips.map(({ bbox }) => [bbox.x, bbox.width <= 28, bbox.height])).toEqual([[0, true, H]]);
});

it('an empty strip is found although the frames’ detail there is hardly above their noise', () => {
  const faint = { ...scene, data: scene.data.map((v) => 0.2 + 0.07 * v) };
  const noisy = (seed: number): AlignedFrame => frameOf(kernels, addNoise(faint, 0.006, seed));
  const merge = addNoise(faint, 0.006, 3);
  merge.data.fill(0, 0, 24 * W);
  const { found } = inspectSmall(kernels, 'bracket', frameOf(kernels, merge), [noisy(1), noisy(2)]);
  expect(found.map((d) => d.defect)).toEqual(['border']);
  expect(found[0]!.bbox).toEqual({ x: 0, y: 0, width: W, height: 24 });
});

it('a backdrop that compression made even is no empty strip; one of another tone is', () => {
  const backdrop = { ...scene, data: scene.data.map((v) => 0.3 + 0.05 * v) };
  const noisy = (seed: number): AlignedFrame => frameOf(kernels, addNoise(backdrop, 0.006, seed));
  const strips = (tone: number): string[] => {
    const merge = addNoise(backdrop, 0.006, 3);
    merge.data.fill(tone, 0, 24 * W);
    return inspectSmall(kernels, 'bracket', frameOf(kernels, merge), [noisy(1), noisy(2)])
      .found.map((d) => d.defect)
      .filter((d) => d === 'border');
  };
  expect([strips(0.325), strips(0.1)]).toEqual([[], ['border']]);
});

it('broad forms along an edge, which lie a little off, are no mirror image of what is beside them', () => {
  const broad = gaussianBlur(scene, 3);
  const off = { ...broad, data: broad.data.map((v, i) => (i >= (H - 16) * W ? broad.data[Math.max(0, i - 7)]! : v)) };
  const frames = [1, 2].map((seed) => frameOf(kernels, addNoise(broad, 0.002, seed)));
  const { found } = inspectSmall(kernels, 'panorama', frameOf(kernels, addNoise(off, 0.002, 3)), frames);
  expect(found.map((d) => d.defect)).toEqual(['misalignment']);
});

it('a strip that shows in two places only, as its own reflection is no other elsewhere, is told from both', () => {
  const [wide, high, depth] = [1400, 256, 20];
  // Stripes that stand upright are their own mirror image; there is something else before them here and there.
  const things = blockTexture(wide, high, 5);
  const stripes = blockTexture(wide, 1, 9).data;
  const isThing = (x: number): boolean => (x >= 192 && x < 288) || (x >= 960 && x < 1056);
  const plane: Plane = {
    ...{ width: wide, height: high },
    data: things.data.map((v, i) => (isThing(i % wide) ? v : stripes[i % wide]!)),
  };
  const merge = addNoise(plane, 0.004, 3);
  for (let y = high - depth; y < high; y++) {
    const from = (2 * (high - depth) - 1 - y) * wide;
    merge.data.copyWithin(y * wide, from, from + wide);
  }
  const frames = [1, 2].map((seed) => frameOf(kernels, addNoise(plane, 0.004, seed)));
  const { found } = inspectSmall(kernels, 'bracket', frameOf(kernels, merge), frames);
  expect(found.map((d) => [d.defect, Math.abs(d.bbox.y - (high - depth)) <= 8])).toEqual([
    ['border', true],
    ['border', true],
  ]);
});

it('a part of a picture has only the edges that are the picture’s own', () => {
  const strip = filled(addNoise(scene, 0.004, 1), 20, 'empty');
  const frames = [frameOf(kernels, addNoise(scene, 0.004, 1)), frameOf(kernels, addNoise(scene, 0.004, 2))];
  const facts = { kind: 'panorama', axis: null, grain: null, inside: null, working: FULL_SIZE, surveys: {} } as const;
  const region = { x: W - 96, y: 64, width: 96, height: 96 };
  const at = (x: number, width: number) => {
    const stack = gatherCells(kernels, frameOf(kernels, strip), frames, { ...region, x, width }, { relate: true });
    const { samples } = measureRegion(stack, facts);
    return regionDefects(stack, facts, calibrate('panorama', [samples]), W / 4, H / 4).map((d) => d.defect);
  };
  expect(at(W - 96, 96)).toContain('border');
  // Its right edge is the strip's, but not the picture's.
  expect(at(W - 96, 88)).not.toContain('border');
});
