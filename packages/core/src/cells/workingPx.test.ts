// Pictures that are soft at the pixel: told as such, and looked at in larger px as their smaller selves are in their own.
import type { AlignedFrame } from '../frame';
import type { Plane } from '../image';
import type { Kernels } from '../kernels';
import { openTestKernels } from '../testing/openTestKernels';
import { addNoise, blockTexture, gaussianBlur, samplePlane } from '../testing/pictures';
import { frameOf } from '../testing/stack';
import { finenessOf, finenessSamples } from './fineness';
import { gatherCells } from './gatherCells';

const [W, H] = [256, 192];
let kernels: Kernels;
beforeAll(async () => {
  kernels = await openTestKernels();
});

/** Twice as large, with px in fours: what a level of half the size makes of it is the picture itself. */
const doubled = (plane: Plane): Plane =>
  samplePlane(2 * W, 2 * H, (x, y) => plane.data[Math.floor(y / 2) * W + Math.floor(x / 2)]!);

const fineness = (plane: Plane): number | null => {
  const frame = frameOf(kernels, plane);
  const { width, height } = plane;
  return finenessOf(finenessSamples(gatherCells(kernels, frame, [frame], { x: 0, y: 0, width, height })));
};

const texture = (blur: number, seed = 3): Plane =>
  addNoise(gaussianBlur(blockTexture(W, H, seed), blur), 0.002, seed + 40);

describe('how fine a picture is', () => {
  it('a camera’s sharp edges have fine detail; the same as soft as if enlarged twice have none', () => {
    expect(fineness(texture(0.6))).toBeGreaterThan(0.18);
    expect(fineness(texture(1.9))).toBeLessThan(0.155);
  });

  it('what is in focus counts, not what is blurred by depth: one half sharp is a sharp picture', () => {
    const [sharp, soft] = [texture(0.6), texture(4)];
    const half = { ...sharp, data: sharp.data.map((v, i) => (i % W < W / 2 ? v : soft.data[i]!)) };
    expect(fineness(half)).toBeGreaterThan(0.18);
  });

  it('an even picture does not tell', () => {
    expect(
      fineness(
        addNoise(
          samplePlane(W, H, () => 0.5),
          0.004,
          9,
        ),
      ),
    ).toBeNull();
  });
});

it('cells in px of two are those that the picture had before it was enlarged', () => {
  const planes = [texture(0.8), texture(1.5)] as const;
  const region = { x: 16, y: 8, width: 128, height: 96 };
  const framesOf = (all: readonly Plane[]): AlignedFrame[] => all.map((p) => frameOf(kernels, p));
  const small = framesOf(planes);
  const large = framesOf(planes.map(doubled));
  const own = gatherCells(kernels, small[0]!, small, region, { relate: true });
  const seen = gatherCells(kernels, large[0]!, large, region, { relate: true, working: { unitPx: 2, noiseShare: 1 } });
  expect([own.unitPx, seen.unitPx]).toEqual([1, 2]);
  for (const k of [0, 1]) {
    expect([...seen.frames[k]!.valid]).toEqual([...own.frames[k]!.valid]);
    for (const band of ['fine', 'middle', 'coarse', 'residual'] as const) {
      const [a, b] = [own.frames[k]![band], seen.frames[k]![band]];
      const most = Math.max(...a);
      // The outermost cells lean on edges that are repeated differently.
      const inner = Array.from(a.keys()).filter((i) => i % 32 > 3 && i % 32 < 28 && i >= 4 * 32 && i < 20 * 32);
      for (const i of inner) expect(Math.abs(a[i]! - b[i]!)).toBeLessThan(1e-6 + 0.02 * most);
    }
  }
});
