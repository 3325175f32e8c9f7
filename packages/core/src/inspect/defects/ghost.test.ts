// A thing that moved between two frames, in a merge that mixes them, cuts them, or shows one; and a part that lies wrong.
import type { AlignedFrame } from '../../frame';
import type { Plane } from '../../image';
import type { Kernels } from '../../kernels';
import { inspectSmall } from '../../testing/inspection';
import { openTestKernels } from '../../testing/openTestKernels';
import { addNoise, blockTexture, gaussianBlur } from '../../testing/pictures';
import { frameOf, pasteRect } from '../../testing/stack';
import type { Detection } from '../detection';
import type { MergeKind } from '../layers/layer';

const [W, H] = [320, 256];
let kernels: Kernels;
beforeAll(async () => {
  kernels = await openTestKernels();
});

const scene = blockTexture(W, H, 3);
/** Side of the thing, px. */
const SIDE = 44;
const texture = blockTexture(SIDE, SIDE, 8).data.map((v) => 1 - v);
/** The thing over the scene, at some place. */
function at(x0: number, seed: number): Plane {
  const data = scene.data.slice();
  for (let y = 0; y < SIDE; y++) data.set(texture.subarray(y * SIDE, (y + 1) * SIDE), (96 + y) * W + x0);
  return addNoise({ ...scene, data }, 0.004, seed);
}
const [here, there] = [at(96, 1), at(120, 2)];
const both = (): AlignedFrame[] => [here, there].map((p) => frameOf(kernels, p));

/** What is found in a merge of pictures that lie exactly on it. */
function foundIn(kind: MergeKind, merge: Plane, planes: readonly Plane[]): readonly Detection[] {
  const frames = planes.map((p) => frameOf(kernels, p));
  return inspectSmall(kernels, kind, frameOf(kernels, merge), frames).found;
}

describe.each(['panorama', 'bracket'] as const)('in a %s', (kind) => {
  it('a mixture of two moments is a ghost, with either as donor', () => {
    const data = here.data.map((v, i) => 0.5 * v + 0.5 * there.data[i]!);
    const { found, trace } = inspectSmall(kernels, kind, frameOf(kernels, { ...here, data }), both());
    expect(found.map((d) => d.defect)).toEqual(['ghost']);
    const { bbox } = found[0]!;
    expect(bbox.x).toBeGreaterThan(80);
    expect(bbox.x + bbox.width).toBeLessThan(208);
    expect(trace(found[0]!)).toMatchObject({ repairable: true, cause: expect.stringContaining('mixes them') });
  });

  it('one half of each moment is cut, and told from either side', () => {
    const merge = pasteRect(here, there, 128, 0, W - 128, H);
    const { found, trace } = inspectSmall(kernels, kind, frameOf(kernels, merge), both());
    expect(found.map((d) => d.defect)).toEqual(['ghost']);
    expect(found[0]!.measurements['cutLength']!.value).toBeGreaterThanOrEqual(20);
    expect(trace(found[0]!).cause).toContain('cuts through it');
  });

  it('its outline leaves out what only a third moment shows', () => {
    const merge = pasteRect(here, there, 128, 0, W - 128, H);
    const { found } = inspectSmall(kernels, kind, frameOf(kernels, merge), [...both(), frameOf(kernels, at(150, 3))]);
    expect(found.map((d) => d.defect)).toEqual(['ghost']);
    const { x, width } = found[0]!.bbox;
    // The two moments reach from 96 to 164, the third from 150 to 194.
    expect([x >= 84, x + width > 140, x + width <= 176]).toEqual([true, true, true]);
  });

  it('one whole moment is none', () => {
    expect(inspectSmall(kernels, kind, frameOf(kernels, here), both()).found).toEqual([]);
  });

  it('a thing that is shown whole in two places is one ghost; shown once, or not at all, it is none', () => {
    const [left, right] = [at(40, 1), at(222, 2)];
    const frames = [left, right].map((p) => frameOf(kernels, p));
    const twice = pasteRect(left, right, 160, 0, W - 160, H);
    const { found, trace } = inspectSmall(kernels, kind, frameOf(kernels, twice), frames);
    expect(found.map((d) => d.defect)).toEqual(['ghost']);
    const { bbox, measurements } = found[0]!;
    expect(bbox.x < 50 && bbox.x + bbox.width > 250 && bbox.height < 1.5 * SIDE).toBe(true);
    expect(Math.abs(measurements['distance']!.value - 182)).toBeLessThan(12);
    expect(trace(found[0]!).cause).toContain('shows it twice, 1');
    const never = pasteRect(right, left, 160, 0, W - 160, H);
    for (const merge of [left, right, never])
      expect(inspectSmall(kernels, kind, frameOf(kernels, merge), frames).found).toEqual([]);
  });

  it('two different things that came and went are shown each whole: no ghost', () => {
    const other = (x0: number, seed: number): Plane => {
      const plane = at(x0, seed);
      // Another thing in the same place: mirrored, and in other tones.
      const data = scene.data.slice();
      for (let y = 0; y < SIDE; y++)
        for (let x = 0; x < SIDE; x++)
          data[(96 + y) * W + x0 + x] = 0.35 * texture[(SIDE - 1 - y) * SIDE + SIDE - 1 - x]! + 0.1;
      return addNoise({ ...plane, data }, 0.004, seed);
    };
    const [left, right] = [at(40, 1), other(220, 2)];
    const merge = pasteRect(left, right, 160, 0, W - 160, H);
    const frames = [left, right].map((p) => frameOf(kernels, p));
    expect(inspectSmall(kernels, kind, frameOf(kernels, merge), frames).found).toEqual([]);
  });

  it('a soft thing shown whole is no soft patch, though another moment shows the sharp ground behind it', () => {
    const soft = gaussianBlur(at(96, 1), 2);
    const merge = addNoise(pasteRect(addNoise(scene, 0.004, 3), soft, 92, 92, SIDE + 8, SIDE + 8), 0.001, 5);
    const ground = addNoise(scene, 0.004, 2);
    const frames = [merge, ground].map((p) => frameOf(kernels, p));
    expect(inspectSmall(kernels, kind, frameOf(kernels, merge), frames).found).toEqual([]);
  });

  it('a part that all frames agree on and the merge shows elsewhere is misaligned, not a ghost', () => {
    const moved = { ...scene, data: scene.data.map((_, i) => scene.data[Math.min(W * H - 1, i + 5)]!) };
    const still = [1, 2].map((k) => frameOf(kernels, addNoise(scene, 0.004, k)));
    const merge = addNoise(pasteRect(scene, moved, 96, 96, 72, 64), 0.004, 3);
    const { found, trace } = inspectSmall(kernels, kind, frameOf(kernels, merge), still);
    expect(found.map((d) => d.defect)).toEqual(['misalignment']);
    expect(trace(found[0]!).repairable).toBe(true);
  });
});

describe('something large that moved, a quarter of the picture and more', () => {
  const curtain = blockTexture(W + 24, H / 2, 12).data.map((v) => 1 - v);
  /** It hangs over the upper half of the scene, moved to the left by some px. */
  const hung = (dx: number, seed: number): Plane => {
    const data = scene.data.slice();
    for (let y = 0; y < H / 2; y++) data.set(curtain.subarray(y * (W + 24) + dx, y * (W + 24) + dx + W), y * W);
    return addNoise({ ...scene, data }, 0.004, seed);
  };
  const [before, after] = [hung(0, 1), hung(24, 2)];
  const cut = pasteRect(before, after, 160, 0, W - 160, H);
  const inspected = (kind: 'panorama' | 'bracket', merge: Plane) => foundIn(kind, merge, [before, after]);

  it('is told in a bracket where it is cut, along the cut alone; whole it is none', () => {
    const [found, ...others] = inspected('bracket', cut);
    expect([found!.defect, others]).toEqual(['ghost', []]);
    const { x, width, height } = found!.bbox;
    expect([x < 160 && x + width > 160, width < 100, height > 80]).toEqual([true, true, true]);
    expect(inspected('bracket', after)).toEqual([]);
  });

  it('is told in a bracket where the cut lies behind something that no exposure holds', () => {
    const wide = blockTexture(160, SIDE, 21).data.map((v) => 1 - v);
    /** A bar from one place to another, before a window of 56 px that is burnt. */
    const before = (x0: number, seed: number): Plane => {
      const data = scene.data.slice();
      for (let y = 0; y < SIDE; y++) data.set(wide.subarray(y * 160, (y + 1) * 160), (96 + y) * W + x0);
      const noisy = addNoise({ ...scene, data }, 0.004, seed);
      return { ...noisy, data: noisy.data.map((v, i) => (i % W >= 128 && i % W < 184 ? 1 : v)) };
    };
    const [one, other] = [before(72, 1), before(96, 2)];
    const found = (merge: Plane) => foundIn('bracket', merge, [one, other]);
    const ghosts = found(pasteRect(one, other, 160, 0, W - 160, H)).filter((d) => d.defect === 'ghost');
    expect(ghosts).toHaveLength(1);
    const { x, y, width, height } = ghosts[0]!.bbox;
    expect([x < 128, x + width > 184, y > 80, y + height < 160]).toEqual([true, true, true, true]);
    expect(found(one).filter((d) => d.defect === 'ghost')).toEqual([]);
  });

  it('is told in a bracket by tone alone, before lamps that are burnt: no window of texture beside them tells', () => {
    /** Something dark and even, 60 px wide, before an even wall with burnt stripes, 16 px apart. */
    const before = (x0: number, seed: number): Plane => {
      const wall = { ...scene, data: scene.data.map((_, i) => ((i % W) % 20 < 4 ? 1 : 0.72)) };
      const data = wall.data.map((v, i) => {
        const [x, y] = [i % W, Math.floor(i / W)];
        return x >= x0 && x < x0 + 60 && y >= 100 && y < 140 ? 0.25 : v;
      });
      const noisy = addNoise({ ...wall, data }, 0.004, seed);
      return { ...noisy, data: noisy.data.map((v, i) => (data[i] === 1 ? 1 : v)) };
    };
    const [one, other] = [before(96, 1), before(150, 2)];
    const found = (merge: Plane) => foundIn('bracket', merge, [one, other]);
    const ghosts = found(pasteRect(one, other, 126, 0, W - 126, H)).filter((d) => d.defect === 'ghost');
    expect(ghosts).toHaveLength(1);
    // What is left of it, and where the rest should be: from 96 to 156.
    const { x, y, width, height } = ghosts[0]!.bbox;
    expect([x <= 108, x + width >= 148, y <= 108, y + height >= 132]).toEqual([true, true, true, true]);
    expect(found(one).filter((d) => d.defect === 'ghost')).toEqual([]);
  });

  it('is water or leaves in a panorama, whose views are taken at other moments', () => {
    expect(inspected('panorama', cut).filter((d) => d.defect === 'ghost')).toEqual([]);
  });
});

describe('in a focus stack', () => {
  // Something crosses a scene, a step with each frame, while the focus goes through it: each frame is blurred by its own distance.
  const STEP = 24;
  const focus = [0, 1, 2, 3, 4, 5];
  const planes = focus.map((k) => {
    const blur = 0.5 * Math.abs(k - 3);
    return addNoise(
      blur > 0 ? gaussianBlur(at(60 + STEP * k, 10 + k), blur) : at(60 + STEP * k, 10 + k),
      0.002,
      40 + k,
    );
  });
  const frames = (): AlignedFrame[] => planes.map((p) => frameOf(kernels, p));
  const inspected = (merge: Plane) => inspectSmall(kernels, 'focus-stack', frameOf(kernels, merge), frames());

  it('half of a thing from one frame is a ghost, not softness, whichever frame shows the rest', () => {
    // The thing of the sharp frame lies from 132 to 176; right of its middle another moment is shown.
    const merge = pasteRect(planes[3]!, planes[2]!, 152, 80, 60, 80);
    const { found, trace } = inspected(merge);
    const ghosts = found.filter((d) => d.defect === 'ghost');
    expect(ghosts).toHaveLength(1);
    expect(found.filter((d) => d.defect === 'soft-patch')).toEqual([]);
    const { bbox, measurements } = ghosts[0]!;
    expect(bbox.x < 152 && bbox.x + bbox.width > 160 && bbox.y < 110 && bbox.y + bbox.height > 125).toBe(true);
    expect(measurements['shownPart']!.value).toBeGreaterThan(0.1);
    expect(measurements['shownPart']!.value).toBeLessThan(0.8);
    expect(trace(ghosts[0]!)).toMatchObject({ repairable: true, cause: expect.stringContaining('shows a part of it') });
  });

  it('a thing that is half see-through is one', () => {
    const data = planes[3]!.data.map((v, i) => 0.5 * v + 0.5 * planes[2]!.data[i]!);
    expect(inspected({ ...planes[3]!, data }).found.map((d) => d.defect)).toContain('ghost');
  });

  it('a thing shown whole is none, nor does its detail speak for softness where another moment is shown', () => {
    expect(inspected(planes[3]!).found).toEqual([]);
    // The thing of frame 3 is left out: the scene there is from another frame, in which it has not come yet.
    const without = pasteRect(planes[3]!, planes[2]!, 156, 88, 24, 60);
    const soft = inspected(pasteRect(without, planes[4]!, 128, 88, 28, 60)).found;
    expect(soft.filter((d) => d.defect === 'soft-patch')).toEqual([]);
  });
});

describe('a thing before even ground, half see-through, in a panorama', () => {
  // Only the scene around it tells what tone is usual.
  const sky = { ...scene, data: scene.data.map((v, i) => (i < (W * H) / 2 ? 0.62 + 0.0003 * (i % W) : v)) };
  const withBird = (depth: number, seed: number): Plane => {
    const data = sky.data.map((v, i) => {
      const [x, y] = [(i % W) - 160, Math.floor(i / W) - 60 - 0.006 * ((i % W) - 160) ** 2];
      return Math.abs(x) < 40 && Math.abs(y) < 6 ? v - depth : v;
    });
    return addNoise({ ...sky, data }, 0.004, seed);
  };
  const frames = (): AlignedFrame[] => [withBird(0.3, 1), withBird(0, 2)].map((p) => frameOf(kernels, p));
  const found = (merge: Plane) => inspectSmall(kernels, 'panorama', frameOf(kernels, merge), frames());

  it('is a ghost, by how strongly it is shown; either moment mends it', () => {
    const { found: ghosts, trace } = found(withBird(0.14, 3));
    expect(ghosts.map((d) => d.defect)).toEqual(['ghost']);
    expect(ghosts[0]!.measurements['shownStrength']!.value).toBeCloseTo(0.14 / 0.3, 1);
    const { x, y, width, height } = ghosts[0]!.bbox;
    expect([x > 100, x + width < 220, y > 36, y + height < 96]).toEqual([true, true, true, true]);
    expect(trace(ghosts[0]!)).toMatchObject({ repairable: true, cause: expect.stringContaining('mixes them') });
  });

  it('is none where it is whole or gone, nor where all of the merge is toned as weakly', () => {
    for (const depth of [0.3, 0]) expect(found(withBird(depth, 3)).found).toEqual([]);
    const flat = { ...sky, data: withBird(0.3, 3).data.map((v) => 0.25 + 0.5 * v) };
    expect(found(flat).found.filter((d) => d.defect === 'ghost')).toEqual([]);
  });
});

it.each([8, 12])(
  'what creeps through a stack, %i px a frame, stands out only at its ends: cut, it is still one ghost',
  (step) => {
    const planes = Array.from({ length: 7 }, (_, k) => {
      const moment = at(60 + step * k, 10 + k);
      const blur = 0.4 * Math.abs(k - 3);
      return addNoise(blur > 0 ? gaussianBlur(moment, blur) : moment, 0.002, 40 + k);
    });
    const inspected = (merge: Plane) => foundIn('focus-stack', merge, planes);
    const middle = 60 + 3 * step + SIDE / 2;
    const cut = pasteRect(planes[3]!, planes[0]!, middle, 80, W - middle, 80);
    const ghosts = inspected(cut).filter((d) => d.defect === 'ghost');
    expect(ghosts).toHaveLength(1);
    const { x, width } = ghosts[0]!.bbox;
    expect([x < middle, x + width > middle]).toEqual([true, true]);
    expect(inspected(planes[3]!).filter((d) => d.defect === 'ghost')).toEqual([]);
  },
);
