// Light of a near edge taken out of a sharp background: against the closed form of a disc that covers a share of it.
import { planeView, uploadPlanes, type Kernels } from '../kernels';
import type { CellFrame, CellStack } from '../cells';
import type { Spill } from '../defocus';
import { openTestKernels } from '../testing/openTestKernels';
import { makeRandom } from '../testing/pictures';
import { applyTones, clearSpill, VALUES_PER_CELL, type ToneGrid } from './clearSpill';

let kernels: Kernels;
beforeAll(async () => {
  kernels = await openTestKernels();
});

const [GW, GH] = [40, 30];
const [W, H] = [4 * GW, 4 * GH];
const NEAR = 0.9;
const random = makeRandom(3);
/** Background with detail of its own, per px. */
const background = Float32Array.from({ length: W * H }, () => 0.3 + 0.1 * (random() - 0.5));
/** Share of near light: most on the left, none from the middle on. */
const shareAt = (x: number): number => Math.max(0, 0.45 * (1 - x / (W / 2)));
const lit = background.map((b, i) => (1 - shareAt(i % W)) * b + shareAt(i % W) * NEAR);

function cellMeans(px: Float32Array): Float32Array {
  return Float32Array.from({ length: GW * GH }, (_, n) => {
    let sum = 0;
    for (let y = 0; y < 4; y++)
      for (let x = 0; x < 4; x++) sum += px[(4 * Math.floor(n / GW) + y) * W + 4 * (n % GW) + x]!;
    return sum / 16;
  });
}

function frameOf(mean: Float32Array): CellFrame {
  const none = new Float32Array(GW * GH);
  return {
    fine: none,
    middle: none,
    coarse: none,
    residual: none,
    mean: [mean, mean, mean],
    valid: new Uint8Array(GW * GH).fill(1),
    relation: null,
  };
}

/** Frame 0 shows the near thing sharp and the background as its mean; frame 1 the background sharp, under light. */
const stack: Pick<CellStack, 'frames' | 'width' | 'height'> = {
  frames: [frameOf(new Float32Array(GW * GH).fill(0.3)), frameOf(cellMeans(lit))],
  width: GW,
  height: GH,
};
const labels = new Uint8Array(GW * GH).fill(1);
const spills = Array.from({ length: GW * GH }, (_, n): Spill | null => {
  const share = shareAt(4 * (n % GW) + 2);
  if (share === 0) return null;
  const rest = { edgeFrame: 0, shown: 1, squaredError: 0, growth: 1, leastError: 0, leastFrame: 0, toneFrame: 0 };
  return { ...rest, share, errorOf: () => 0 };
});

function cleared(): Float32Array {
  const { cells, values } = clearSpill(stack, labels, spills);
  const grid: ToneGrid = { width: GW, height: GH, values: new Float32Array(GW * GH * VALUES_PER_CELL) };
  cells.forEach((cell, n) => {
    const [gain, ...offsets] = values.subarray(n * VALUES_PER_CELL, (n + 1) * VALUES_PER_CELL);
    grid.values.set([gain! - 1, ...offsets], cell * VALUES_PER_CELL);
  });
  return kernels.scope(() => {
    const planes = uploadPlanes(kernels, [lit, lit, lit], W, H);
    applyTones(kernels, planes, { x: 0, y: 0, width: W, height: H }, 1, labels, grid);
    return planeView(kernels, planes, 1).slice();
  });
}

function errorOf(px: Float32Array, from: number, to: number): { bias: number; rms: number } {
  let [sum, squares, n] = [0, 0, 0];
  for (let y = 8; y < H - 8; y++) {
    for (let x = from; x < to; x++, n++) {
      const d = px[y * W + x]! - background[y * W + x]!;
      sum += d;
      squares += d * d;
    }
  }
  return { bias: sum / n, rms: Math.sqrt(squares / n) };
}

describe('clearSpill', () => {
  it('takes nine tenths of the light out and keeps the detail', () => {
    const before = errorOf(lit, 8, 60);
    const after = errorOf(cleared(), 8, 60);
    expect(before.bias).toBeGreaterThan(0.1);
    expect(Math.abs(after.bias)).toBeLessThan(0.1 * before.bias);
    // Detail and all: what is left is a fraction of the background's own deviation of 0.029.
    expect(after.rms).toBeLessThan(0.012);
  });

  it('changes nothing where there is no light', () => {
    const after = cleared();
    for (let i = 0; i < after.length; i++) if (i % W > W / 2 + 4) expect(after[i]).toBe(lit[i]);
  });

  it('leaves pixels of other labels alone', () => {
    const { cells, values } = clearSpill(stack, labels, spills);
    const grid: ToneGrid = { width: GW, height: GH, values: new Float32Array(GW * GH * VALUES_PER_CELL) };
    cells.forEach((cell, n) => grid.values.set(values.subarray(n * 4, n * 4 + 4), cell * VALUES_PER_CELL));
    const out = kernels.scope(() => {
      const planes = uploadPlanes(kernels, [lit, lit, lit], W, H);
      applyTones(kernels, planes, { x: 0, y: 0, width: W, height: H }, 0, labels, grid);
      return planeView(kernels, planes, 0).slice();
    });
    expect(out).toEqual(lit);
  });
});
