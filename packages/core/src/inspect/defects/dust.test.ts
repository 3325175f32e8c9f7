// A speck on the sensor followed through frames that moved; and a dark dot of the scene, which moves with it.
import { similarityGeometry, type AlignedFrame } from '../../frame';
import type { Plane } from '../../image';
import type { Kernels } from '../../kernels';
import { inspectSmall } from '../../testing/inspection';
import { openTestKernels } from '../../testing/openTestKernels';
import { addNoise, samplePlane, waveTexture } from '../../testing/pictures';
import { frameOf } from '../../testing/stack';

const [W, H] = [288, 224];
const SHIFTS = [0, 46, 92];
let kernels: Kernels;
beforeAll(async () => {
  kernels = await openTestKernels();
});

const wave = waveTexture(5);
/** Soft ground with a little texture, as an even sky has. */
const ground = (x: number, y: number): number => 0.55 + 0.03 * (wave(x / 3, y / 3) - 0.5);
/** Share of light that is left at a distance from a speck of 6 px. */
const through = (r: number): number => (r > 7.5 ? 1 : r < 4.5 ? 0.75 : 1 - (0.25 * (7.5 - r)) / 3);

type Dot = readonly [x: number, y: number, times: number];

/** Frames of a camera that panned, with a speck at one place of the sensor, and dots at places of the scene, so many times as dark. */
function frames(speck: readonly [number, number] | null, ...dots: readonly Dot[]): Plane[] {
  return SHIFTS.map((shift, k) => {
    const plane = samplePlane(W, H, (x, y) => {
      const light = speck ? through(Math.hypot(x - speck[0], y - speck[1])) : 1;
      const own = dots.reduce((v, [u, w, times]) => v * through(Math.hypot(x + shift - u, y - w)) ** times, 1);
      return ground(x + shift, y) * light ** 0.45 * own ** 0.45;
    });
    return addNoise(plane, 0.003, 10 + k);
  });
}

const placed = (planes: readonly Plane[]): AlignedFrame[] =>
  planes.map((p, k) => ({
    ...frameOf(kernels, p),
    geometry: similarityGeometry({ re: 1, im: 0, tx: SHIFTS[k]!, ty: 0 }),
  }));

it('is found where the merge shows it, with its depth, and repaired from a frame that has it elsewhere', () => {
  const planes = frames([150, 100]);
  const { found, trace } = inspectSmall(kernels, 'panorama', frameOf(kernels, planes[0]!), placed(planes), planes);
  expect(found.map((d) => d.defect)).toEqual(['dust']);
  const { bbox, measurements, shownBy } = found[0]!;
  expect(Math.hypot(bbox.x + bbox.width / 2 - 150, bbox.y + bbox.height / 2 - 100)).toBeLessThan(5);
  // A quarter of the light is taken, over cells that hold some of the rim.
  expect(measurements['missingLight']!.value).toBeGreaterThan(14);
  expect(measurements['missingLight']!.value).toBeLessThan(27);
  expect(shownBy).toEqual([0]);
  const traced = trace(found[0]!);
  expect([1, 2]).toContain(traced.donor);
  expect(traced.cause).toContain('A speck on the sensor');
});

it('a dark dot of the scene is no dust', () => {
  const planes = frames(null, [150, 100, 1]);
  const merge = frameOf(kernels, planes[0]!);
  expect(inspectSmall(kernels, 'panorama', merge, placed(planes), planes).found).toEqual([]);
});

it('is not claimed where the frames did not move: it might be the scene', () => {
  const planes = [1, 2, 3].map((k) => addNoise(frames([150, 100])[0]!, 0.002, 40 + k));
  const still = planes.map((p) => frameOf(kernels, p));
  expect(inspectSmall(kernels, 'bracket', still[0]!, still, planes).found).toEqual([]);
});

describe('in two frames', () => {
  const look = (planes: readonly Plane[]) =>
    inspectSmall(kernels, 'panorama', frameOf(kernels, planes[0]!), placed(planes), planes).found;

  it('is found where both show it', () => {
    expect(look(frames([150, 100]).slice(0, 2)).map((d) => d.defect)).toEqual(['dust']);
  });

  it('dots of the scene that fall on one place of the sensor by chance are none, as they differ', () => {
    // The second dot is where the first one was on the sensor once the camera has turned.
    expect(look(frames(null, [150, 100, 1], [150 + SHIFTS[1]!, 100, 0.3]).slice(0, 2))).toEqual([]);
  });
});

describe('on a tripod that gave a little', () => {
  /** Less than the speck's own radius, as a hand on the release moves a camera. */
  const moves = [0, 2.5, -1.8, 3.4];
  const shots = (speck: boolean): Plane[] =>
    moves.map((move, k) =>
      addNoise(
        samplePlane(W, H, (x, y) => {
          const light = speck ? through(Math.hypot(x - 150, y - 100)) : 1;
          return ground(x + move, y) * light ** 0.45;
        }),
        0.003,
        60 + k,
      ),
    );
  const shifted = (planes: readonly Plane[]): AlignedFrame[] =>
    planes.map((p, k) => ({
      ...frameOf(kernels, p),
      geometry: similarityGeometry({ re: 1, im: 0, tx: moves[k]!, ty: 0 }),
    }));

  it('is found, and as no frame shows the place without it, it is to be filled', () => {
    const planes = shots(true);
    const { found, trace } = inspectSmall(kernels, 'bracket', frameOf(kernels, planes[0]!), shifted(planes), planes);
    expect(found.map((d) => d.defect)).toEqual(['dust']);
    expect(found[0]!.shownBy).toEqual(expect.arrayContaining([0, 1, 2, 3]));
    const traced = trace(found[0]!);
    expect(traced).toMatchObject({ donor: null, repairable: true });
    expect(traced.cause).toContain('no frame shows this place without it');
  });

  it('is not told of a merge from which it was taken out', () => {
    const planes = shots(true);
    const mended = frameOf(kernels, shots(false)[0]!);
    expect(inspectSmall(kernels, 'bracket', mended, shifted(planes), planes).found).toEqual([]);
  });
});

it('a stack that takes cells by turns from frames that moved shows it in pieces: these are found', () => {
  const shots = SHIFTS.map((shift, k) =>
    addNoise(
      samplePlane(W, H, (x, y) => ground(x + shift / 8, y) * through(Math.hypot(x - 150, y - 100)) ** 0.45),
      0.003,
      80 + k,
    ),
  );
  const still = shots.map((p, k) => ({
    ...frameOf(kernels, p),
    geometry: similarityGeometry({ re: 1, im: 0, tx: SHIFTS[k]! / 8, ty: 0 }),
  }));
  // Above a line from one frame, beneath it from the last one, in which the speck lies 11.5 px farther right.
  const merge = samplePlane(W, H, (x, y) =>
    y < 100
      ? shots[0]!.data[Math.floor(y) * W + Math.floor(x)]!
      : ground(x, y) * through(Math.hypot(x - 161.5, y - 100)) ** 0.45,
  );
  const { found } = inspectSmall(kernels, 'focus-stack', frameOf(kernels, merge), still, shots);
  const dust = found.filter((d) => d.defect === 'dust');
  expect(dust.length).toBeGreaterThan(0);
  const cells = dust.flatMap((d) => d.cells.map((i) => [(i % 72) * 4 + 2, Math.floor(i / 72) * 4 + 2] as const));
  // Nothing is marked where the half that is shown is free of it.
  expect(cells.some(([x, y]) => y < 100 && x > 162)).toBe(false);
  expect(cells.some(([x, y]) => y > 104 && x < 150)).toBe(false);
});
