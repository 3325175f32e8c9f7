// Places as they are mended: tones evened and matched, views nudged, masks fitted and laid to edges.
import { FULL_SIZE } from '@blendrak/core/cells';
import { similarityGeometry } from '@blendrak/core/frame';
import type { MaskShape } from '@blendrak/core/repair';
import { addNoise, samplePlane } from '../../../../../packages/core/src/testing/pictures';
import { temporaryFolder } from '../../testing/inProcess';
import { paintStroke } from '../../testing/paint';
import { W, H, NOISE, plane, type Stored, sceneOf, storeIn } from '../../testing/storedTextures';
import type { InspectionScene } from '../protocol';
import { fitMaskTask } from './fitMaskTask';
import { evenFieldTask, toneFieldTask } from './matchTone';
import { nudgeTask } from './nudgePlace';
import { snapMaskTask } from './snapMask';

const { path: root, clean } = temporaryFolder();
afterAll(clean);

const { store, three } = storeIn(root);
let base: Stored;
let dim: Stored;
beforeAll(async () => {
  ({ base, dim } = await three());
});

describe('a place that is mended', () => {
  const scene = (operations?: InspectionScene['operations'], frames?: readonly Stored[]) =>
    sceneOf(base, operations, frames);
  it('a halo beside an edge is evened by what an exposure says of it; a place that is as it should be stays', () => {
    const outline: MaskShape = {
      ...{ kind: 'outline', growPx: 0, featherPx: 4, strength: 1 },
      points: [[200, 150], [280, 150], [280, 210], [200, 210]], // prettier-ignore
    };
    const field = evenFieldTask({ scene: scene([], [base]), donors: [0], shape: outline, marginPx: 64 })!;
    expect(Math.max(...field.values.map(Math.abs))).toBeLessThan(0.004);
    const lighter = { ...{ columns: 2, rows: 2 }, values: new Array<number>(12).fill(0.06) };
    const wrong = { ...outline, points: [[215, 160], [265, 160], [265, 200], [215, 200]] as const, featherPx: 0 }; // prettier-ignore
    const act = { donor: null, shape: wrong, tone: lighter };
    const evened = evenFieldTask({ scene: scene([act], [base]), donors: [0], shape: outline, marginPx: 64 })!;
    // What was added is taken away again: in the middle of the mask, at the levels that stand there.
    expect(Math.min(...evened.values)).toBeGreaterThan(-0.075);
    expect(Math.min(...evened.values)).toBeLessThan(-0.05);
  });

  it('a darker donor is brought to the tone around the mask, and one that is nowhere valid is not', () => {
    const outline: MaskShape = {
      ...{ kind: 'outline', growPx: 4, featherPx: 8, strength: 1 },
      points: [[200, 150], [300, 150], [300, 230], [200, 230]], // prettier-ignore
    };
    const field = toneFieldTask({ scene: scene([], [dim]), donor: 0, shape: outline })!;
    const mean = field.values.reduce((sum, v) => sum + v, 0) / field.values.length;
    // Three tenths of a mean of 0.15 + 0.6 · ½.
    expect(mean).toBeGreaterThan(0.08);
    expect(mean).toBeLessThan(0.19);
    const elsewhere = { ...dim, geometry: similarityGeometry({ re: 1, im: 0, tx: 5000, ty: 0 }) };
    expect(toneFieldTask({ scene: scene([], [elsewhere]), donor: 0, shape: outline })).toBeNull();
  });

  it('is met by a view that lies a px or two off, once that is nudged; one that shows nothing else stays', () => {
    const shape: MaskShape = {
      ...{ kind: 'outline', growPx: 4, featherPx: 8, strength: 1 },
      points: [[200, 150], [300, 150], [300, 230], [200, 230]], // prettier-ignore
    };
    const off = { ...dim, geometry: similarityGeometry({ re: 1, im: 0, tx: 1.4, ty: -0.8 }) };
    const [dx, dy] = nudgeTask({ scene: scene([], [off]), donor: 0, shape })!;
    expect(Math.hypot(dx - 1.4, dy + 0.8)).toBeLessThan(0.15);
    expect(nudgeTask({ scene: scene([], [dim]), donor: 0, shape })).toEqual([0, 0]);
  });

  it('an edge that two frames cover only together is masked in two parts, in the strip alone', async () => {
    const [left, right] = await Promise.all(
      [0, 1].map((k) => {
        const half = plane(0, 0, 1, 5 + k);
        const from = k === 0 ? 0 : W / 2 - 20;
        const data = new Float32Array((W / 2 + 20) * H);
        for (let y = 0; y < H; y++)
          data.set(half.data.subarray(y * W + from, y * W + from + W / 2 + 20), y * (W / 2 + 20));
        return store(`half${k}`, { width: W / 2 + 20, height: H, data });
      }),
    );
    const blank = plane(0, 0, 1, 8);
    blank.data.fill(0, 0, 20 * W);
    const merge = await store('edge', blank);
    const placed = { ...right!, geometry: similarityGeometry({ re: 1, im: 0, tx: W / 2 - 20, ty: 0 }) };
    const parts = fitMaskTask({
      scene: { merge, frames: [left!, placed], operations: [] },
      facts: { kind: 'panorama', axis: null, inside: null, working: FULL_SIZE, grain: null, surveys: {} },
      polygon: [[0, 0], [W, 0], [W, 20], [0, 20]], // prettier-ignore
      ...{ source: 'beside', reach: 4, leastGain: 0 },
    });
    expect([...new Set(parts.map((p) => p.donor))].sort()).toEqual([0, 1]);
    // Each lies where its frame reaches, and none far below the strip.
    for (const { donor, shape } of parts) {
      const { points } = shape;
      const xs = points.map(([x]) => x);
      expect(donor === 0 ? Math.max(...xs) <= W / 2 + 20 : Math.min(...xs) >= W / 2 - 20).toBe(true);
      expect(Math.max(...points.map(([, y]) => y))).toBeLessThanOrEqual(36);
    }
    const reach = parts.flatMap(({ shape }) => shape.points.map(([x]) => x));
    expect([Math.min(...reach), Math.max(...reach)]).toEqual([0, W]);
  });

  it('an exposure is painted in as far as it holds the place: what it has white and another has not is left out', async () => {
    // A window in the right half: white in the longer exposure, held by the shorter one, which the merge shows. Both halves are wrong in a strip.
    const isWindow = (i: number): boolean => i % W >= W / 2;
    const withWindow = (seed: number, window: (v: number) => number) => {
      const { data } = plane(0, 0, 1, seed);
      return { width: W, height: H, data: data.map((v, i) => (isWindow(i) ? window(v) : v)) };
    };
    const long = await store(
      'long',
      withWindow(21, () => 1),
    );
    const short = await store(
      'short',
      withWindow(22, (v) => v),
    );
    const y = (i: number): number => Math.floor(i / W);
    const wrong = plane(0, 0, 1, 23);
    wrong.data.forEach((v, i) => {
      if (y(i) >= 200 && y(i) < 240 && i % W >= 200 && i % W < 400) wrong.data[i] = v + 0.15;
    });
    const merge = await store('strip', wrong);
    const fit = (source: number) =>
      fitMaskTask({
        scene: { merge, frames: [long, short], operations: [] },
        facts: { kind: 'bracket', axis: null, inside: null, working: FULL_SIZE, grain: null, surveys: {} },
        polygon: [[200, 200], [400, 200], [400, 240], [200, 240]], // prettier-ignore
        ...{ source, reach: 6, leastGain: 0 },
      });
    const reachOf = (parts: ReturnType<typeof fit>): number[] => {
      const xs = parts.flatMap(({ shape }) => shape.points.map(([x]) => x));
      return [Math.min(...xs), Math.max(...xs)];
    };
    const [left, right] = reachOf(fit(0));
    expect(left).toBeLessThanOrEqual(200);
    expect(right).toBeLessThanOrEqual(W / 2 + 8);
    expect(reachOf(fit(1))[1]).toBeGreaterThanOrEqual(400);
    // What holds all of it fits better around the mask.
    expect(fit(1)[0]!.rim).toBeLessThan(3);
  });

  it('a mask is laid to the edges of what it paints in, and one that is too large is told apart', async () => {
    const disc = samplePlane(W, H, (x, y) => (Math.hypot(x - 240, y - 180) < 50 ? 0.7 : 0.35));
    const donor = await store('disc', addNoise(disc, NOISE, 9));
    const rough = paintStroke(0, [[234, 176]], { sizePx: 104, hardness: 1, strength: 0.8 });
    const asked = { scene: scene([], [donor]), operation: rough, reachPx: 14, mostPx: 4096 };
    const snapped = snapMaskTask(asked);
    if (snapped === 'too large') throw new Error(snapped);
    const { values, region, strength } = snapped;
    expect(strength).toBeCloseTo(0.8, 5);
    const wrong = values.filter((v, i) => {
      const [x, y] = [region.x + (i % region.width) + 0.5, region.y + Math.floor(i / region.width) + 0.5];
      const off = Math.hypot(x - 240, y - 180) - 50;
      return Math.abs(off) > 3 && Math.abs(v - (off < 0 ? 255 : 0)) > 2;
    });
    expect(wrong.length).toBe(0);
    expect(snapMaskTask({ ...asked, mostPx: 100 })).toBe('too large');
  });
});
