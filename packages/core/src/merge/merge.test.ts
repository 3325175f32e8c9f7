// Labels and fusion on stacks built in code.
import { makePlane, quantile } from '../image';
import { planeView, type Kernels } from '../kernels';
import { gatherCells } from '../cells';
import { nearSideOf } from '../defocus';
import { openTestKernels } from '../testing/openTestKernels';
import { blockTexture } from '../testing/pictures';
import { blurredSeries, frameOf, pasteRect, STACK_NOISE } from '../testing/stack';
import { fuseBands, fuseRegion, measureBorders, proposeLabels, regulariseLabels, type LabelGrid } from './index';

let kernels: Kernels;
beforeAll(async () => {
  kernels = await openTestKernels();
});

const W = 256;
const H = 192;
const REGION = { x: 0, y: 0, width: W, height: H };

describe('a focus merge of two depths', () => {
  const focus = [0, 1, 2];
  const left = blurredSeries(W, H, 3, 0, focus);
  const right = blurredSeries(W, H, 4, 2, focus);
  const planes = focus.map((_, k) => pasteRect(left[k]!, right[k]!, 128, 0, 128, H));
  const truth = pasteRect(blockTexture(W, H, 3), blockTexture(W, H, 4), 128, 0, 128, H);

  function merge(): { grid: LabelGrid; out: Float32Array } {
    const frames = planes.map((p) => frameOf(kernels, p));
    const stack = gatherCells(kernels, null, frames, REGION);
    const proposal = proposeLabels(stack);
    const { labels } = proposal.sides[nearSideOf(proposal.votes)]!;
    const grid = regulariseLabels({ width: stack.width, height: stack.height, labels }, proposal.weight);
    const out = kernels.scope(() => planeView(kernels, fuseRegion(kernels, frames, grid, REGION, W, H)).slice());
    return { grid, out };
  }

  it('labels each side with its sharp frame and gives the all-sharp picture back within noise', () => {
    const { grid, out } = merge();
    expect(grid.labels[20 * grid.width + 10]).toBe(0);
    expect(grid.labels[20 * grid.width + 50]).toBe(2);
    const errors: number[] = [];
    for (let y = 0; y < H; y++) {
      for (let x = 0; x < W; x++)
        if (Math.abs(x - 128) > 16) errors.push(Math.abs(out[y * W + x]! - truth.data[y * W + x]!));
    }
    expect(quantile(errors, 0.5)).toBeLessThan(STACK_NOISE);
    expect(quantile(errors, 0.99)).toBeLessThan(5 * STACK_NOISE);
  });

  it('keeps a frame where it is nearly the sharpest, and takes others only where it lacks', () => {
    const frames = planes.map((p) => frameOf(kernels, p));
    const stack = gatherCells(kernels, null, frames, REGION);
    const free = proposeLabels(stack);
    const kept = proposeLabels(stack, { keep: 0 });
    const count = (labels: Uint8Array, label: number): number => labels.filter((l) => l === label).length;
    expect(count(kept.sides.first!.labels, 0)).toBeGreaterThanOrEqual(count(free.sides.first!.labels, 0));
    expect(kept.sides.first!.labels[20 * 64 + 50]).toBe(2);
  });

  it('which end is near need not be guessed where it is known: the other one is not proposed for', () => {
    const frames = planes.map((p) => frameOf(kernels, p));
    const stack = gatherCells(kernels, null, frames, REGION);
    const [both, known] = [proposeLabels(stack), proposeLabels(stack, { nearEnd: 'last' })];
    expect(Object.keys(known.sides)).toEqual(['last']);
    expect(known.sides.last).toEqual(both.sides.last);
  });

  it('fused band by band it is all sharp on both sides, too', () => {
    const frames = planes.map((p) => frameOf(kernels, p));
    const out = kernels.scope(() => planeView(kernels, fuseBands(kernels, frames, REGION, W, H)).slice());
    const errors: number[] = [];
    for (let y = 0; y < H; y++)
      for (let x = 0; x < W; x++)
        if (Math.abs(x - 128) > 24) errors.push(Math.abs(out[y * W + x]! - truth.data[y * W + x]!));
    expect(quantile(errors, 0.5)).toBeLessThan(1.5 * STACK_NOISE);
    expect(quantile(errors, 0.95)).toBeLessThan(8 * STACK_NOISE);
  });

  it('gives the same pixels for a part as for the whole', () => {
    const { grid, out } = merge();
    const frames = planes.map((p) => frameOf(kernels, p));
    const part = { x: 96, y: 64, width: 80, height: 64 };
    const piece = kernels.scope(() => planeView(kernels, fuseRegion(kernels, frames, grid, part, W, H)).slice());
    let worst = 0;
    for (let y = 0; y < part.height; y++) {
      for (let x = 0; x < part.width; x++) {
        worst = Math.max(worst, Math.abs(piece[y * part.width + x]! - out[(part.y + y) * W + part.x + x]!));
      }
    }
    expect(worst).toBeLessThan(2e-3);
  });
});

describe('regulariseLabels', () => {
  it('fills plain areas from their surroundings and votes out crumbs', () => {
    const labels = new Uint8Array(40 * 30).fill(3);
    const weight = new Float32Array(40 * 30).fill(1);
    labels[15 * 40 + 20] = 9;
    weight[15 * 40 + 20] = 0.05;
    for (let i = 0; i < 5; i++) {
      labels[5 * 40 + 5 + i] = 0;
      weight[5 * 40 + 5 + i] = 0;
    }
    const out = regulariseLabels({ width: 40, height: 30, labels }, weight);
    expect(new Set(out.labels)).toEqual(new Set([3]));
  });

  it('keeps labels where everything is sure', () => {
    const labels = Uint8Array.from({ length: 40 * 30 }, (_, i) => (i % 40 < 20 ? 1 : 2));
    expect(regulariseLabels({ width: 40, height: 30, labels }, new Float32Array(1200).fill(1)).labels).toEqual(labels);
  });
});

it('borders are counted in parts and px: a disc of 10 cells in a field of another label', () => {
  const labels = new Uint8Array(40 * 30);
  for (let y = 10; y < 20; y++) labels.fill(1, y * 40 + 10, y * 40 + 20);
  labels[0] = 255;
  expect(measureBorders({ width: 40, height: 30, labels })).toEqual({ parts: 2, lengthPx: 160 });
});

it('one frame alone passes through fusion unchanged within 1e-4', () => {
  const plane = blockTexture(128, 96, 2);
  const frame = frameOf(kernels, plane);
  const grid = { width: 32, height: 24, labels: new Uint8Array(32 * 24) };
  const out = kernels.scope(() =>
    planeView(kernels, fuseRegion(kernels, [frame], grid, { x: 0, y: 0, width: 128, height: 96 }, 128, 96)).slice(),
  );
  const reference = makePlane(128, 96);
  reference.data.set(plane.data);
  for (let i = 0; i < out.length; i++) expect(Math.abs(out[i]! - reference.data[i]!)).toBeLessThan(1e-4);
});
