// Softness and overshoot where frames differ in tone: panoramas and brackets.
import type { Kernels } from '../../kernels';
import type { Plane } from '../../image';
import { inspectSmall } from '../../testing/inspection';
import { openTestKernels } from '../../testing/openTestKernels';
import { addNoise, blockTexture, gaussianBlur } from '../../testing/pictures';
import { frameOf, pasteRect } from '../../testing/stack';

const [W, H] = [384, 320];
let kernels: Kernels;
beforeAll(async () => {
  kernels = await openTestKernels();
});
const texture = blockTexture(W, H, 5).data.map((v) => v - 0.5);
const made = (value: (x: number, y: number, i: number) => number): Plane => {
  const data = new Float32Array(W * H);
  for (let i = 0; i < data.length; i++) data[i] = Math.min(1, Math.max(0, value(i % W, Math.floor(i / W), i)));
  return { width: W, height: H, data };
};
const inspect = (kind: 'panorama' | 'bracket', merge: Plane, frames: readonly Plane[]) =>
  inspectSmall(
    kernels,
    kind,
    frameOf(kernels, addNoise(merge, 0.002, 50)),
    frames.map((f, k) => frameOf(kernels, addNoise(f, 0.002, k))),
  );

describe('the halo of a bracket', () => {
  /** A bright window in a dim room. */
  const isWindow = (x: number, y: number): boolean => x > 120 && x < 250 && y > 90 && y < 220;
  const light = (x: number, y: number, i: number): number => (isWindow(x, y) ? 0.62 : 0.22) + 0.1 * texture[i]!;
  const room = made(light);
  const shorter = made((x, y, i) => 0.8 * light(x, y, i));
  const outside = (x: number, y: number): number =>
    Math.hypot(Math.max(120 - x, 0, x - 250), Math.max(90 - y, 0, y - 220));

  it('is the light that bleeds from a strong edge and fades: one side, so wide, so much', () => {
    const glowing = made((x, y, i) => light(x, y, i) + (isWindow(x, y) ? 0 : 0.09 * Math.exp(-outside(x, y) / 16)));
    const { found, trace } = inspect('bracket', glowing, [room, shorter]);
    expect(found.length).toBeGreaterThan(0);
    for (const d of found) {
      expect(d.defect).toBe('halo');
      expect(d.measurements['overshoot']!.value).toBeGreaterThan(1);
      expect(d.measurements['width']!.value).toBeLessThan(64);
      expect(trace(d).cause).toContain('overshoots along a strong edge: it is lighter');
    }
  });

  it('is none in a clean merge, one with a softer contrast, or one that is evenly lighter', () => {
    expect(inspect('bracket', room, [room, shorter]).found).toEqual([]);
    const flat = made((x, y, i) => 0.15 + 0.7 * light(x, y, i));
    expect(inspect('bracket', flat, [room, shorter]).found).toEqual([]);
  });
});

describe('softness against frames in other tones', () => {
  const scene = made((_x, _y, i) => 0.45 + 0.6 * texture[i]!);
  const shaken = gaussianBlur(scene, 1.6);

  it('in a panorama is where a shaken frame was taken although its neighbour is sharp', () => {
    const { found, trace } = inspect('panorama', pasteRect(scene, shaken, 140, 100, 110, 90), [scene, shaken]);
    expect(found.map((d) => d.defect)).toEqual(['soft-patch']);
    expect(found[0]!.bbox.x).toBeGreaterThan(116);
    expect(found[0]!.bbox.x + found[0]!.bbox.width).toBeLessThan(274);
    expect(trace(found[0]!)).toMatchObject({ donor: 0, repairable: true });
  });

  it('in a bracket is told by its fall-off, whatever the blend made of the contrast', () => {
    const blended = (p: Plane): Plane => ({ ...p, data: p.data.map((v) => 0.2 + 0.6 * v) });
    const soft = pasteRect(blended(scene), blended(shaken), 140, 100, 110, 90);
    const darker = made((_x, _y, i) => 0.8 * scene.data[i]!);
    // With little texture left it may come in pieces.
    expect(new Set(inspect('bracket', soft, [darker, shaken]).found.map((d) => d.defect))).toEqual(
      new Set(['soft-patch']),
    );
    expect(inspect('bracket', blended(scene), [darker, shaken]).found).toEqual([]);
  });
});
