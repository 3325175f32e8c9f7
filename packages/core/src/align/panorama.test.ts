// A camera that turns on the spot: from corners to cameras, against cameras that are known.
import { median, type Plane } from '../image';
import type { Kernels } from '../kernels';
import { openTestKernels } from '../testing/openTestKernels';
import { addNoise, makeRandom, samplePlane, waveTexture } from '../testing/pictures';
import {
  adjustBundle,
  alignLevels,
  findPoints,
  findUpright,
  fitGains,
  estimateExposures,
  matchPoints,
  measureTies,
  estimateRelativeRotation,
  rotationBetween,
  rotationBy,
  transposed,
  turn,
  unit,
  type KeyPoint,
  type LightPair,
  type Tie,
  type Vector3,
} from '.';
import { composeMatrix, frameRay, frameToMerge, type Matrix3, mergeToFrame, type TurnedGeometry } from '../frame';

const W = 320;
const H = 240;
const FOCAL = 300;
const SIZE = { width: W, height: H };
const DISTORTION = [0.03, -0.004] as const;
const { cos, hypot, sin } = Math;

/** World → camera, turned right, then up, then rolled. */
function camera(yaw: number, pitch: number, roll = 0): Matrix3 {
  return composeMatrix(rotationBy([0, 0, -roll]), composeMatrix(rotationBy([-pitch, 0, 0]), rotationBy([0, -yaw, 0])));
}

function viewOf(rotation: Matrix3, focalPx = FOCAL): TurnedGeometry {
  return {
    model: 'rotating-camera',
    canvas: { projection: 'spherical', focalPx: 400, axis: [800, 600] },
    rotation,
    focalPx,
    centre: [W / 2, H / 2],
    halfDiagonalPx: hypot(W, H) / 2,
    distortion: DISTORTION,
    vignetting: [0, 0],
  };
}

const LENS = { centre: [W / 2, H / 2], halfDiagonalPx: hypot(W, H) / 2, distortion: [0, 0] } as const;

/** A texture painted on the sphere, as a camera sees it. */
const world = waveTexture(5, 30);
function photograph(rotation: Matrix3, seed: number): Plane {
  const view = viewOf(rotation);
  return addNoise(
    samplePlane(W, H, (x, y) => {
      const at = frameToMerge(view, x, y)!;
      return world(at[0], at[1]);
    }),
    0.004,
    seed,
  );
}

describe('rotations', () => {
  it('the rotation between directions is the one that turned them', () => {
    const m = rotationBy([0.3, -0.2, 0.5]);
    const from: Vector3[] = [
      [0, 0, 1],
      [0.4, 0, 1],
      [0, 0.5, 1],
    ];
    const found = rotationBetween(
      from,
      from.map((v) => turn(m, v)),
    );
    found.forEach((v, i) => expect(v).toBeCloseTo(m[i]!, 8));
  });
});

describe('two frames of a turned camera', () => {
  const a = camera(0, 0);
  const b = camera(0.3, 0.05, 0.04);
  let kernels: Kernels;
  const frames = [photograph(a, 1), photograph(b, 2)] as const;
  let points: KeyPoint[][];
  beforeAll(async () => {
    kernels = await openTestKernels();
    points = frames.map((f) => findPoints(kernels, f, 1.6e-5, { count: 400 }));
  });

  it('are related by their corners within 1 px, and not with a picture of something else', () => {
    const lens = { ...LENS, focalPx: FOCAL };
    const pair = estimateRelativeRotation(
      points[0]!,
      points[1]!,
      matchPoints(kernels, points[0]!, points[1]!),
      lens,
      lens,
      3,
    )!;
    expect(pair.inliers.length).toBeGreaterThan(20);
    const truth = composeMatrix(b, transposed(a));
    const [p, q] = [turn(pair.rotation, [0, 0, 1]), turn(truth, [0, 0, 1])];
    expect(FOCAL * hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2])).toBeLessThan(2);
    const other = waveTexture(77, 30);
    const strange = findPoints(kernels, samplePlane(W, H, other), 1.6e-5, { count: 400 });
    expect(
      estimateRelativeRotation(points[0]!, strange, matchPoints(kernels, points[0]!, strange), lens, lens, 3),
    ).toBeNull();
  });

  it('a thin line holds no corner, where two cross there is one', () => {
    const crossed = (second: boolean): Plane =>
      addNoise(
        samplePlane(200, 160, (x, y) =>
          Math.abs(y - 0.4 * x - 30) < 1.5 || (second && Math.abs(y + 0.8 * x - 150) < 1.5) ? 0.15 : 0.7,
        ),
        0.004,
        3,
      );
    const at = { x: 100, y: 70 };
    const near = (p: { x: number; y: number }): boolean => hypot(p.x - at.x, p.y - at.y) < 6;
    const [alone, both] = [crossed(false), crossed(true)].map((p) => findPoints(kernels, p, 1.6e-5)) as [
      ReturnType<typeof findPoints>,
      ReturnType<typeof findPoints>,
    ];
    expect(both.some(near)).toBe(true);
    expect(alone.some(near)).toBe(false);
    // What is left of the line are its ends at the rim, and noise.
    const onLine = alone.filter((p) => Math.abs(p.y - 0.4 * p.x - 30) < 4 && p.x > 25 && p.x < 175);
    expect(onLine.length).toBeLessThan(4);
  });

  it('whose corners look alike are related only by asking where a rotation puts them, and then by many', () => {
    const lens = { ...LENS, focalPx: FOCAL };
    // Most matches are wrong, as where one thing repeats itself: too few agree for matching by looks.
    const random = makeRandom(5);
    const right = matchPoints(kernels, points[0]!, points[1]!);
    const few = right.slice(0, 7);
    const wrong = Array.from({ length: 60 }, () => ({
      a: Math.floor(random() * points[0]!.length),
      b: Math.floor(random() * points[1]!.length),
    }));
    const matches = [...few, ...wrong];
    expect(estimateRelativeRotation(points[0]!, points[1]!, matches, lens, lens, 3)).toBeNull();
    const pair = estimateRelativeRotation(points[0]!, points[1]!, matches, lens, lens, 3, { guided: true })!;
    expect(pair.inliers.length).toBeGreaterThan(20);
    const truth = composeMatrix(b, transposed(a));
    const [p, q] = [turn(pair.rotation, [0, 0, 1]), turn(truth, [0, 0, 1])];
    expect(FOCAL * hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2])).toBeLessThan(2);
    // Another picture finds no likes, however it is turned.
    const strange = findPoints(kernels, samplePlane(W, H, waveTexture(77, 30)), 1.6e-5, { count: 400 });
    const chance = matchPoints(kernels, points[0]!, strange);
    const odd = [...chance, ...wrong.map((m) => ({ ...m, b: m.b % strange.length }))];
    expect(estimateRelativeRotation(points[0]!, strange, odd, lens, lens, 3, { guided: true })).toBeNull();
  });

  it('are tied block by block within 0.08 px in the median, from a start that is 2 px off', () => {
    const levels = frames.map((f) => alignLevels(kernels, f, 1.6e-5).at(-1)!);
    const from = viewOf(a);
    const to = viewOf(b);
    const ties = measureTies(levels[0]!, levels[1]!, 1, (x, y) => {
      const w = frameToMerge(from, x, y)!;
      const at = mergeToFrame(to, w[0], w[1]);
      return at && [at[0] + 1.6, at[1] - 1.2];
    });
    expect(ties.length).toBeGreaterThan(80);
    const errors = ties.map((t) => {
      const w = frameToMerge(from, t.x, t.y)!;
      const at = mergeToFrame(to, w[0], w[1])!;
      return hypot(t.u - at[0], t.v - at[1]);
    });
    expect(median(errors)).toBeLessThan(0.08);
  });
});

it('findPoints refuses pictures too small to hold corners', async () => {
  const kernels = await openTestKernels();
  expect(() =>
    findPoints(
      kernels,
      samplePlane(40, 80, () => 0.5),
      1e-5,
    ),
  ).toThrow('findPoints.luma.size');
});

describe('adjustBundle', () => {
  const truth = [camera(-0.35, 0.1), camera(0, 0.1, 0.02), camera(0.34, 0.08), camera(0.02, -0.25)];
  const sizes = truth.map(() => SIZE);

  function tiesOf(noisePx: number, share = 0): Tie[] {
    const random = makeRandom(3);
    const out: Tie[] = [];
    truth.forEach((a, i) =>
      truth.forEach((b, j) => {
        if (j <= i) return;
        for (let n = 0; n < 300; n++) {
          const [x, y] = [random() * W, random() * H];
          const w = frameToMerge(viewOf(a), x, y)!;
          const at = mergeToFrame(viewOf(b), w[0], w[1]);
          if (!at || at[0] < 0 || at[1] < 0 || at[0] > W || at[1] > H) continue;
          const wrong = random() < share ? 40 : 0;
          const off = () => (random() - 0.5) * 3.46 * noisePx + wrong * random();
          out.push({ i, j, x, y, u: at[0] + off(), v: at[1] + off(), hxx: 1 / 0.01, hxy: 0, hyy: 1 / 0.01 });
        }
      }),
    );
    return out;
  }

  /** Median distance by which a rig puts places of one frame into another. */
  function errorOf(rig: {
    rotations: readonly Matrix3[];
    focalPx: readonly number[];
    distortion: readonly [number, number];
  }): number {
    return median(
      tiesOf(0).map((t) => {
        const view = (k: number): TurnedGeometry => ({
          ...viewOf(rig.rotations[k]!, rig.focalPx[k]),
          distortion: rig.distortion,
        });
        const w = frameToMerge(view(t.i), t.x, t.y)!;
        const at = mergeToFrame(view(t.j), w[0], w[1])!;
        return hypot(at[0] - t.u, at[1] - t.v);
      }),
    );
  }

  const start = {
    rotations: truth.map((r, k) => (k === 1 ? r : composeMatrix(rotationBy([0.02, -0.03, 0.01]), r))),
    focalPx: truth.map(() => FOCAL * 1.15),
    distortion: [0, 0] as const,
  };

  it('recovers cameras, focal length and distortion from exact ties, 15 % and degrees off at the start', () => {
    const rig = adjustBundle(sizes, start, tiesOf(0), { reference: 1, iterations: 60 });
    expect(rig.focalPx[0]! / FOCAL).toBeCloseTo(1, 2);
    expect(errorOf(rig)).toBeLessThan(0.02);
  });

  it('is not led astray by a fifth of wrong ties, and stays below the noise of single ties', () => {
    const rig = adjustBundle(sizes, start, tiesOf(0.3, 0.2), { reference: 1, iterations: 60 });
    expect(errorOf(rig)).toBeLessThan(0.15);
  });

  it('refuses to work without ties', () => {
    expect(() => adjustBundle(sizes, start, [])).toThrow('adjustBundle.ties');
  });
});

it('findUpright takes the direction of upright edges where the camera was only tilted', () => {
  const rotation = camera(0, 0.2, 0.03);
  const view = { ...viewOf(rotation), distortion: [0, 0] as const };
  // Posts: stripes by the angle around the upright axis, as the tilted camera sees them.
  const luma = samplePlane(W, H, (x, y) => {
    const [a, b] = frameRay(view, x, y);
    const [rx, , rz] = turn(transposed(rotation), [a, b, FOCAL]);
    const angle = Math.atan2(rx, rz) * 24;
    return 0.5 + 0.3 * Math.tanh(6 * sin(angle) + 2 * cos(3.1 * angle));
  });
  const { down, support } = findUpright([{ luma, unit: 1, lens: view, focalPx: FOCAL, rotation }]);
  expect(support).toBeGreaterThan(0.5);
  expect((Math.acos(down[1]) * 180) / Math.PI).toBeLessThan(0.8);
});

describe('fitGains', () => {
  const gains = [1, 1.25, 0.8];
  const [v1, v2] = [-0.35, 0.08];
  const light = (r: number): number => 1 + v1 * r * r + v2 * r ** 4;
  const random = makeRandom(9);
  const pairs = Array.from({ length: 900 }, (_, n): LightPair => {
    const [i, j] = n % 2 ? [0, 1] : [1, 2];
    const value = 0.1 + 0.5 * random();
    const [ra, rb] = [random(), random()];
    const seen = (k: number, r: number) => {
      const v = (value / gains[k]!) * light(r) * (1 + 0.02 * (random() - 0.5));
      return [v, v, v] as const;
    };
    return { i, j, a: seen(i, ra), b: seen(j, rb), radiusA: ra, radiusB: rb };
  });

  it('recovers gains within 1 % and vignetting within 2 % of the light', () => {
    const fit = fitGains(3, pairs);
    for (const k of [1, 2]) expect(fit.gains[k]![0] / fit.gains[0]![0] / (gains[k]! / gains[0]!)).toBeCloseTo(1, 2);
    for (const r of [0.5, 1]) {
      const found = 1 + fit.vignetting[0] * r ** 2 + fit.vignetting[1] * r ** 4;
      expect(Math.abs(found - light(r))).toBeLessThan(0.02);
    }
  });

  it('refuses pairs of frames that are not there', () => {
    expect(() => fitGains(2, pairs)).toThrow('fitGains.pairs');
  });
});

it('estimateExposures tells steps of 2 EV within 0.05, and that a black frame tells nothing', () => {
  const scene = waveTexture(8);
  const exposed = (ev: number): Plane =>
    samplePlane(80, 60, (x, y) => {
      const l = scene(x, y) ** 2.2 * 0.4 * 2 ** ev;
      return Math.min(1, l <= 0.0031308 ? 12.92 * l : 1.055 * l ** (1 / 2.4) - 0.055);
    });
  const ev = estimateExposures([exposed(-2), exposed(0), exposed(2)], 1);
  [-2, 0, 2].forEach((v, k) => expect(Math.abs(ev[k]! - v)).toBeLessThan(0.05));
  expect(estimateExposures([samplePlane(80, 60, () => 0), exposed(0)], 1)[0]).toBeNaN();
});

it('unit gives length 1', () => {
  expect(hypot(...unit([3, 4, 12]))).toBeCloseTo(1, 12);
});
