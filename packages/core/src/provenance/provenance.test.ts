// Cells joined and surrounds read: held against direct sums; spread light measured at every width.
import { makeRandom } from '../testing/pictures';
import { openTestKernels } from '../testing/openTestKernels';
import { frameOf, occludedSeries } from '../testing/stack';
import type { Kernels } from '../kernels';
import { cellTent } from './cellTent';
import { coarserCells } from './coarserCells';
import { gatherCells, makeGlowFinder, sharpestFrames, type CellStack } from './index';

let kernels: Kernels;
beforeAll(async () => {
  kernels = await openTestKernels();
});

describe('cellTent', () => {
  const random = makeRandom(4);
  const [width, height] = [9, 7];
  const plane = Float32Array.from({ length: width * height }, () => random());

  it('weights the surround by [1 2 3 2 1] in rows and columns', () => {
    let sum = 0;
    for (let dy = -2; dy <= 2; dy++) {
      for (let dx = -2; dx <= 2; dx++) {
        sum += (3 - Math.abs(dx)) * (3 - Math.abs(dy)) * plane[(3 + dy) * width + 4 + dx]!;
      }
    }
    expect(cellTent(width, height).meanAt(plane, 3 * width + 4)).toBeCloseTo(sum / 81, 6);
  });

  it('keeps a constant at corners, where the surround is cut off', () => {
    const flat = new Float32Array(width * height).fill(0.3);
    expect(cellTent(width, height).meanAt(flat, 0)).toBeCloseTo(0.3, 6);
    expect(cellTent(width, height).textureAt(flat, 0)).toBe(0);
  });

  it('sees no texture in a gradient, and the variance of a chequer in a chequer on a gradient', () => {
    const { textureAt } = cellTent(width, height);
    const at = 3 * width + 4;
    const cells = (value: (x: number, y: number) => number): Float32Array =>
      Float32Array.from(plane, (_, i) => value(i % width, Math.floor(i / width)));
    expect(
      textureAt(
        cells((x, y) => 0.1 * x - 0.05 * y),
        at,
      ),
    ).toBeCloseTo(0, 6);
    const chequer = (x: number, y: number): number => ((x + y) % 2 === 0 ? 0.1 : -0.1);
    // The tent's mean of a chequer is (1/81)·0.1 squared off its mean square.
    expect(
      textureAt(
        cells((x, y) => 0.1 * x + chequer(x, y)),
        at,
      ),
    ).toBeCloseTo(0.01 - (0.1 / 81) ** 2, 5);
  });
});

describe('coarserCells', () => {
  it('joins 2 × 2 cells to their mean and keeps the odd column for itself', () => {
    const data = Float32Array.from({ length: 15 }, (_, i) => i);
    const picture = { fine: data, middle: data, coarse: data, mean: [data, data, data] as const };
    const valid = new Uint8Array(15).fill(1);
    valid[6] = 0;
    const stack: CellStack = {
      region: { x: 0, y: 0, width: 20, height: 12 },
      width: 5,
      height: 3,
      merge: null,
      frames: [{ ...picture, valid, residual: data }],
      unexplained: data,
      noise: [0, 0],
      noiseMiddle: data,
    };
    const half = coarserCells(stack);
    expect([half.width, half.height]).toEqual([3, 2]);
    expect([...half.frames[0]!.fine]).toEqual([3, 5, 6.5, 10.5, 12.5, 14]);
    expect([...half.frames[0]!.valid]).toEqual([0, 1, 1, 1, 1, 1]);
  });
});

describe('makeGlowFinder', () => {
  const [width, height, edgeX] = [384, 256, 192];
  const planes = occludedSeries(width, height, edgeX, 11, 12);
  const gather = (merge: number): CellStack =>
    gatherCells(
      kernels,
      frameOf(kernels, planes[merge]!),
      planes.map((p) => frameOf(kernels, p)),
      { x: 0, y: 0, width, height },
    );
  const cellAt = (stack: CellStack, x: number): number => 32 * stack.width + (x >> 2);

  it('measures the share of the near thing that a blurred edge leaves 10 px outside it', () => {
    const stack = gather(11);
    const glow = makeGlowFinder(stack, sharpestFrames(stack)).inMerge(cellAt(stack, edgeX + 10), 'first')!;
    // Closed form: a cover blurred by σ = 16.5 px leaves Φ(−10.5/16.5) = 0.26 at that cell's middle.
    expect(glow.edgeFrame).toBeLessThanOrEqual(1);
    expect(glow.share).toBeGreaterThan(0.15);
    expect(glow.share).toBeLessThan(0.6);
    expect(glow.growth).toBeGreaterThan(0);
    expect(glow.leastFrame).toBeLessThan(6);
  });

  it('reaches light 32 px outside the edge, wider than the finest cells are searched', () => {
    const stack = gather(11);
    const finder = makeGlowFinder(stack, sharpestFrames(stack));
    expect(finder.inMerge(cellAt(stack, edgeX + 32), 'first')).not.toBeNull();
    expect(finder.inFrame(cellAt(stack, edgeX + 32), 11, 'first')).not.toBeNull();
  });

  it('finds none in a merge that shows the frame of the near edge', () => {
    const stack = gather(0);
    const glow = makeGlowFinder(stack, sharpestFrames(stack)).inMerge(cellAt(stack, edgeX + 10), 'first');
    expect(glow === null || glow.share < 0.05).toBe(true);
  });
});
