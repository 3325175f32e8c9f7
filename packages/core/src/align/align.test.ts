// Registration and tone against known truth.
import { evaluateTone, paintArea, type Plane } from '../image';
import type { Kernels } from '../kernels';
import { openTestKernels } from '../testing/openTestKernels';
import { addNoise, gaussianBlur, makeRandom, samplePlane, waveTexture } from '../testing/pictures';
import {
  alignLevels,
  estimateSimilarity,
  fitCommonTone,
  evenPairs,
  fitTone,
  onSubject,
  registerPair,
  searchPlacement,
  solvePoses,
  type AlignLevel,
  type PoseEdge,
} from './index';
import { applySimilarity, composeSimilarity, IDENTITY, invertSimilarity, type Similarity } from '../frame';

const W = 480;
const H = 360;
const texture = waveTexture(21, 80);

function cornerError(a: Similarity, b: Similarity): number {
  return Math.max(
    ...[
      [0, 0],
      [W, 0],
      [0, H],
      [W, H],
    ].map(([x, y]) => {
      const p = applySimilarity(a, x!, y!);
      const q = applySimilarity(b, x!, y!);
      return Math.hypot(p[0] - q[0], p[1] - q[1]);
    }),
  );
}

/** What a camera sees whose pixels lie at `toMoving` of the reference's. */
function moved(toMoving: Similarity) {
  const back = invertSimilarity(toMoving);
  return samplePlane(W, H, (x, y) => texture(...applySimilarity(back, x, y)));
}

let kernels: Kernels;
let reference: AlignLevel[];
const levelsOf = (luma: Plane, noise: number): AlignLevel[] => alignLevels(kernels, luma, noise);
beforeAll(async () => {
  kernels = await openTestKernels();
  reference = levelsOf(samplePlane(W, H, texture), 1e-5);
});

describe('registerPair', () => {
  it('recovers a shift of (-2.4, 1.3) px within 0.05 px at the corners', () => {
    const truth = { re: 1, im: 0, tx: -2.4, ty: 1.3 };
    const found = registerPair(reference, levelsOf(moved(truth), 1e-5));
    expect(cornerError(found.toMoving, truth)).toBeLessThan(0.05);
    expect(found.residualPx).toBeLessThan(0.05);
    expect(found.correlation).toBeGreaterThan(0.97);
  });

  it('recovers scale, rotation and shift of a breathing, rolling camera within 0.1 px', () => {
    const truth = { re: 1.021 * Math.cos(0.004), im: 1.021 * Math.sin(0.004), tx: -7.5, ty: 5.25 };
    expect(cornerError(registerPair(reference, levelsOf(moved(truth), 1e-5)).toMoving, truth)).toBeLessThan(0.1);
  });

  it('aligns on a marked subject within 0.1 px while three fifths of the frame go another way', () => {
    const subject = { re: 1, im: 0, tx: 2.2, ty: -1.7 };
    const background = { re: 1, im: 0, tx: -3.1, ty: 2.4 };
    const [near, far] = [moved(subject), moved(background)];
    const inside = (x: number, y: number): boolean => x > 0.2 && x < 0.8 && y > 0.18 && y < 0.82;
    const mixed = samplePlane(W, H, (x, y) => {
      const i = Math.floor(y) * W + Math.floor(x);
      return inside(x / W, y / H) ? near.data[i]! : far.data[i]!;
    });
    const subjectMask = paintArea(
      [
        {
          kind: 'polygon',
          corners: [
            [0.22, 0.2],
            [0.78, 0.2],
            [0.78, 0.8],
            [0.22, 0.8],
          ],
        },
      ],
      120,
      90,
    );
    const marked = onSubject(reference, subjectMask);
    const found = registerPair(marked, levelsOf(mixed, 1e-5)).toMoving;
    const [x, y] = applySimilarity(found, W / 2, H / 2);
    expect(Math.hypot(x - W / 2 - 2.2, y - H / 2 + 1.7)).toBeLessThan(0.1);
  });

  it('refuses a subject of no size', () => {
    const speck = paintArea([{ kind: 'brush', points: [[0.5, 0.5]], radius: 0.005 }], 240, 180);
    expect(() => onSubject(reference, speck)).toThrow('a subject of some size');
  });

  it('is not misled by defocus, exposure and noise: within 0.15 px', () => {
    const truth = { re: 1.006, im: 0.001, tx: 3.1, ty: -4.2 };
    const soft = gaussianBlur(moved(truth), 2.5);
    const dim = addNoise({ ...soft, data: soft.data.map((v) => 0.8 * v) }, 0.005, 8);
    expect(cornerError(registerPair(reference, levelsOf(dim, 2.5e-5)).toMoving, truth)).toBeLessThan(0.15);
  });

  it('says that two unrelated pictures do not agree', () => {
    const other = levelsOf(samplePlane(W, H, waveTexture(99, 80)), 1e-5);
    expect(registerPair(reference, other).correlation).toBeLessThan(0.25);
  });

  it('gives the identity for a picture and itself', () => {
    expect(cornerError(registerPair(reference, reference).toMoving, IDENTITY)).toBeLessThan(1e-3);
  });

  it('names pictures that are too small or have no levels', () => {
    expect(() => alignLevels(kernels, samplePlane(20, 60, texture), 1e-5)).toThrow(
      'alignLevels.luma.size: expected at least 24 px on each side',
    );
    expect(() => estimateSimilarity([], reference)).toThrow(
      'estimateSimilarity.levels: expected at least one level each',
    );
  });
});

describe('solvePoses', () => {
  const random = makeRandom(4);
  const truth = Array.from({ length: 6 }, (_, i) => ({
    re: 1 + 0.004 * i,
    im: 0.001 * (random() - 0.5),
    tx: 10 * (random() - 0.5),
    ty: 10 * (random() - 0.5),
  }));
  // Truth maps frame → frame 2.
  const toReference = truth.map((t) => composeSimilarity(invertSimilarity(truth[2]!), t));
  const pairs = [0, 1, 2, 3, 4].flatMap((i) => [i + 1, i + 2].filter((j) => j < 6).map((j) => [i, j] as const));
  const edges: PoseEdge[] = pairs.map(([i, j]) => ({
    from: i,
    to: j,
    transform: composeSimilarity(invertSimilarity(truth[j]!), truth[i]!),
    weight: 1,
  }));

  it('finds exact poses from exact pairs', () => {
    solvePoses(6, 2, edges).forEach((pose, k) => expect(cornerError(pose, toReference[k]!)).toBeLessThan(1e-6));
  });

  it('lets a bad pair with little weight change nothing much', () => {
    const bad = edges.map((e, i) =>
      i === 3 ? { ...e, transform: { ...e.transform, tx: e.transform.tx + 50 }, weight: 1e-6 } : e,
    );
    solvePoses(6, 2, bad).forEach((pose, k) => expect(cornerError(pose, toReference[k]!)).toBeLessThan(0.01));
  });

  it('names a frame that no pair connects', () => {
    expect(() =>
      solvePoses(
        3,
        0,
        edges.filter((e) => e.from === 0 && e.to === 1),
      ),
    ).toThrow('frame 2 has none');
  });
});

describe('searchPlacement', () => {
  it('finds a crop of half the frame at 0.7 of its size', () => {
    const frame = levelsOf(samplePlane(W, H, texture), 1e-5).find((l) => l.factor === 4)!;
    // The merge shows frame px 100..340 × 60..240 at 0.7.
    const crop = levelsOf(
      samplePlane(168, 126, (x, y) => texture(100 + x / 0.7, 60 + y / 0.7)),
      1e-5,
    ).find((l) => l.factor === 2)!;
    const found = searchPlacement(frame.detail, crop.detail);
    // Both planes are reduced: px of the crop's level → px of the frame's level.
    expect(found.toFrame.re).toBeCloseTo(2 / 0.7 / 4, 1);
    expect(found.toFrame.tx * 4).toBeGreaterThan(85);
    expect(found.toFrame.tx * 4).toBeLessThan(115);
    expect(found.toFrame.ty * 4).toBeGreaterThan(45);
    expect(found.toFrame.ty * 4).toBeLessThan(75);
    expect(found.correlation).toBeGreaterThan(0.5);
  });
});

describe('fitTone', () => {
  const random = makeRandom(17);
  const source = Float32Array.from({ length: 5000 }, () => 0.05 + 0.8 * random());
  const pairs = (f: (v: number) => number, spoiled = 0) => {
    const target = source.map((v, i) => (i < spoiled ? 1 : f(v) + 0.002 * (random() - 0.5)));
    return { source, target };
  };

  it('recovers a gain and a gentle curve within 0.004, although 10 % of the pairs disagree', () => {
    const gain = (v: number): number => 0.97 * v;
    const curve = (v: number): number => v + 0.05 * Math.sin(Math.PI * v);
    const tone = fitTone([pairs(gain), pairs(curve, 500), pairs((v) => v)]);
    const at = (knots: readonly number[], v: number): number => {
      const t = v * (knots.length - 1);
      const k = Math.min(knots.length - 2, Math.floor(t));
      return knots[k]! + (t - k) * (knots[k + 1]! - knots[k]!);
    };
    for (const v of [0.1, 0.3, 0.5, 0.8]) {
      expect(Math.abs(at(tone[0], v) - gain(v))).toBeLessThan(0.004);
      expect(Math.abs(at(tone[1], v) - curve(v))).toBeLessThan(0.008);
      expect(Math.abs(at(tone[2], v) - v)).toBeLessThan(0.004);
    }
  });

  it('follows an everyday S-curve within two levels of 255, far from where it began', () => {
    const contrast = (v: number): number => v + 0.8 * v * (1 - v) * (2 * v - 1);
    const tone = fitTone([pairs(contrast), pairs(contrast, 500), pairs((v) => 1 - (1 - v) ** 1.5)]);
    for (const v of [0.1, 0.2, 0.35, 0.5, 0.65, 0.8]) {
      expect(Math.abs(evaluateTone(tone[0], v) - contrast(v))).toBeLessThan(2 / 255);
      expect(Math.abs(evaluateTone(tone[1], v) - contrast(v))).toBeLessThan(2 / 255);
      expect(Math.abs(evaluateTone(tone[2], v) - (1 - (1 - v) ** 1.5))).toBeLessThan(2 / 255);
    }
  });

  it('of a dark room with a burnt window follows what is rare between them, once pairs are evened', () => {
    // The merge keeps lights down; where the frame is burnt, the merge is white; a tenth of what lies between is white, too.
    const kept = (v: number): number => 0.45 * v + 0.02;
    const [dark, rare, burnt] = [20_000, 600, 3000];
    const v = Float32Array.from({ length: dark + rare + burnt }, (_, i) =>
      i < dark ? 0.05 + 0.35 * random() : i < dark + rare ? 0.4 + 0.52 * random() : 1,
    );
    const target = v.map((x, i) => (i >= dark + rare || (i >= dark && i % 10 === 0) ? 1 : kept(x)));
    const all = { source: v, target };
    const even = evenPairs(all);
    const [evened, plain] = [even, all].map((pair) => fitTone([pair, pair, pair], 0.002, 33)[1]);
    for (const x of [0.1, 0.3, 0.5, 0.7, 0.85])
      expect(Math.abs(evaluateTone(evened!, x) - kept(x))).toBeLessThan(3 / 255);
    expect(Math.abs(evaluateTone(plain!, 0.85) - kept(0.85))).toBeGreaterThan(10 / 255);
    const few = { source: v.subarray(0, 60), target: target.subarray(0, 60) };
    expect(evenPairs({ source: few.source.subarray(0, 11), target: few.target.subarray(0, 11) }).source).toHaveLength(
      11,
    );
  });

  it('refuses too few pairs', () => {
    const few = { source: new Float32Array(10), target: new Float32Array(10) };
    expect(() => fitTone([few, few, few])).toThrow('fitTone.channels.0: expected at least 50 pairs of equal number');
  });
});

describe('fitCommonTone', () => {
  const random = makeRandom(23);
  const contrast = (v: number): number => v + 0.6 * v * (1 - v) * (2 * v - 1);
  const sharp = Float32Array.from({ length: 4000 }, () => 0.1 + 0.8 * random());
  // A frame out of focus shows half of the places near the mean of all.
  const soft = sharp.map((v, i) => (i % 2 ? 0.5 + 0.2 * (v - 0.5) : v));
  const softer = sharp.map((v, i) => (i % 2 ? 0.5 + 0.1 * (v - 0.5) : v));
  const samples = (data: Float32Array): [Float32Array, Float32Array, Float32Array] => [data, data, data];

  it('is the curve of the merge, not the blur of the frames', () => {
    const tone = fitCommonTone(samples(sharp.map(contrast)), [samples(soft), samples(sharp), samples(softer)])!;
    for (const v of [0.2, 0.35, 0.5, 0.65, 0.8])
      expect(Math.abs(evaluateTone(tone[0], v) - contrast(v))).toBeLessThan(2 / 255);
  });

  it('leaves places out that nobody shows, and says nothing of too few', () => {
    const nowhere = samples(sharp.map(() => NaN));
    expect(fitCommonTone(samples(sharp), [nowhere])).toBeNull();
    const tone = fitCommonTone(samples(sharp.map(contrast)), [nowhere, samples(sharp)])!;
    expect(Math.abs(evaluateTone(tone[1], 0.3) - contrast(0.3))).toBeLessThan(2 / 255);
    expect(() => fitCommonTone(samples(sharp), [samples(sharp.subarray(1))])).toThrow('fitCommonTone.samples.length');
  });
});
