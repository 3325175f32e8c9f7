// The merge's own tone evened: against halos and patches that are known everywhere.
import { planeView, type Kernels } from '../kernels';
import { openTestKernels } from '../testing/openTestKernels';
import { addNoise } from '../testing/pictures';
import { frameOf } from '../testing/stack';
import { fitEvening, isEvening, renderRepair, type OutlineShape } from './index';

let kernels: Kernels;
beforeAll(async () => {
  kernels = await openTestKernels();
});

const [W, H] = [192, 144];
const plane = (value: (x: number, y: number) => number): Float32Array =>
  Float32Array.from({ length: W * H }, (_, i) => value(i % W, Math.floor(i / W)));
/** A wall with a bright opening in it, and texture on both. */
const isOpen = (x: number, y: number): boolean => x >= 80 && x < 112 && y >= 40 && y < 104;
const scene = plane((x, y) => (isOpen(x, y) ? 0.75 : 0.3) + 0.03 * Math.sin(x / 1.7) * Math.cos(y / 2.3));
/** What exposures say of it: another tone, by brightness. */
const exposure = addNoise({ width: W, height: H, data: scene.map((v) => 0.9 * v + 0.02) }, 0.003, 4).data;
const SHAPE: OutlineShape = {
  ...{ kind: 'outline', growPx: 0, featherPx: 0, strength: 1 },
  points: [
    [48, 24],
    [144, 24],
    [144, 120],
    [48, 120],
  ],
};
const mask = plane((x, y) => (x >= 48 && x < 144 && y >= 24 && y < 120 ? 1 : 0));
/** A halo that ends at the opening's edge. */
const halo = plane((x, y) =>
  isOpen(x, y) || !mask[y * W + x]
    ? 0
    : 0.08 * Math.exp(-Math.hypot(Math.max(0, 80 - x, x - 111), Math.max(0, 40 - y, y - 103)) / 14),
);
const all = new Float32Array(W * H).fill(1);
const fit = (merge: Float32Array, holds: Float32Array = all) =>
  fitEvening([merge, merge, merge], [[exposure, exposure, exposure, holds]], mask, { width: W, height: H });

/** Fields are fitted to the whole picture, of which the mask is the inner part. */
const WHOLE: OutlineShape = {
  ...SHAPE,
  points: [
    [0, 0],
    [W, 0],
    [W, H],
    [0, H],
  ],
};

/** RMS of a merge against the scene, evened by a field. */
function left(merge: Float32Array, tone: ReturnType<typeof fit>): number {
  const base = frameOf(kernels, { width: W, height: H, data: merge });
  const operations = tone ? [{ donor: null, shape: WHOLE, tone }] : [];
  expect(operations.every(isEvening)).toBe(true);
  return kernels.scope(() => {
    const planes = renderRepair(kernels, base, [], operations, { x: 0, y: 0, width: W, height: H });
    const out = planeView(kernels, planes, 0);
    return Math.sqrt(out.reduce((s, v, i) => s + (v - scene[i]!) ** 2, 0) / out.length);
  });
}

it('takes a halo away on its side of an edge, leaves the other side and all detail, whatever tone the exposure has', () => {
  const merge = scene.map((v, i) => v + halo[i]!);
  const [before, after] = [left(merge, null), left(merge, fit(merge))];
  expect(before).toBeGreaterThan(0.015);
  expect(after).toBeLessThan(0.3 * before);
});

it('changes next to nothing where nothing is wrong', () => {
  expect(left(scene, fit(scene))).toBeLessThan(0.002);
});

it('evens a patch whose step is sharp, but for the step itself', () => {
  const merge = scene.map((v, i) => {
    const [x, y] = [i % W, Math.floor(i / W)];
    return x >= 114 && x < 140 && y >= 40 && y < 110 ? v - 0.04 : v;
  });
  expect(left(merge, fit(merge))).toBeLessThan(0.45 * left(merge, null));
});

it('leaves alone what no exposure holds, and tells nothing where none holds anything', () => {
  const merge = scene.map((v, i) => v + (isOpen(i % W, Math.floor(i / W)) ? 0.1 : halo[i]!));
  const holds = plane((x, y) => (isOpen(x, y) ? 0 : 1));
  const field = fit(merge, holds)!;
  const { columns, rows, levels = 1, values } = field;
  const middle = 3 * (((levels - 1) * rows + (rows >> 1)) * columns + (columns >> 1));
  expect(values.slice(middle, middle + 3)).toEqual([0, 0, 0]);
  expect(fit(merge, new Float32Array(W * H))).toBeNull();
});

it('acts on what earlier operations left, not on the merge as it came', () => {
  const base = frameOf(kernels, { width: W, height: H, data: scene });
  const other = frameOf(kernels, { width: W, height: H, data: scene.map((v) => v / 2) });
  const tone = { columns: 2, rows: 2, values: new Array<number>(12).fill(0.1) };
  const operations = [
    { donor: 0, shape: SHAPE },
    { donor: null, shape: SHAPE, tone },
  ];
  kernels.scope(() => {
    const out = planeView(
      kernels,
      renderRepair(kernels, base, [other], operations, { x: 0, y: 0, width: W, height: H }),
      0,
    );
    const at = 72 * W + 70;
    expect(out[at]).toBeCloseTo(scene[at]! / 2 + 0.1, 2);
  });
});

it('refuses pictures of different sizes', () => {
  expect(() => fitEvening([scene], [[scene]], mask, { width: W, height: 7 })).toThrow(
    'fitEvening.length: expected 1344 values',
  );
});

it('what was found on one side of an edge is evened there, and the other side stays as it is', () => {
  const cloud = plane((x, y) => (isOpen(x, y) && x < 96 ? 0.05 : 0));
  // The opening goes on to the picture's edge, so that its light has witnesses.
  const isLight = (x: number, y: number): boolean => isOpen(x, y) || y >= 124;
  const base = plane((x, y) => (isLight(x, y) ? 0.75 : 0.3));
  const merge = base.map((v, i) => v + halo[i]! + cloud[i]!);
  const shown = base.map((v) => 0.9 * v + 0.02);
  const found = Uint8Array.from(halo, (v, i) => (v > 0.04 && mask[i]! > 0 ? 1 : 0));
  const off = (wrong: Uint8Array | undefined, light: boolean): number => {
    const tone = fitEvening([merge, merge, merge], [[shown, shown, shown, all]], mask, { width: W, height: H }, wrong);
    const frame = frameOf(kernels, { width: W, height: H, data: merge });
    return kernels.scope(() => {
      const operations = [{ donor: null, shape: WHOLE, tone: tone! }];
      const region = { x: 0, y: 0, width: W, height: H };
      const out = planeView(kernels, renderRepair(kernels, frame, [], operations, region), 0);
      // What lies at the edge itself is smoothed between nodes.
      const isDeep = (x: number, y: number): boolean => x >= 84 && x < 92 && y >= 48 && y < 96;
      const [wanted, isThere] = light ? [merge, isDeep] : [base, (x: number, y: number) => !isLight(x, y)];
      return Math.sqrt(out.reduce((s, v, i) => s + (isThere(i % W, Math.floor(i / W)) ? (v - wanted[i]!) ** 2 : 0), 0));
    });
  };
  expect(off(found, true)).toBeLessThan(0.1 * off(undefined, true));
  expect(off(found, false)).toBeLessThan(1.1 * off(undefined, false));
});

it('where nobody says what was found, lightness that is rare in the picture is evened like any other', () => {
  const isLight = (x: number, y: number): boolean => (x >= 80 && x < 96 && y >= 40 && y < 104) || y >= 138;
  const base = plane((x, y) => (isLight(x, y) ? 0.9 : 0.3));
  const merge = plane((x, y) => base[y * W + x]! - (isLight(x, y) && y < 104 ? 0.06 : 0));
  const shown = base.map((v) => 0.9 * v + 0.02);
  const off = (found?: Uint8Array): number => {
    const tone = fitEvening([merge, merge, merge], [[shown, shown, shown, all]], mask, { width: W, height: H }, found)!;
    const frame = frameOf(kernels, { width: W, height: H, data: merge });
    return kernels.scope(() => {
      const region = { x: 0, y: 0, width: W, height: H };
      const out = planeView(
        kernels,
        renderRepair(kernels, frame, [], [{ donor: null, shape: WHOLE, tone }], region),
        0,
      );
      return Math.abs(out[72 * W + 88]! - base[72 * W + 88]!);
    });
  };
  expect(off()).toBeLessThan(0.02);
  expect(off(Uint8Array.from(base, (v) => (v < 0.5 ? 1 : 0)))).toBeGreaterThan(0.05);
});

it('what the exposure is burnt in stays as it is, however bright the halo beside it', () => {
  const pale = plane((x, y) => (isOpen(x, y) ? 0.62 : scene[y * W + x]!));
  const merge = pale.map((v, i) => v + 2.5 * halo[i]!);
  const isTold = plane((x, y) => (isOpen(x, y) ? 0 : 1));
  const tone = fit(merge, isTold)!;
  const base = frameOf(kernels, { width: W, height: H, data: merge });
  kernels.scope(() => {
    const operations = [{ donor: null, shape: WHOLE, tone }];
    const out = planeView(kernels, renderRepair(kernels, base, [], operations, { x: 0, y: 0, width: W, height: H }), 0);
    const inside = (x: number, y: number): boolean => x >= 88 && x < 104 && y >= 48 && y < 96;
    const beside = (x: number, y: number): boolean => !isOpen(x, y) && x >= 70 && x < 122 && y >= 40 && y < 104;
    const rms = (picture: Float32Array, isThere: typeof inside): number => {
      const off = Array.from(picture, (v, i) => (isThere(i % W, Math.floor(i / W)) ? (v - pale[i]!) ** 2 : NaN)).filter(
        (v) => !Number.isNaN(v),
      );
      return Math.sqrt(off.reduce((s, v) => s + v, 0) / off.length);
    };
    expect(rms(out, inside)).toBeLessThan(0.004);
    expect(rms(out, beside)).toBeLessThan(0.5 * rms(merge, beside));
  });
});

it('either side of an edge is evened by the exposure that holds it', () => {
  const dip = plane((x, y) => (isOpen(x, y) && x >= 96 ? -0.06 : 0));
  // The opening goes on to the picture's edge: there it is as it should be.
  const isLight = (x: number, y: number): boolean => isOpen(x, y) || y >= 124;
  const whole = plane((x, y) => (isLight(x, y) ? 0.75 : 0.3));
  const merge = whole.map((v, i) => v + halo[i]! + dip[i]!);
  const other = whole.map((v) => 0.9 * v + 0.02);
  const holding = (light: boolean): Float32Array[] => [
    ...[other, other, other],
    plane((x, y) => (isLight(x, y) === light ? 1 : 0)),
  ];
  const off = (frames: Float32Array[][], light: boolean): number => {
    const tone = fitEvening([merge, merge, merge], frames, mask, { width: W, height: H });
    const base = frameOf(kernels, { width: W, height: H, data: merge });
    const operations = tone ? [{ donor: null, shape: WHOLE, tone }] : [];
    return kernels.scope(() => {
      const out = planeView(
        kernels,
        renderRepair(kernels, base, [], operations, { x: 0, y: 0, width: W, height: H }),
        0,
      );
      return Math.sqrt(
        out.reduce((s, v, i) => s + (isOpen(i % W, Math.floor(i / W)) === light ? (v - whole[i]!) ** 2 : 0), 0),
      );
    });
  };
  const [dark, bright] = [holding(false), holding(true)];
  for (const [light, own, others] of [
    [true, bright, dark],
    [false, dark, bright],
  ] as const) {
    expect(off([own, others], light)).toBeLessThan(0.5 * off([], light));
    expect(off([others], light)).toBeGreaterThan(0.9 * off([], light));
  }
});
