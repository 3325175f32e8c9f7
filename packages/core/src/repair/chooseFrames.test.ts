// Frames chosen place by place, and the parts that come of it: on stacks of cells and in pictures whose halves differ.
import { gatherCells } from '../cells';
import { similarityGeometry, type AlignedFrame } from '../frame';
import type { Plane } from '../image';
import { planeView, type Kernels } from '../kernels';
import { openTestKernels } from '../testing/openTestKernels';
import { addNoise, blockTexture } from '../testing/pictures';
import { blurredSeries, frameOf } from '../testing/stack';
import { chooseFrames, operationRegion, outlineInMerge, partsOfMask, renderRepair, type Operation } from './index';

const [W, H] = [320, 256];
const [across, down] = [W / 4, H / 4];
const whole = { x: 0, y: 0, width: W, height: H };
let kernels: Kernels;
beforeAll(async () => {
  kernels = await openTestKernels();
});

/** The left half of one picture and the right half of another. */
function halves(left: Plane, right: Plane): Plane {
  return { ...left, data: left.data.map((v, i) => (i % W < W / 2 ? v : right.data[i]!)) };
}

/** Shares of the frames chosen on the left and on the right, away from the border between them. */
function chosenOn(chosen: Uint8Array): [left: number[], right: number[]] {
  const share = (k: number, from: number, to: number): number => {
    const cells = Array.from(chosen.keys()).filter((i) => i % across >= from && i % across < to);
    return cells.filter((i) => chosen[i] === k).length / cells.length;
  };
  const at = (from: number, to: number): number[] => [0, 1].map((k) => share(k, from, to));
  return [at(0, across / 2 - 6), at(across / 2 + 6, across)];
}

describe('chooseFrames', () => {
  const none = new Uint8Array(across * down);

  it('as a merge of the stack would: each half from the frame that is sharp there', () => {
    const [sharp, soft] = blurredSeries(W, H, 3, 1, [0, 2.5]).map((p) => addNoise(p, 0.002, 5)) as [Plane, Plane];
    const frames = [halves(sharp, soft), halves(soft, sharp)].map((p) => frameOf(kernels, p));
    const stack = gatherCells(kernels, null, frames, whole);
    const [left, right] = chosenOn(chooseFrames(stack, 'first', none));
    expect(left[0]).toBeGreaterThan(0.95);
    expect(right[1]).toBeGreaterThan(0.95);
  });

  it('as they are shown, also where the merge is lighter than they are', () => {
    const [a, b] = [blockTexture(W, H, 3), blockTexture(W, H, 4)].map((p) => addNoise(p, 0.002, 6)) as [Plane, Plane];
    const shown = halves(b, a);
    const merge = frameOf(kernels, { ...shown, data: shown.data.map((v) => Math.min(1, v + 0.03)) });
    const stack = gatherCells(
      kernels,
      merge,
      [a, b].map((p) => frameOf(kernels, p)),
      whole,
    );
    const [left, right] = chosenOn(chooseFrames(stack, 'shown', none));
    expect([left[1], right[0]].every((v) => v! > 0.95)).toBe(true);
  });

  it('as they are shown beside a strip, each only where it reaches', () => {
    const a = addNoise(blockTexture(W, H, 3), 0.002, 6);
    const moved = (tx: number): AlignedFrame => ({
      ...frameOf(kernels, a),
      geometry: similarityGeometry({ re: 1, im: 0, tx, ty: 0 }),
    });
    // The merge shows the first frame, which ends 40 px before its right edge, and nothing beyond; the second reaches all of it.
    const merge = frameOf(kernels, { ...a, data: a.data.map((v, i) => (i % W < W - 40 ? v : 0)) });
    const strip = Uint8Array.from(none, (_, i) => (i % across >= across - 14 ? 1 : 0));
    const other = { ...moved(0), source: frameOf(kernels, addNoise(blockTexture(W, H, 9), 0.002, 7)).source };
    const cut = { ...a, width: W - 40, data: new Float32Array((W - 40) * H) };
    for (let y = 0; y < H; y++) cut.data.set(a.data.subarray(y * W, y * W + W - 40), y * (W - 40));
    const stack = gatherCells(kernels, merge, [frameOf(kernels, cut), other], whole);
    const chosen = chooseFrames(stack, 'beside', strip);
    expect([chosen[across - 13], chosen[across - 1]]).toEqual([0, 1]);
  });
});

describe('partsOfMask', () => {
  const mask = Uint8Array.from({ length: across * down }, (_, i) => (i % across >= 10 && i % across < 40 ? 1 : 0));

  it('is one part per frame and piece, the largest first; crumbs go to what is around them', () => {
    const chosen = Uint8Array.from(mask, (_, i) => (i % across < 30 ? 2 : 5));
    chosen[20 * across + 20] = 7;
    const parts = partsOfMask(mask, chosen, across, down);
    expect(parts.map((p) => p.donor)).toEqual([2, 5]);
    const xs = parts[1]!.points.map(([x]) => x);
    expect([Math.min(...xs), Math.max(...xs)]).toEqual([30, 40]);
  });

  it('is never of more parts than an operation may have: of many islands the largest are kept', () => {
    const [wide, high] = [100, 60];
    const islands = Uint8Array.from({ length: wide * high }, (_, i) =>
      i % wide < 8 && i < 8 * wide ? 1 : i % wide > 9 && i % 3 === 0 && Math.floor(i / wide) % 2 === 0 ? 1 : 0,
    );
    const parts = partsOfMask(islands, new Uint8Array(islands.length).fill(4), wide, high);
    expect(parts.length).toBe(150);
    expect(Math.max(...parts[0]!.points.flat())).toBe(8);
  });

  it('leaves out what no frame covers', () => {
    expect(partsOfMask(mask, new Uint8Array(mask.length).fill(255), across, down)).toEqual([]);
  });
});

it('an operation of parts shows what its parts show one after the other, and touches all they touch', () => {
  const frames = [3, 4, 5].map((seed) => frameOf(kernels, blockTexture(W, H, seed)));
  const base = frameOf(kernels, blockTexture(W, H, 8));
  const part = (donor: number, x: number): Operation => ({
    donor,
    shape: {
      kind: 'outline',
      points: outlineInMerge([[x, 5], [x + 10, 5], [x + 10, 20], [x, 20]], whole), // prettier-ignore
      growPx: 4,
      featherPx: 8,
      strength: 1,
    },
  });
  const apart = [part(0, 10), part(2, 18), part(1, 40)];
  const [first, ...also] = apart;
  const joined: Operation = { ...first!, also };
  const shown = (operations: readonly Operation[]): Float32Array =>
    kernels.scope(() => planeView(kernels, renderRepair(kernels, base, frames, operations, whole), 1).slice());
  expect(shown([joined])).toEqual(shown(apart));
  const box = operationRegion(joined);
  for (const { x, y, width, height } of apart.map(operationRegion)) {
    expect(x >= box.x && y >= box.y && x + width <= box.x + box.width && y + height <= box.y + box.height).toBe(true);
  }
});
