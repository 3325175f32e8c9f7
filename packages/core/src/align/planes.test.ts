// Models with as many freedoms as needed, local fields that keep lines straight, and the sharp part of a frame: known truth in, known truth out.
import { addNoise, gaussianBlur, makeRandom, samplePlane, waveTexture } from '../testing/pictures';
import { chooseModel, findSharpPart, solveLocalFields, solvePlanes, type PlaneTie, type TiedPair } from '.';
import {
  applyMatrix,
  composeMatrix,
  frameToMerge,
  type FrameGeometry,
  invertMatrix,
  type LocalField,
  type Matrix3,
  matrix3,
  mergeToFrame,
  type Similarity,
  similarityMatrix,
} from '../frame';

const [W, H] = [1200, 900];
const SIZE = { width: W, height: H };
const PLAIN: Matrix3 = [1, 0, 0, 0, 1, 0, 0, 0, 1];
const NOWHERE_ELSE: Similarity = { re: 1, im: 0, tx: 0, ty: 0 };

/** Ties between frames that truly lie at `toFrame` of the reference, with noise and some that are wrong. */
function tiesOf(toFrame: readonly Matrix3[], from: number, to: number, seed: number, noisePx = 0.05): TiedPair {
  const random = makeRandom(seed);
  const over = composeMatrix(toFrame[to]!, invertMatrix(toFrame[from]!));
  const ties = Array.from({ length: 24 * 16 }, (_, n): PlaneTie => {
    const [x, y] = [((n % 24) + 0.5) * (W / 24), (Math.floor(n / 24) + 0.5) * (H / 16)];
    const [u, v] = applyMatrix(over, x, y);
    const wrong = n % 9 === 0 ? 12 : 0;
    const off = (): number => 2 * noisePx * (random() - 0.5);
    return { x, y, u: u + wrong + off(), v: v - wrong + off(), weight: 400 };
  });
  return { from, to, ties };
}

function neighbours(toFrame: readonly Matrix3[], noisePx?: number): TiedPair[] {
  return toFrame.flatMap((_, i) =>
    [i + 1, i + 2].filter((j) => j < toFrame.length).map((j) => tiesOf(toFrame, i, j, 10 * i + j, noisePx)),
  );
}

function cornerError(a: Matrix3, b: Matrix3): number {
  return Math.max(
    ...[
      [0, 0],
      [W, 0],
      [0, H],
      [W, H],
    ].map(([x, y]) => {
      const [p, q] = [applyMatrix(a, x!, y!), applyMatrix(b, x!, y!)];
      return Math.hypot(p[0] - q[0], p[1] - q[1]);
    }),
  );
}

/** A series in the hand: each frame a little shifted, turned and tilted against the one before. */
const tilting = Array.from({ length: 7 }, (_, k): Matrix3 =>
  k === 3
    ? PLAIN
    : matrix3([
        1 + 0.002 * (k - 3),
        0.001 * (k - 3),
        1.3 * (k - 3),
        -0.0016 * (k - 3),
        1 - 0.001 * (k - 3),
        -0.8 * (k - 3),
        2.5e-6 * (k - 3),
        -1.5e-6 * (k - 3),
        1,
      ]),
);
const breathing = Array.from({ length: 7 }, (_, k): Matrix3 =>
  similarityMatrix({ re: 1 + 0.003 * (k - 3), im: 0, tx: -1.8 * (k - 3), ty: -1.35 * (k - 3) }),
);
const start = (count: number): Similarity[] => Array.from({ length: count }, () => NOWHERE_ELSE);

describe('solvePlanes', () => {
  it('recovers a series of seven tilting frames within 0.1 px at the corners, a ninth of the ties being wrong', () => {
    const { toFrame, residualPx } = solvePlanes(3, start(7), neighbours(tilting), 'homography', W, H);
    toFrame.forEach((m, k) => expect(cornerError(m, tilting[k]!)).toBeLessThan(0.1));
    residualPx.forEach((r) => expect(r).toBeLessThan(0.08));
    expect(cornerError(toFrame[3]!, PLAIN)).toBeLessThan(1e-9);
  });

  it('keeps to the freedoms asked for: a shift does not turn, an affine map has no perspective', () => {
    const pairs = neighbours(tilting);
    solvePlanes(3, start(7), pairs, 'shift', W, H).toFrame.forEach((m) => {
      expect(m[0]).toBeCloseTo(1, 9);
      expect(m[1]).toBeCloseTo(0, 9);
    });
    solvePlanes(3, start(7), pairs, 'affine', W, H).toFrame.forEach((m) => {
      expect(Math.abs(m[6])).toBeLessThan(1e-15);
      expect(Math.abs(m[7])).toBeLessThan(1e-15);
    });
  });

  it('leaves a frame without enough ties where it was', () => {
    const few = neighbours(tilting).map((p) => (p.to === 6 ? { ...p, ties: p.ties.slice(0, 3) } : p));
    const { toFrame } = solvePlanes(3, start(7), few, 'homography', W, H);
    expect(cornerError(toFrame[6]!, PLAIN)).toBeLessThan(1e-9);
  });
});

describe('chooseModel', () => {
  it('takes a similarity where frames only breathe and shift, whatever their noise', () => {
    for (const noise of [0.02, 0.1, 0.4])
      expect(chooseModel(3, start(7), neighbours(breathing, noise), W, H, 1).model).toBe('similarity');
  });

  it('takes a homography where frames tilt', () => {
    const chosen = chooseModel(3, start(7), neighbours(tilting), W, H, 1);
    expect(chosen.model).toBe('homography');
    chosen.toFrame.forEach((m, k) => expect(cornerError(m, tilting[k]!)).toBeLessThan(0.1));
  });

  it('does not take more freedoms for less than a px of what was registered', () => {
    expect(chooseModel(3, start(7), neighbours(tilting), W, H, 64).model).toBe('similarity');
  });
});

describe('solveLocalFields', () => {
  /** Something near, shifted by parallax over part of the frame. */
  const parallax = (x: number, y: number): [number, number] => {
    const w = 1 / (1 + Math.exp(-(y - 500) / 60));
    return [1.1 * w, -0.5 * w * (x / W)];
  };
  const plain = (): FrameGeometry => ({ model: 'homography', toFrame: PLAIN });
  const pairOf = (noisePx = 0.05): TiedPair => {
    const pair = tiesOf([PLAIN, PLAIN], 0, 1, 3, noisePx);
    const ties = pair.ties.map((t) => {
      const [dx, dy] = parallax(t.x, t.y);
      return { ...t, u: t.u + dx, v: t.v + dy };
    });
    return { ...pair, ties };
  };
  const longest = (f: LocalField): number => Math.max(...f.dx.map((dx, n) => Math.hypot(dx, f.dy[n]!)));

  it('follows parallax: what is left falls below a quarter, a ninth of the ties being wrong', () => {
    const pair = pairOf();
    const fields = solveLocalFields([plain(), plain()], [SIZE, SIZE], [pair], 0, 6);
    expect(fields[0]).toBeNull();
    const view: FrameGeometry = { ...plain(), local: fields[1]! };
    const left = (v: FrameGeometry): number => {
      const off = pair.ties
        .filter((_, n) => n % 9 !== 0 && pair.ties[n]!.y > 560)
        .map((t) => {
          const [u, w] = mergeToFrame(v, t.x, t.y)!;
          return Math.hypot(u - t.u, w - t.v);
        });
      return off.reduce((s, d) => s + d, 0) / off.length;
    };
    expect(left(view)).toBeLessThan(0.25 * left(plain()));
  });

  it.each([0.4, 1, 3])('bends no straight line by more than %s px', (bendPx) => {
    const fields = solveLocalFields([plain(), plain()], [SIZE, SIZE], [pairOf()], 0, bendPx);
    expect(longest(fields[1]!)).toBeLessThanOrEqual(bendPx / 2 + 1e-9);
    const view: FrameGeometry = { ...plain(), local: fields[1]! };
    const random = makeRandom(8);
    for (let line = 0; line < 200; line++) {
      const [ax, ay, bx, by] = [random() * W, random() * H, random() * W, random() * H];
      const at = (t: number) => mergeToFrame(view, ax + t * (bx - ax), ay + t * (by - ay))!;
      const [a, b] = [at(0), at(1)];
      const length = Math.hypot(b[0] - a[0], b[1] - a[1]);
      if (length < 50) continue;
      for (let n = 1; n < 20; n++) {
        const p = at(n / 20);
        const off = Math.abs((b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0])) / length;
        expect(off).toBeLessThanOrEqual(bendPx + 1e-9);
      }
    }
  });

  it('shares what lies between two frames when none is the reference', () => {
    const [a, b] = solveLocalFields([plain(), plain()], [SIZE, SIZE], [pairOf(0.01)], null, 6);
    expect(Math.abs(longest(a!) / longest(b!) - 1)).toBeLessThan(0.15);
  });

  it('shifts nothing by more than noise where frames agree', () => {
    const agreeing = tiesOf([PLAIN, PLAIN], 0, 1, 9, 0.2);
    expect(longest(solveLocalFields([plain(), plain()], [SIZE, SIZE], [agreeing], 0, 6)[1]!)).toBeLessThan(0.15);
  });

  it('maps frame → merge → frame to itself within 0.001 px with a local field', () => {
    const [, field] = solveLocalFields([plain(), plain()], [SIZE, SIZE], [pairOf()], 0, 6);
    const view: FrameGeometry = { model: 'homography', toFrame: tilting[5]!, local: field! };
    for (const [x, y] of [
      [10, 10],
      [600, 505],
      [1190, 880],
    ] as const) {
      const [mx, my] = frameToMerge(view, x, y)!;
      const [fx, fy] = mergeToFrame(view, mx, my)!;
      expect(Math.hypot(fx - x, fy - y)).toBeLessThan(1e-3);
    }
  });

  it('refuses a bound of 0', () => {
    expect(() => solveLocalFields([plain()], [SIZE], [], 0, 0)).toThrow(
      'solveLocalFields.bendPx: expected more than 0 px',
    );
  });
});

describe('findSharpPart', () => {
  const sharp = samplePlane(640, 480, waveTexture(5, 120));
  const soft = gaussianBlur(sharp, 4);
  /** Sharp where `where` says so, soft elsewhere. */
  const focused = (where: (x: number) => boolean, seed: number) =>
    addNoise({ ...sharp, data: sharp.data.map((v, i) => (where(i % 640) ? v : soft.data[i]!)) }, 0.003, seed);
  const frames = [focused((x) => x < 200, 1), focused((x) => x >= 200 && x < 430, 2), focused((x) => x >= 430, 3)];

  it.each([0, 1, 2])('finds where frame %s is the sharp one: nine tenths of it, and little else', (k) => {
    const { width, height, data } = findSharpPart(frames, 9e-6, k)!;
    const bounds = [
      [0, 200],
      [200, 430],
      [430, 640],
    ][k]!;
    let [inside, marked, right] = [0, 0, 0];
    for (let i = 0; i < data.length; i++) {
      const x = (((i % width) + 0.5) * 640) / width;
      const within = x > bounds[0]! && x < bounds[1]!;
      inside += within ? 1 : 0;
      marked += data[i]!;
      right += within ? data[i]! : 0;
    }
    expect(height).toBe(48);
    expect(right / inside).toBeGreaterThan(0.9);
    expect(right / marked).toBeGreaterThan(0.88);
  });

  it('finds nothing in a frame that is sharp nowhere, and names one that is not there', () => {
    const blurred = addNoise(gaussianBlur(sharp, 6), 0.003, 4);
    expect(findSharpPart([...frames, blurred], 9e-6, 3)).toBeNull();
    expect(() => findSharpPart(frames, 9e-6, 7)).toThrow('findSharpPart.index: expected 0 to 2');
  });
});
