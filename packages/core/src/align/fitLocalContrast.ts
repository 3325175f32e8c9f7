// Whether a merge's local contrast was raised when it was finished: told by how it departs from its frames all over.
import { LuDecomposition, Matrix } from 'ml-matrix';
import { badParameter } from '../checks';
import type { LocalContrast } from '../frame';
import { boxSmooth, makePlane, median, medianOfFirst, type Plane } from '../image';
import type { ColourSamples } from './fitCommonTone';

/** Box radii that are tried; three boxes of radius r are a Gaussian of σ ≈ √(r² + r). */
const RADII = [2, 3, 4, 5, 6, 7, 9, 11, 13, 16, 20, 25, 32] as const;
const BOXES = 3;
/** Raised by less nobody sees. */
const LEAST_AMOUNT = 0.1;
/** Raised or lowered by more it is another picture. */
const MOST_AMOUNT = 3;
/** What is left of the departures must be less than this share of them: what is not one filter all over is no finish. */
const LEAVES_AT_MOST = 0.7;
/** Beyond these the merge is cut off at an end of its scale. */
const ENDS = [0.02, 0.98] as const;
const LEAST_PLACES = 2000;
/** More places tell two numbers no better. */
const MOST_PLACES = 15_000;
/** Multiples of it fill 0..1 evenly. */
const GOLDEN = (Math.sqrt(5) - 1) / 2;
/** What lies beyond the picture is told by so many places near its rim. */
const LEAST_NEAR_RIM = 200;
const ROUNDS = 4;
/** Departures within this many deviations agree (Tukey's biweight). */
const AGREES = 4.685;
/** Noise and rounding leave so much, however well a filter fits. */
const LEAST_DEVIATION = 0.001;
/** A tone curve that is flatter than this was fitted to nothing. */
const LEAST_SLOPE = 0.2;
/** Rounds after which less than a hundredth is left of what an amount of 2 had wrong. */
const UNDO_ROUNDS = 12;
/** Values are kept to this: a quarter of a level of 8 bits. */
const DECIMALS = 3;

interface Grid {
  readonly width: number;
  readonly height: number;
  /** Merge px from place to place. */
  readonly pitchPx: number;
}

/**
 * Fits merge ≈ frames + amount · (frames − their surroundings), one amount and radius for the whole picture.
 * @param merge values of the merge at the places of a grid, encoded 0..1; NaN where it is no picture
 * @param frames values of each frame at the same places, toned to the merge; NaN where it shows nothing, or is clipped
 * @returns null where the merge departs from its frames in no such way
 * @throws ParameterError when the numbers of values differ from the grid's
 * Cost: about 4 µs per place, and 0.5 s for the fits.
 */
export function fitLocalContrast(
  merge: ColourSamples,
  frames: readonly ColourSamples[],
  { width, height, pitchPx }: Grid,
): LocalContrast | null {
  const n = width * height;
  if ([merge, ...frames].some((s) => s.some((c) => c.length !== n)))
    throw badParameter(
      'fitLocalContrast.samples.length',
      `${n} for all`,
      [merge, ...frames].map((s) => s[0].length),
    );
  const { planes, isShown, isPicture } = composite(merge, frames, width, height);
  const [target, source] = [lumaOf(merge), lumaOf(planes)];
  const told: number[] = [];
  for (let i = 0; i < n; i++) {
    if (isShown[i] && isPicture[i] && target[i]! > ENDS[0] && target[i]! < ENDS[1]) told.push(i);
  }
  if (told.length < LEAST_PLACES) return null;
  const used = thinned(told);
  const surroundings = RADII.filter((r) => 4 * r <= Math.min(width, height)).map(
    (r) => blurred({ width, height, data: source }, r, 'repeated').data,
  );
  const plain = fit(target, source, [], used);
  const best = leastOf(surroundings.map((s, k) => ({ ...fit(target, source, [s], used), of: [k] })));
  if (!best || best.deviation > LEAVES_AT_MOST * plain.deviation) return null;
  // Blurs of other shapes than ours, or between two of our radii, are a mix of two.
  const mixed = leastOf(
    surroundings.flatMap((s, k) =>
      k === best.of[0] ? [] : [{ ...fit(target, source, [surroundings[best.of[0]!]!, s], used), of: [best.of[0]!, k] }],
    ),
  );
  const { amounts, of } = mixed && mixed.deviation < best.deviation ? mixed : best;
  const amount = amounts.reduce((sum, v) => sum + v, 0);
  if (amount < LEAST_AMOUNT || amount > MOST_AMOUNT) return null;
  const blurs = of.map((k, n): Blur => ({ radius: RADII[k]!, share: amounts[n]! / amount }));
  const by =
    (beyond: Beyond) =>
    (data: Float32Array): Float32Array => {
      const out = new Float32Array(data.length);
      for (const { radius, share } of blurs) {
        const part = blurred({ width, height, data }, radius, beyond).data;
        for (let i = 0; i < out.length; i++) out[i]! += share * part[i]!;
      }
      return out;
    };
  const reach = Math.max(...blurs.map((b) => b.radius));
  const nearRim = thinned(
    told.filter((i) => {
      const [x, y] = [i % width, Math.floor(i / width)];
      return Math.min(x, y, width - 1 - x, height - 1 - y) < reach;
    }),
  );
  const beyond =
    nearRim.length < LEAST_NEAR_RIM
      ? BEYOND[0]
      : leastOf(BEYOND.map((as) => ({ ...fit(target, source, [by(as)(source)], nearRim), as })))!.as;
  const blur = by(beyond);
  return described(amount, blurs, undone(merge, planes, isPicture, amount, blur), { width, height, pitchPx });
}

/** About so many of some places at most, spread over them without a period that rows could share. */
function thinned(places: readonly number[]): readonly number[] {
  const share = MOST_PLACES / places.length;
  return places.filter((_, k) => (k * GOLDEN) % 1 < share);
}

function leastOf<F extends { readonly deviation: number }>(fits: readonly F[]): F | null {
  return fits.reduce<F | null>((least, f) => (least && least.deviation <= f.deviation ? least : f), null);
}

interface Composite {
  readonly planes: readonly [Float32Array, Float32Array, Float32Array];
  /** 1 where a frame shows something. */
  readonly isShown: Uint8Array;
  /** 1 where the merge is picture. */
  readonly isPicture: Uint8Array;
}

/** The median of the frames that show something; else the merge itself, and beyond the picture what lies around. */
function composite(merge: ColourSamples, frames: readonly ColourSamples[], width: number, height: number): Composite {
  const n = width * height;
  const planes = [new Float32Array(n), new Float32Array(n), new Float32Array(n)] as const;
  const [isShown, isPicture] = [new Uint8Array(n), new Uint8Array(n)];
  const values = new Float64Array(frames.length);
  for (let i = 0; i < n; i++) isPicture[i] = Number.isNaN(merge[1][i]!) ? 0 : 1;
  for (const c of [0, 1, 2] as const) {
    const [plane, ofMerge, ofFrames] = [planes[c], merge[c], frames.map((f) => f[c])];
    for (let i = 0; i < n; i++) {
      let there = 0;
      for (let k = 0; k < frames.length; k++) if (!Number.isNaN(frames[k]![1][i]!)) values[there++] = ofFrames[k]![i]!;
      if (there > 0) {
        isShown[i] = 1;
        plane[i] = medianOfFirst(values, there);
      } else if (isPicture[i]) plane[i] = ofMerge[i]!;
    }
  }
  const known = isShown.map((v, i) => v | isPicture[i]!);
  planes.forEach((plane) => fillFrom(plane, known, width, height));
  return { planes, isShown, isPicture };
}

/** Gives what is not known the mean of what is known on ever wider boxes. */
function fillFrom(plane: Float32Array, known: Uint8Array, width: number, height: number): void {
  const left = Uint8Array.from(known, (v) => 1 - v);
  for (let radius = 4; left.includes(1) && radius < 2 * Math.max(width, height); radius *= 2) {
    const weights = boxSmooth({ width, height, data: Float32Array.from(known) }, radius).data;
    const sums = boxSmooth({ width, height, data: plane.map((v, i) => (known[i] ? v : 0)) }, radius).data;
    for (let i = 0; i < left.length; i++) {
      if (!left[i] || weights[i]! < 1e-4) continue;
      plane[i] = sums[i]! / weights[i]!;
      left[i] = 0;
    }
  }
}

/** What programs take to lie beyond a picture's edge: its last row again and again, or its mirror image. */
type Beyond = (typeof BEYOND)[number];
const BEYOND = ['repeated', 'mirrored'] as const;

function blurred({ width, height, data }: Plane, radius: number, beyond: Beyond): Plane {
  const margin = BOXES * radius;
  const [across, down] = [width + 2 * margin, height + 2 * margin];
  const column = Array.from({ length: across }, (_, x) => within(x - margin, width, beyond));
  let out = makePlane(across, down);
  for (let y = 0; y < down; y++) {
    const from = within(y - margin, height, beyond) * width;
    for (let x = 0; x < across; x++) out.data[y * across + x] = data[from + column[x]!]!;
  }
  for (let k = 0; k < BOXES; k++) out = boxSmooth(out, radius);
  const inner = makePlane(width, height);
  for (let y = 0; y < height; y++) {
    const from = (y + margin) * across + margin;
    inner.data.set(out.data.subarray(from, from + width), y * width);
  }
  return inner;
}

function within(at: number, length: number, beyond: Beyond): number {
  if (beyond === 'repeated') return Math.min(length - 1, Math.max(0, at));
  const turned = ((at % (2 * length)) + 2 * length) % (2 * length);
  return turned < length ? turned : 2 * length - 1 - turned;
}

function lumaOf([r, g, b]: ColourSamples): Float32Array {
  return g.map((v, i) => 0.2126 * r[i]! + 0.7152 * v + 0.0722 * b[i]!);
}

/**
 * Robust least squares of target ≈ α·source + β + Σ amount·(source − around): the straight line takes what the tone curve got wrong.
 * @param surroundings blurs of the source
 */
function fit(
  target: Float32Array,
  source: Float32Array,
  surroundings: readonly Float32Array[],
  used: readonly number[],
): { amounts: number[]; deviation: number } {
  const count = 2 + surroundings.length;
  const length = used.length;
  // Equations in columns: source, 1, and the source over each of its surroundings.
  const columns = Array.from({ length: count }, () => new Float64Array(length));
  const aims = new Float64Array(length);
  for (let k = 0; k < length; k++) {
    const i = used[k]!;
    aims[k] = target[i]!;
    columns[0]![k] = source[i]!;
    columns[1]![k] = 1;
    for (let a = 2; a < count; a++) columns[a]![k] = source[i]! - surroundings[a - 2]![i]!;
  }
  let found = [1, 0, ...surroundings.map(() => 0)];
  let deviation = 0;
  const off = new Float32Array(length);
  const sizes = new Float32Array(length);
  const weights = new Float64Array(length);
  for (let round = 0; round < ROUNDS; round++) {
    for (let k = 0; k < length; k++) {
      let sum = 0;
      for (let a = 0; a < count; a++) sum += found[a]! * columns[a]![k]!;
      off[k] = aims[k]! - sum;
      sizes[k] = Math.abs(off[k]!);
    }
    deviation = Math.max(LEAST_DEVIATION, 1.4826 * median(sizes));
    if (round === ROUNDS - 1) break;
    // The cut narrows: at first much of the picture departs.
    const cut = AGREES * deviation * (ROUNDS - 1 - round);
    for (let k = 0; k < length; k++) {
      const q = off[k]! / cut;
      weights[k] = q >= 1 || q <= -1 ? 0 : (1 - q * q) ** 2;
    }
    const normal = new Matrix(columns.map((a) => columns.map((b) => weightedProduct(weights, a, b))));
    const decomposed = new LuDecomposition(normal);
    if (decomposed.isSingular()) break;
    const right = Matrix.columnVector(columns.map((a) => weightedProduct(weights, a, aims)));
    found = decomposed.solve(right).getColumn(0);
  }
  const slope = Math.max(LEAST_SLOPE, found[0]!);
  return { amounts: found.slice(2).map((v) => v / slope), deviation };
}

function weightedProduct(weights: Float64Array, a: Float64Array, b: Float64Array): number {
  let sum = 0;
  for (let k = 0; k < weights.length; k++) sum += weights[k]! * a[k]! * b[k]!;
  return sum;
}

interface Blur {
  readonly radius: number;
  readonly share: number;
}

/**
 * The picture as it was before the filter: where the filter is known it is undone from the merge itself, as `before = (merge + amount ·
 * blur(before)) / (1 + amount)`, repeated; each round leaves amount / (1 + amount) of what was wrong. The blurred parts of two levels
 * of sampling are the same, so that the coarse grid tells them.
 * @param merge what it shows; only where it `isPicture`
 * @param start what the frames show
 */
function undone(
  merge: ColourSamples,
  start: readonly Float32Array[],
  isPicture: Uint8Array,
  amount: number,
  blur: (plane: Float32Array) => Float32Array,
): Float32Array[] {
  return start.map((plane, c) => {
    const shown = merge[c as 0 | 1 | 2];
    let before = plane;
    for (let round = 0; round < UNDO_ROUNDS; round++) {
      const around = blur(before);
      before = plane.map((seen, i) => {
        if (!isPicture[i]) return seen;
        const found = (shown[i]! + amount * around[i]!) / (1 + amount);
        // Where the filter ran into an end of the scale frames know better how much light there was.
        if (shown[i]! >= ENDS[1]) return Math.max(found, seen);
        return shown[i]! <= ENDS[0] ? Math.min(found, seen) : found;
      });
    }
    return blur(before);
  });
}

/** The filter with its surroundings on nodes as far apart as half of its least radius. */
function described(
  amount: number,
  blurs: readonly Blur[],
  around: readonly Float32Array[],
  { width, height, pitchPx }: Grid,
): LocalContrast {
  const step = Math.max(1, Math.floor(Math.min(...blurs.map((b) => b.radius)) / 2));
  const [columns, rows] = [Math.ceil(width / step), Math.ceil(height / step)];
  const values = new Array<number>(3 * columns * rows);
  around.forEach((data, c) => {
    for (let row = 0; row < rows; row++)
      for (let column = 0; column < columns; column++) {
        let [sum, n] = [0, 0];
        for (let y = row * step; y < Math.min(height, (row + 1) * step); y++)
          for (let x = column * step; x < Math.min(width, (column + 1) * step); x++, n++) sum += data[y * width + x]!;
        values[3 * (row * columns + column) + c] = Number((sum / n).toFixed(DECIMALS));
      }
  });
  const variance = blurs.reduce(
    (sum, { radius, share }) => sum + (share * BOXES * ((2 * radius + 1) ** 2 - 1)) / 12,
    0,
  );
  return {
    amount,
    radiusPx: Math.sqrt(Math.max(0, variance)) * pitchPx,
    columns,
    rows,
    nodePx: step * pitchPx,
    values,
  };
}
