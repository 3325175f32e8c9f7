// Filling a place from around it: from where, in which pieces, and how it is rendered.
import fc from 'fast-check';
import { planeView, type Kernels } from '../kernels';
import { openTestKernels } from '../testing/openTestKernels';
import { blockTexture, makeRandom } from '../testing/pictures';
import { frameOf } from '../testing/stack';
import { fillPieces, findFill, renderRepair, type OutlineShape } from './index';

const [W, H] = [120, 90];
const rect = (x0: number, y0: number, x1: number, y1: number): Uint8Array =>
  Uint8Array.from({ length: W * H }, (_, i) => {
    const [x, y] = [i % W, Math.floor(i / W)];
    return x >= x0 && x < x1 && y >= y0 && y < y1 ? 1 : 0;
  });
const planesOf = (value: (x: number, y: number) => number): Float32Array[] => {
  const plane = Float32Array.from({ length: W * H }, (_, i) => value(i % W, Math.floor(i / W)));
  return [plane, plane, plane];
};
const usableBut = (mask: Uint8Array): Uint8Array => mask.map((v) => 1 - v);

describe('findFill', () => {
  const mask = rect(50, 40, 62, 50);

  it('moves by whole periods of a pattern, in whatever light it continues', () => {
    const wave = (x: number, y: number): number => Math.sin((2 * Math.PI * x) / 17) + Math.sin((2 * Math.PI * y) / 23);
    const planes = planesOf((x, y) => 0.5 + 0.1 * wave(x, y) + 0.001 * x);
    const [dx, dy] = findFill({ width: W, height: H, planes, usable: usableBut(mask) }, mask, 40)!;
    expect([Math.abs(dx % 17), Math.abs(dy % 23)]).toEqual([0, 0]);
  });

  it('follows an edge instead of crossing it', () => {
    const random = makeRandom(3);
    const planes = planesOf((_x, y) => (y < 45 ? 0.2 : 0.8) + 0.01 * random());
    const [, dy] = findFill({ width: W, height: H, planes, usable: usableBut(mask) }, mask, 40)!;
    expect(dy).toBe(0);
  });

  it('takes nothing from what may not be used, and says when nothing is left', () => {
    const planes = planesOf(() => 0.5);
    // Only a strip below may be used.
    const strip = rect(0, 60, W, 80);
    const [dx, dy] = findFill({ width: W, height: H, planes, usable: strip }, mask, 40)!;
    expect([dy >= 20 && dy <= 30, 50 + dx >= 0 && 62 + dx <= W]).toEqual([true, true]);
    expect(findFill({ width: W, height: H, planes, usable: rect(0, 0, 5, 5) }, mask, 40)).toBeNull();
    expect(() => findFill({ width: W, height: H, planes, usable: strip }, new Uint8Array(4), 5)).toThrow(
      '10800 values',
    );
  });
});

describe('fillPieces', () => {
  const area = (p: readonly (readonly [number, number])[]): number =>
    Math.abs(p.reduce((sum, [x, y], k) => sum + x * p[(k + 1) % p.length]![1] - p[(k + 1) % p.length]![0] * y, 0)) / 2;

  it('cover an outline together, whatever its shape, and no more', () => {
    const corner = fc.tuple(fc.double({ min: 0, max: 900, noNaN: true }), fc.double({ min: 0, max: 60, noNaN: true }));
    fc.assert(
      fc.property(corner, corner, corner, (a, b, c) => {
        const pieces = fillPieces([a, b, c]);
        const sum = pieces.reduce((s, p) => s + area(p), 0);
        expect(sum).toBeCloseTo(area([a, b, c]), 5);
      }),
    );
  });

  it('a long strip comes in pieces about four times as long as wide, a speck in one', () => {
    const strip = [[0, 0], [960, 0], [960, 30], [0, 30]] as const; // prettier-ignore
    expect(fillPieces(strip)).toHaveLength(8);
    expect(fillPieces(strip.map(([x, y]) => [y, x] as const))).toHaveLength(8);
    expect(fillPieces([[5, 5], [17, 5], [17, 17], [5, 17]])).toHaveLength(1); // prettier-ignore
  });
});

describe('an operation with a shift', () => {
  let kernels: Kernels;
  beforeAll(async () => {
    kernels = await openTestKernels();
  });

  it('shows the merge from so far away, at full size and reduced, and nothing else changes', () => {
    const picture = blockTexture(W, H, 4);
    const base = frameOf(kernels, picture);
    const points = [[40, 30], [60, 30], [60, 45], [40, 45]] as const; // prettier-ignore
    const shape: OutlineShape = { kind: 'outline', points, growPx: 0, featherPx: 0, strength: 1 };
    const operation = { donor: null, shape, shift: [24, -12] as const };
    const at = (x: number, y: number): number => picture.data[y * W + x]!;
    kernels.scope(() => {
      const whole = renderRepair(kernels, base, [], [operation], { x: 0, y: 0, width: W, height: H });
      const view = planeView(kernels, whole, 0);
      expect(view[37 * W + 50]).toBeCloseTo(at(74, 25), 4);
      expect(view[20 * W + 50]).toBeCloseTo(at(50, 20), 4);
      // A part of it alone shows the same.
      const part = renderRepair(kernels, base, [], [operation], { x: 44, y: 32, width: 10, height: 8 });
      expect(planeView(kernels, part, 0)[5 * 10 + 6]).toBeCloseTo(view[37 * W + 50]!, 5);
      const half = renderRepair(kernels, base, [], [operation], { x: 0, y: 0, width: W / 2, height: H / 2 }, 2);
      const mean = (at(74, 24) + at(75, 24) + at(74, 25) + at(75, 25)) / 4;
      expect(Math.abs(planeView(kernels, half, 0)[18 * (W / 2) + 25]! - mean)).toBeLessThan(0.12);
    });
  });
});
