// Pulls: what is moved lies where it was to lie, what is beside it gives way, tiles agree, and a broken line runs straight again.
import { lineProbe, sampleStrip } from '../instruments';
import { planeView, type KernelPlanes, type Kernels } from '../kernels';
import { openTestKernels } from '../testing/openTestKernels';
import { frameOf } from '../testing/stack';
import {
  layOperations,
  canGoOn,
  mostPull,
  pullLength,
  pullOperation,
  pullStraight,
  reachFor,
  renderMask,
  renderRepair,
  type Operation,
} from './index';

let kernels: Kernels;
beforeAll(async () => {
  kernels = await openTestKernels();
});

const [WIDTH, HEIGHT] = [200, 120];
const REGION = { x: 0, y: 0, width: WIDTH, height: HEIGHT };

/** A picture of a grey tone at each place, 0..1. */
function pictureOf(tone: (x: number, y: number) => number) {
  const data = Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) =>
    tone((i % WIDTH) + 0.5, Math.floor(i / WIDTH) + 0.5),
  );
  return frameOf(kernels, { width: WIDTH, height: HEIGHT, data });
}

/** A smooth spot at a place. */
const spot = (x: number, y: number, cx: number, cy: number): number =>
  0.15 + 0.7 * Math.exp(-((x - cx) ** 2 + (y - cy) ** 2) / (2 * 5 ** 2));

function lumaOf(planes: KernelPlanes): Float32Array {
  return planeView(kernels, planes, 0).slice();
}

function centreOf(luma: Float32Array): [number, number] {
  let [sx, sy, sum] = [0, 0, 0];
  luma.forEach((v, i) => {
    const w = Math.max(0, v - 0.2);
    sx += w * ((i % WIDTH) + 0.5);
    sy += w * (Math.floor(i / WIDTH) + 0.5);
    sum += w;
  });
  return [sx / sum, sy / sum];
}

it('a spot moves to where it was pulled, and what lies beyond reach stays', () => {
  kernels.scope(() => {
    const base = pictureOf((x, y) => spot(x, y, 90, 60));
    const pull = { knots: [[96, 57, 6, -3]] as const, reachPx: 60 };
    const before = lumaOf(renderRepair(kernels, base, [], [], REGION));
    const after = lumaOf(renderRepair(kernels, base, [], [pullOperation(pull)], REGION));
    const [x, y] = centreOf(after);
    expect(Math.hypot(x - 96, y - 57)).toBeLessThan(0.15);
    const changed = after.findIndex(
      (v, i) =>
        Math.hypot((i % WIDTH) + 0.5 - 96, Math.floor(i / WIDTH) + 0.5 - 57) > 60.8 && Math.abs(v - before[i]!) > 1e-6,
    );
    expect(changed).toBe(-1);
  });
});

it('tiles, reduced ones and states before and after others agree with the whole', () => {
  kernels.scope(() => {
    const base = pictureOf((x, y) => 0.5 + 0.25 * Math.sin(x / 7) * Math.cos(y / 9));
    const donor = pictureOf((x, y) => 0.5 + 0.25 * Math.cos(x / 5 + y / 11));
    const stroke = (points: readonly [number, number][]): Operation => ({
      donor: 0,
      shape: { kind: 'stroke', points, sizePx: 30, hardness: 0.5, strength: 1 },
    });
    const operations = [
      stroke([[80, 40], [110, 70]]), // prettier-ignore
      pullOperation({ knots: [[90, 50, 5, 2], [120, 50, -3, 4]], reachPx: 40 }), // prettier-ignore
      stroke([[100, 60]]), // prettier-ignore
      pullOperation({ knots: [[110, 70, 0, -6]], reachPx: 30 }),
    ];
    const whole = lumaOf(renderRepair(kernels, base, [donor], operations, REGION));
    for (const tile of [
      { x: 70, y: 30, width: 40, height: 40 },
      { x: 0, y: 0, width: 101, height: 61 },
      { x: 95, y: 55, width: 105, height: 65 },
    ]) {
      const part = lumaOf(renderRepair(kernels, base, [donor], operations, tile));
      const off = part.map((v, i) =>
        Math.abs(v - whole[(tile.y + Math.floor(i / tile.width)) * WIDTH + tile.x + (i % tile.width)]!),
      );
      expect(Math.max(...off)).toBeLessThan(1e-5);
    }
    // Half the size shows the same picture, as far as half the size can.
    const half = lumaOf(renderRepair(kernels, base, [donor], operations, { x: 0, y: 0, width: 100, height: 60 }, 2));
    const off = half.map((v, i) => {
      const at = 2 * Math.floor(i / 100) * WIDTH + 2 * (i % 100);
      return Math.abs(v - (whole[at]! + whole[at + 1]! + whole[at + WIDTH]! + whole[at + WIDTH + 1]!) / 4);
    });
    expect(off.reduce((a, b) => a + b, 0) / off.length).toBeLessThan(0.01);
    // Rendering goes on from a state only with what does not pull.
    expect([canGoOn(operations.slice(0, 1)), canGoOn(operations)]).toEqual([true, false]);
    const state = renderRepair(kernels, base, [donor], operations.slice(0, 2), REGION);
    layOperations(kernels, state, base, [donor], operations.slice(2, 3), REGION);
    const direct = lumaOf(renderRepair(kernels, base, [donor], operations.slice(0, 3), REGION));
    expect(Math.max(...lumaOf(state).map((v, i) => Math.abs(v - direct[i]!)))).toBeLessThan(1e-6);
    // Pulling paints no frame in.
    expect(Math.max(...renderMask(0, operations.slice(1, 2), REGION))).toBe(0);
  });
});

it('nothing is pulled so far that the picture folds over: columns keep their order at the utmost', () => {
  kernels.scope(() => {
    const reachPx = 40;
    const base = pictureOf((x) => x / WIDTH);
    const most = mostPull(reachPx);
    const pulled = pullOperation({ knots: [[100, 60, most, 0]], reachPx });
    const row = lumaOf(renderRepair(kernels, base, [], [pulled], { x: 40, y: 60, width: 120, height: 1 }));
    expect([...row].every((v, i) => i === 0 || v > row[i - 1]! - 1e-4)).toBe(true);
    expect(reachFor(most)).toBe(reachPx);
    const tooFar = pullOperation({ knots: [[100, 60, most + 1, 0]], reachPx });
    expect(() => renderRepair(kernels, base, [], [tooFar], REGION)).toThrow(/pull.knots.*at most within a reach of 40/);
  });
});

/** A dark cable from left to right that steps down by some px in the middle. */
const cable = (step: number) => pictureOf((x, y) => 0.8 - 0.6 * Math.exp(-((y - 60 - (x > 100 ? step : 0)) ** 2) / 4));

it('a cable that steps by 4 px runs straight after it has been pulled, and says by how much it was off', () => {
  kernels.scope(() => {
    const base = cable(4);
    const segment = { from: [40, 60], to: [160, 64] } as const;
    const track = (frame: typeof base) => {
      const strip = sampleStrip(kernels, frame, segment, 14);
      return lineProbe(strip, [], new Uint8Array(strip.length).fill(255))!;
    };
    const found = pullStraight(Array.from(track(base).merge), 1, segment, 20);
    if (!found || found === 'straight') throw new Error('expected a pull');
    // Half the step on either side of the middle.
    expect(found.offPx).toBeGreaterThan(1.5);
    expect(found.offPx).toBeLessThan(2.4);
    expect(found.askewDeg).toBeGreaterThan(4);
    expect(pullLength(found.pull)).toBeCloseTo(found.offPx, 1);
    const data = lumaOf(renderRepair(kernels, base, [], [pullOperation(found.pull)], REGION));
    const mended = track(frameOf(kernels, { width: WIDTH, height: HEIGHT, data }));
    expect(mended.breaks.filter((b) => b.isBroken)).toEqual([]);
    const after = pullStraight(Array.from(mended.merge), 1, segment, 20);
    expect(after).toBe('straight');
  });
});

describe('a cable that hangs in the frames', () => {
  const segment = { from: [40, 60], to: [160, 60] } as const;
  const length = 120;
  /** It hangs by 6 px in its middle; scattered as a line probe's tracks are. */
  const hung = (s: number): number => 4 * 6 * (s / length) * (1 - s / length) + 0.15 * Math.sin(3.7 * s);
  const places = Array.from({ length: length + 1 }, (_, k) => k);
  const broken = places.map((s) => hung(s) + (s > 50 ? 2 : 0) - (2 * s) / length);
  const part = (from: number, to: number) => places.map((s) => (s >= from && s < to ? hung(s) : NaN));

  it('is mended where it breaks and hangs as before, though no frame shows all of it', () => {
    const found = pullStraight(broken, 1, segment, 20, [part(0, 70), part(45, 121), null]);
    if (!found || found === 'straight') throw new Error('expected a pull');
    // Between the middles of its ends, which lie a little within.
    expect(Math.abs(found.sagPx - 6 * (113 / length) ** 2)).toBeLessThan(0.2);
    // The break is 2 px, shared by both sides; straight, the middle would have been moved by all of its sag.
    expect(found.offPx).toBeGreaterThan(0.7);
    expect(found.offPx).toBeLessThan(1.8);
    expect(pullStraight(places.map(hung), 1, segment, 20, [part(0, 70), part(45, 121)])).toBe('straight');
  });

  it('is pulled straight where the frames say nothing of it, or different things', () => {
    const turned = places.map((s) => -hung(s));
    for (const frames of [[], [part(0, 50)], [part(0, 121), turned]]) {
      const found = pullStraight(broken, 1, segment, 20, frames);
      expect(found && found !== 'straight' && found.sagPx).toBe(0);
      expect(found && found !== 'straight' && found.offPx).toBeGreaterThan(4);
    }
  });
});

it('a straight line is left alone, and one that is hardly seen tells nothing', () => {
  const segment = { from: [40, 60], to: [160, 60] } as const;
  const flat = Array.from({ length: 121 }, (_, k) => 0.3 + 0.001 * k);
  expect(pullStraight(flat, 1, segment, 20)).toBe('straight');
  expect(pullStraight(flat.map((v, k) => (k % 3 ? null : v)), 1, segment, 20)).toBeNull(); // prettier-ignore
  expect(() => pullStraight(flat.map((v, k) => (k === 60 ? 400 : v)), 1, segment, 20)).toThrow(/a line at most/); // prettier-ignore
});
