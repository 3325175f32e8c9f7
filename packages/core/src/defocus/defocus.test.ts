// Spilled light measured at every width, against the closed form of a blurred edge.
import { openTestKernels } from '../testing/openTestKernels';
import { frameOf, occludedSeries } from '../testing/stack';
import type { Kernels } from '../kernels';
import { gatherCells, sharpestFrames, type CellStack } from '../cells';
import { makeSpillFinder } from './index';

let kernels: Kernels;
beforeAll(async () => {
  kernels = await openTestKernels();
});

describe('makeSpillFinder', () => {
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
    const spill = makeSpillFinder(stack, sharpestFrames(stack)).inMerge(cellAt(stack, edgeX + 10), 'first')!;
    // Closed form: a cover blurred by σ = 16.5 px leaves Φ(−10.5/16.5) = 0.26 at that cell's middle.
    expect(spill.edgeFrame).toBeLessThanOrEqual(1);
    expect(spill.share).toBeGreaterThan(0.15);
    expect(spill.share).toBeLessThan(0.6);
    expect(spill.growth).toBeGreaterThan(0);
    expect(spill.leastFrame).toBeLessThan(6);
  });

  it('reaches light 32 px outside the edge, wider than the finest cells are searched', () => {
    const stack = gather(11);
    const finder = makeSpillFinder(stack, sharpestFrames(stack));
    expect(finder.inMerge(cellAt(stack, edgeX + 32), 'first')).not.toBeNull();
    expect(finder.inFrame(cellAt(stack, edgeX + 32), 11, 'first')).not.toBeNull();
  });

  it('finds none in a merge that shows the frame of the near edge', () => {
    const stack = gather(0);
    const spill = makeSpillFinder(stack, sharpestFrames(stack)).inMerge(cellAt(stack, edgeX + 10), 'first');
    expect(spill === null || spill.share < 0.05).toBe(true);
  });
});
