// Frames chosen place by place, and the parts that come of it: on stacks of cells and in pictures whose halves differ.
import { gatherCells } from '../cells';
import { similarityGeometry, type AlignedFrame } from '../frame';
import { paintArea, type Plane } from '../image';
import { planeView, type Kernels } from '../kernels';
import { openTestKernels } from '../testing/openTestKernels';
import { addNoise, blockTexture } from '../testing/pictures';
import { blurredSeries, frameOf, occludedSeries } from '../testing/stack';
import {
  chooseFrames,
  layeredShape,
  liftedTone,
  operationRegion,
  outlineInMerge,
  partsOfMask,
  renderRepair,
  shapeRegion,
  type Operation,
  type ToneField,
} from './index';

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
    const [left, right] = chosenOn(chooseFrames(stack, 'first', none).frames);
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
    const [left, right] = chosenOn(chooseFrames(stack, 'shown', none).frames);
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
    const { frames: chosen } = chooseFrames(stack, 'beside', strip);
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

  it('lies side by side, the farthest first, where an end is near: nothing is laid over what is nearer, and outlines have no holes', () => {
    const isRing = (x: number, y: number): boolean => {
      const apart = Math.hypot(x - 25, y - 32);
      return apart > 6 && apart < 13;
    };
    const whole = new Uint8Array(across * down).fill(1);
    // A near ring, frame 1, before a background that is sharp in frame 6.
    const chosen = whole.map((_, i) => (isRing(i % across, Math.floor(i / across)) ? 1 : 6));
    const parts = partsOfMask(whole, chosen, across, down, { nearSide: 'first' });
    const donors = parts.map((p) => p.donor);
    expect(donors).toEqual([...donors].sort((a, b) => b - a));
    expect(partsOfMask(whole, chosen, across, down, { nearSide: 'last' }).map((p) => p.donor)).toEqual(
      donors.toReversed(),
    );
    const covered = new Uint8Array(across * down);
    for (const { points } of parts) {
      const corners = points.map(([x, y]) => [x / across, y / down] as const);
      paintArea([{ kind: 'polygon', corners }], across, down).data.forEach((v, i) => (covered[i]! += v));
    }
    expect(covered.every((v) => v === 1)).toBe(true);
  });

  it('holes are filled, but for those that must not be covered', () => {
    const hole = (x: number, y: number): boolean => x >= 20 && x < 26 && y >= 8 && y < 14;
    const holed = mask.map((v, i) => (v && !hole(i % across, Math.floor(i / across)) ? 1 : 0));
    const chosen = new Uint8Array(mask.length).fill(3);
    const count = (open?: Uint8Array): number => {
      const [only, ...others] = partsOfMask(holed, chosen, across, down, { open });
      expect(others).toEqual([]);
      const corners = only!.points.map(([x, y]) => [x / across, y / down] as const);
      return paintArea([{ kind: 'polygon', corners }], across, down).data.reduce((sum, v) => sum + v, 0);
    };
    const inMask = mask.reduce((sum, v) => sum + v, 0);
    expect(count()).toBe(inMask);
    expect(count(new Uint8Array(mask.length).fill(1))).toBe(inMask - 36);
  });

  it('leaves out what no frame covers', () => {
    expect(partsOfMask(mask, new Uint8Array(mask.length).fill(255), across, down)).toEqual([]);
  });
});

describe('a place mended as a merge of the stack would show it', () => {
  const [edge, count] = [160, 5];
  const series = occludedSeries(W, H, edge, 4, count);
  // Sharp before the edge as the nearest shows it, and behind it as the farthest would without the near light.
  const near = blockTexture(W, H, 4).data.map((v) => 0.55 + 0.4 * v);
  const ideal = blockTexture(W, H, 5).data.map((v, i) => (i % W < edge ? near[i]! : 0.1 + 0.15 * v));
  /** Root mean square error of a picture in columns beside the edge. */
  const off = (shown: Float32Array, from: number, to: number): number => {
    const here = Array.from(shown.keys()).filter((i) => i % W >= from && i % W < to && i > 16 * W && i < (H - 16) * W);
    return Math.sqrt(here.reduce((sum, i) => sum + (shown[i]! - ideal[i]!) ** 2, 0) / here.length);
  };
  const rendered = (lifts: boolean): Float32Array => {
    const frames = series.map((p) => frameOf(kernels, p));
    const chosen = chooseFrames(gatherCells(kernels, null, frames, whole), 'first', new Uint8Array(across * down));
    const grid = { width: across, height: down, x: 0, y: 0 };
    const parts = partsOfMask(new Uint8Array(across * down).fill(1), chosen.frames, across, down, {
      nearSide: 'first',
    });
    const operations = parts.map(({ donor, points }): Operation => {
      const shape = layeredShape(outlineInMerge(points, whole));
      const tone = lifts ? liftedTone(shapeRegion(shape), donor, chosen, grid) : null;
      return { donor, shape, ...(tone && { tone }) };
    });
    // What the parts leave out would show as black.
    const base = frameOf(kernels, { width: W, height: H, data: new Float32Array(W * H) });
    return kernels.scope(() => planeView(kernels, renderRepair(kernels, base, frames, operations, whole), 1).slice());
  };

  it('keeps the near edge, and behind it is free of the light that every frame with detail there has', () => {
    const [lifted, plain] = [rendered(true), rendered(false)];
    const far = series.at(-1)!.data;
    expect(off(far, edge, edge + 24)).toBeGreaterThan(0.08);
    expect(off(lifted, edge + 2, edge + 24)).toBeLessThan(off(plain, edge + 2, edge + 24));
    expect(off(lifted, edge + 2, edge + 24)).toBeLessThan(0.35 * off(far, edge + 2, edge + 24));
    // Before the edge the near frame is shown as it is.
    expect(off(lifted, edge - 24, edge - 2)).toBeLessThan(0.02);
    expect(off(lifted, 24, W - 24)).toBeLessThan(0.03);
  });
});

describe('liftedTone', () => {
  const grid = { width: across, height: down, x: 0, y: 0 };
  const frames = Uint8Array.from({ length: across * down }, (_, i) => (i % across < 40 ? 3 : 1));
  const lift = new Float32Array(3 * across * down);
  frames.forEach((k, i) => k === 3 && lift.set([-0.1, 0, 0.05], 3 * i));
  const touched = { x: 100, y: 60, width: 100, height: 80 };
  const at = (field: ToneField, column: number): number[] => field.values.slice(3 * column, 3 * column + 3);

  it('is what its own frame’s cells say, carried on so far as a mask fades, and nothing of other frames', () => {
    const field = liftedTone(touched, 3, { frames, lift }, grid)!;
    expect([field.columns, field.rows]).toEqual([25, 20]);
    expect(at(field, 0)).toEqual([-0.1, 0, 0.05]);
    // Cells of the other frame begin at 160 px: 15 of 25 nodes further right; four cells on the field still holds.
    expect(at(field, 18)).toEqual([-0.1, 0, 0.05]);
    expect(at(field, 24)).toEqual([0, 0, 0]);
    expect(liftedTone(touched, 1, { frames, lift }, grid)).toBeNull();
    expect(liftedTone(touched, 3, { frames, lift: null }, grid)).toBeNull();
  });

  it('reaches beyond the picture as it does within, and is no finer than a record may be', () => {
    const wide = liftedTone({ x: -12, y: -12, width: 400, height: 90 }, 3, { frames, lift }, grid)!;
    expect(wide.columns).toBe(48);
    expect(at(wide, 0)).toEqual([-0.1, 0, 0.05]);
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
