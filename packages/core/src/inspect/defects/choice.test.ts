// Wrong choices of frames: crumbs of other frames in a place, coloured rims; and what is neither.
import type { Kernels } from '../../kernels';
import type { Plane } from '../../image';
import { inspectSmall } from '../../testing/inspection';
import { openTestKernels } from '../../testing/openTestKernels';
import { addNoise, blockTexture, gaussianBlur, makeRandom } from '../../testing/pictures';
import { blurredSeries, colourFrame, frameOf, occludedSeries, pasteRect, STACK_NOISE } from '../../testing/stack';

const [W, H] = [320, 256];
let kernels: Kernels;
beforeAll(async () => {
  kernels = await openTestKernels();
});
const defectsOf = (found: readonly { defect: string }[]): string[] => found.map((d) => d.defect);

describe('crumbs of other frames', () => {
  const planes = blurredSeries(W, H, 5, 2, [0, 1, 2, 3, 4]);
  const inspect = (merge: Plane, frames: readonly Plane[] = planes) =>
    inspectSmall(
      kernels,
      'focus-stack',
      frameOf(kernels, merge),
      frames.map((p) => frameOf(kernels, p)),
    );
  /** Single cells of frames far off, one in eight, in a place of 96 × 80 px. */
  const crumbled = (): Plane => {
    const random = makeRandom(4);
    let merge = planes[2]!;
    for (let y = 80; y < 160; y += 8)
      for (let x = 100; x < 196; x += 8)
        if (random() < 0.5) merge = pasteRect(merge, planes[random() < 0.5 ? 0 : 4]!, x, y, 4, 4);
    return merge;
  };

  it('scattered over a place are one finding, which hugs it and names the frame that has the place', () => {
    const { found, trace } = inspect(crumbled());
    expect(defectsOf(found)).toEqual(['mask-speckle']);
    const { bbox, measurements } = found[0]!;
    expect(bbox.x).toBeGreaterThan(76);
    expect(bbox.x + bbox.width).toBeLessThan(220);
    expect(bbox.y).toBeGreaterThan(56);
    expect(bbox.y + bbox.height).toBeLessThan(184);
    expect(measurements['crumbs']!.value).toBeGreaterThan(25);
    const traced = trace(found[0]!);
    expect(traced.donor).toBe(2);
    expect(traced.cause).toContain('crumbs of other frames');
  });

  it('are none where a whole part is from another frame, or neighbours as sharp take turns', () => {
    const part = pasteRect(planes[2]!, planes[4]!, 96, 80, 88, 72);
    expect(defectsOf(inspect(part).found)).toEqual(['soft-patch']);
    const twins = [planes[0]!, planes[2]!, addNoise(planes[2]!, STACK_NOISE, 77), planes[4]!];
    let turns = twins[1]!;
    for (let y = 80; y < 160; y += 8)
      for (let x = 100; x < 196; x += 8) turns = pasteRect(turns, twins[2]!, x, y, 4, 4);
    expect(inspect(turns, twins).found).toEqual([]);
  });

  it.each([
    [0.02, []],
    [0.03, ['seam']],
    [0.045, ['seam']],
  ])('are none where a place is toned by %s: no frame is told there, but that is a step of tone', (by, expected) => {
    const lighter = planes[2]!.data.map((v, i) => {
      const [x, y] = [i % W, Math.floor(i / W)];
      // A blob with an uneven rim, as masks have.
      const far = Math.hypot(x - 150, y - 120) - 44 - 6 * Math.sin(x / 9) - 5 * Math.cos(y / 7);
      return v + by / (1 + Math.exp(far / 1.5));
    });
    expect(defectsOf(inspect({ ...planes[2]!, data: lighter }).found)).toEqual(expected);
  });

  it('are none along an edge of depth, where each side is from its own frame', () => {
    const series = occludedSeries(W, H, 160, 31, 6);
    const whole = pasteRect(series[0]!, series[3]!, 168, 0, W - 168, H);
    expect(defectsOf(inspect(whole, series).found)).not.toContain('mask-speckle');
  });
});

describe('coloured rims', () => {
  const grey = gaussianBlur(blockTexture(W, H, 9), 0.7);
  /** Moved sideways, as a lens does with the colours at the ends of the spectrum. */
  const moved = (by: number): Plane => ({
    ...grey,
    data: grey.data.map((_, i) => grey.data[Math.min(W * H - 1, Math.max(0, i + by))]!),
  });
  const noisy = (plane: Plane, seed: number): Plane => addNoise(plane, 0.003, seed);
  const inPlace = (patch: Plane): Plane => pasteRect(grey, patch, 100, 80, 96, 80);
  const colours = (r: Plane, b: Plane, seed: number) =>
    colourFrame(kernels, [noisy(r, seed), noisy(grey, seed + 1), noisy(b, seed + 2)]);

  it.each(['focus-stack', 'panorama'] as const)(
    'of one frame of a %s that the others have not are a fringe; the same in all frames is the scene',
    (kind) => {
      const plain = [1, 4].map((seed) => colours(grey, grey, seed));
      const fringed = colours(moved(-2), moved(2), 7);
      const merge = colours(inPlace(moved(-2)), inPlace(moved(2)), 20);
      const { found, trace } = inspectSmall(kernels, kind, merge, [...plain, fringed]);
      expect(defectsOf(found)).toEqual(['fringe']);
      expect(found[0]!.bbox.x).toBeGreaterThan(76);
      expect(found[0]!.bbox.x + found[0]!.bbox.width).toBeLessThan(220);
      expect(found[0]!.measurements['colour']!.value).toBeGreaterThan(1.2);
      expect([0, 1]).toContain(trace(found[0]!).donor);
      const coloured = [1, 4, 7].map((seed) => colours(inPlace(moved(-2)), inPlace(moved(2)), seed));
      expect(inspectSmall(kernels, kind, merge, coloured).found).toEqual([]);
    },
  );
});
