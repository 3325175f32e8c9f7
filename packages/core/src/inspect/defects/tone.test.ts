// Defects of tone: a step along a line, a patch at the end of the scale; and what is none of them.
import type { Detection } from '../detection';
import type { Evidence } from '../detector';
import type { AlignedFrame } from '../../frame';
import type { Plane } from '../../image';
import type { Kernels } from '../../kernels';
import { inspectSmall, type SmallInspection } from '../../testing/inspection';
import { openTestKernels } from '../../testing/openTestKernels';
import { addNoise, blockTexture } from '../../testing/pictures';
import { colourFrame, frameOf } from '../../testing/stack';
import { agreement } from '../layers/agreement';
import { MERGE_KINDS, type Layer, type LayerMaps, type MergeKind, type SetFacts } from '../layers/layer';
import { tone } from '../layers/tone';
import { seam } from './seam';

const [W, H] = [384, 320];
let kernels: Kernels;
beforeAll(async () => {
  kernels = await openTestKernels();
});

/** Texture around a mean value, of a given contrast. */
const texture = blockTexture(W, H, 5).data.map((v) => v - 0.5);
const made = (value: (x: number, y: number, i: number) => number): Plane => {
  const data = new Float32Array(W * H);
  for (let i = 0; i < data.length; i++) data[i] = Math.min(1, Math.max(0, value(i % W, Math.floor(i / W), i)));
  return { width: W, height: H, data };
};
const inspect = (kind: MergeKind, merge: Plane, frames: readonly Plane[]): SmallInspection =>
  inspectSmall(
    kernels,
    kind,
    frameOf(kernels, addNoise(merge, 0.003, 9)),
    frames.map((f, k): AlignedFrame => frameOf(kernels, addNoise(f, 0.003, k))),
  );
const plain = made((_x, _y, i) => 0.4 + 0.3 * texture[i]!);

describe.each(MERGE_KINDS)('a seam in a %s', (kind) => {
  it('a step of 4 % along a line is one, as long as it is; the line is hugged', () => {
    const stepped = made((x, y, i) => plain.data[i]! * (x > 180 && x < 280 && y > 90 && y < 230 ? 1.1 : 1));
    const { found } = inspect(kind, stepped, [plain, plain]);
    expect(found.map((d) => d.defect)).toEqual(['seam']);
    const [{ measurements, cells }] = found as [(typeof found)[0]];
    expect(measurements['step']!.value).toBeGreaterThan(2.5);
    expect(measurements['step']!.value).toBeLessThan(5.5);
    // 0.04 of the scale in the mid-tones is about 4 units of L*, which CIEDE2000 weighs a little less.
    expect(measurements['difference']!.value).toBeGreaterThan(2.5);
    expect(measurements['difference']!.value).toBeLessThan(4.5);
    // Every cell of it lies within 12 px of the rectangle's rim.
    const away = cells.map((c) => {
      const [x, y] = [4 * (c % (W / 4)) + 2, 4 * Math.floor(c / (W / 4)) + 2];
      const inside = Math.min(x - 180, 280 - x, y - 90, 230 - y);
      return inside >= 0 ? inside : Math.hypot(Math.max(180 - x, 0, x - 280), Math.max(90 - y, 0, y - 230));
    });
    expect(Math.max(...away)).toBeLessThanOrEqual(18);
  });

  it('an edge of the scene, a slow slope and a tone curve are none', () => {
    const scene = made((x, _y, i) => (x > 180 ? 0.6 : 0.35) + 0.2 * texture[i]!);
    const finished = made((x, _y, i) => (scene.data[i]! * (1 + (0.1 * x) / W)) ** 0.85);
    expect(inspect(kind, finished, [scene, scene]).found.filter((d) => d.defect === 'seam')).toEqual([]);
  });

  it('a step that a frame shows itself is none: light fell so', () => {
    const lit = made((x, _y, i) => plain.data[i]! * (x > 180 ? 1.1 : 1));
    expect(inspect(kind, lit, [plain, lit]).found.filter((d) => d.defect === 'seam')).toEqual([]);
  });
});

it('a step is told by frames that agree among themselves, and not by frames that differ as much as it: they show other moments', () => {
  const [width, height] = [60, 40];
  const stepped = tone.empty(width * height);
  for (let y = 5; y < 35; y++) for (const x of [29, 30, 31]) stepped.stepX[y * width + x] = x === 30 ? 0.03 : 0.02;
  const seamsWhere = (kind: MergeKind, apart: number): number => {
    const agreed = agreement.empty(width * height);
    agreed.apart.fill(apart);
    agreed.telling.fill(2);
    const maps: Readonly<Record<string, unknown>> = { tone: stepped, agreement: agreed };
    const evidence: Evidence = {
      ...{ width, height, picture: { x: 0, y: 0, width, height }, facts: { kind } as SetFacts },
      knows: () => true,
      of: <M extends LayerMaps>({ name }: Layer<M>) => maps[name] as M,
      yardstick: <Y>() => ({ usual: 0 }) as Y,
    };
    return seam.find(evidence).length;
  };
  for (const kind of ['panorama', 'bracket'] as const)
    expect([0, 0.004, 0.03].map((apart) => seamsWhere(kind, apart))).toEqual([1, 1, 0]);
});

it('a tint in a stack is a seam all around, though no frame has its colour: that is no reason against a frame', () => {
  const inside = (x: number, y: number): boolean => x > 148 && x < 220 && y > 100 && y < 172;
  const grey = made((_x, _y, i) => 0.4 + 0.06 * texture[i]!);
  const colours = (tint: number, seed: number): [Plane, Plane, Plane] => {
    const [red, green, blue] = [1, 0, -1].map((sign, c) =>
      addNoise(
        made((x, y, i) => grey.data[i]! + (inside(x, y) ? sign * tint : 0)),
        0.003,
        3 * seed + c,
      ),
    ) as [Plane, Plane, Plane];
    return [red, green, blue];
  };
  const frames = [1, 2].map((seed) => colourFrame(kernels, colours(0, seed)));
  const found = (tint: number) =>
    inspectSmall(kernels, 'focus-stack', colourFrame(kernels, colours(tint, 3)), frames).found;
  expect(found(0)).toEqual([]);
  const seams = found(0.045);
  expect(seams.map((d) => d.defect)).toEqual(['seam']);
  const { x, y, width, height } = seams[0]!.bbox;
  expect([x <= 152, x + width >= 216, y <= 104, y + height >= 168]).toEqual([true, true, true, true]);
});

describe('the end of the scale, in a bracket', () => {
  const inside = (x: number, y: number): boolean => x > 120 && x < 220 && y > 100 && y < 200;
  const scene = made((x, y, i) => (inside(x, y) ? 0.82 + 0.16 * texture[i]! : 0.4 + 0.3 * texture[i]!));
  const overexposed = made((x, y, i) => (inside(x, y) ? 1 : Math.min(1, 1.4 * scene.data[i]!)));

  it('a white patch where a darker exposure has structure is clipped, and that exposure the donor', () => {
    const white = made((x, y, i) => (inside(x, y) ? 1 : scene.data[i]!));
    const { found, trace } = inspect('bracket', white, [overexposed, scene]);

    expect(found.map((d) => d.defect)).toEqual(['clipping']);
    expect(found[0]!.bbox.x).toBeGreaterThan(96);
    expect(found[0]!.bbox.x + found[0]!.bbox.width).toBeLessThan(244);
    expect(trace(found[0]!)).toMatchObject({ donor: 1, repairable: true });
  });

  it('what stands before a window in a longer exposure alone moved there: the shorter one shows white, and nothing was lost', () => {
    const LONGER = 1.3;
    const isBob = (x: number, y: number): boolean => Math.hypot(x - 170, y - 150) < 32;
    const white = made((x, y, i) => (inside(x, y) ? 1 : scene.data[i]!));
    const passing = made((x, y, i) => (isBob(x, y) ? 0.2 + 0.3 * texture[i]! : Math.min(1, LONGER * white.data[i]!)));
    const frames = (short: Plane): AlignedFrame[] => [
      frameOf(kernels, addNoise(short, 0.003, 1)),
      { ...frameOf(kernels, addNoise(passing, 0.003, 2)), tone: [[0, 1 / LONGER], [0, 1 / LONGER], [0, 1 / LONGER]] }, // prettier-ignore
    ];
    const lostIn = (short: Plane): Detection[] =>
      inspectSmall(kernels, 'bracket', frameOf(kernels, addNoise(white, 0.003, 9)), frames(short)).found.filter(
        (d) => d.measurements['highlightsLost'],
      );
    expect(lostIn(white)).toEqual([]);
    // The same in both exposures is there, and the merge lost it.
    expect(lostIn(made((x, y, i) => (isBob(x, y) ? passing.data[i]! / LONGER : white.data[i]!))).length).toBe(1);
  });

  it('white where no exposure has anything is said to be so, and nothing repairs it; a lamp may be white', () => {
    const white = made((x, y, i) => (inside(x, y) ? 1 : scene.data[i]!));
    const { found, trace } = inspect('bracket', white, [white, white]);
    expect(found.map((d) => d.defect)).toEqual(['clipping']);
    expect(found[0]!.measurements['burntInAll']!.value).toBeCloseTo(10, 0);
    const traced = trace(found[0]!);
    expect(traced).toMatchObject({ donor: null, repairable: false, isVisible: true });
    expect(traced.cause).toContain('every exposure');
    const lit = made((x, y, i) => (Math.hypot(x - 160, y - 130) < 14 ? 1 : scene.data[i]!));
    expect(inspect('bracket', lit, [lit, lit]).found).toEqual([]);
  });
});
