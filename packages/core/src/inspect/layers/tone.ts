// Layer: where the merge's tone changes at a step against its frames'. Double differences: what the scene does itself is in the frames,
// too.
import { toneSquared, type CellPicture, type CellStack } from '../../cells';
import { colourDifference, quantile } from '../../image';
import { detailAt } from '../foreignShare';
import { pixelLikeness, type Likeness } from '../../provenance';
import { MERGE_KINDS, type Layer } from './layer';

export interface ToneMaps extends Readonly<Record<string, Uint8Array | Float32Array>> {
  /** Step of tone or colour across the cell, to the right and downwards, that no frame has; encoded. */
  readonly stepX: Float32Array;
  readonly stepY: Float32Array;
  /** The same steps as the eye sees them: ΔE00 between the farther side as it is and as it would be without the step. */
  readonly differenceX: Float32Array;
  readonly differenceY: Float32Array;
}

export interface ToneYardstick {
  /** Step that nine of ten cells keep below: a merge finished elsewhere has them all over. */
  readonly usual: number;
}

/** Windows on either side of a step: so many cells deep, and so many to either side along it. */
const DEEP = 4;
const ALONG = 3;
/** Of both windows this share must tell. */
const TOLD = 0.7;
/** A frame explains a side whose cells it fits up to this misfit (a third of a px off leaves about 6) over half of it. */
const EXPLAINS = 6;
const EXPLAINED = 0.5;
/** The step itself spoils the fit over the reach of its window: sides are looked at beyond that. */
const CLEAR = 2;
/** A step stands out of the scatter of both windows by so many standard errors; cells near by are no independent samples. */
const OUT_OF_SCATTER = 3;
const DEPENDENT = 4;
const SEES = 0.012;
/** Colour counts half as much as lightness of the same size: the eye's two are about that far apart. */
const CHROMA_WEIGHT = 0.5;

/** Share of the scene's own step that tone curves, flare and compression may add to or take from it. */
const BENDS = 0.15;
/**
 * Mean tone that fine texture gains per variance it loses where a program mixed light, not encoded values: half the curvature of the
 * encoding over its mean, (2.2 − 1) / (2 · 0.4) for mid tones.
 */
const MIXED_LIGHT = 1.5;

export const tone: Layer<ToneMaps, readonly number[], ToneYardstick> = {
  name: 'tone',
  kinds: MERGE_KINDS,
  needs: [],
  empty: (cells) => ({
    stepX: new Float32Array(cells),
    stepY: new Float32Array(cells),
    differenceX: new Float32Array(cells),
    differenceY: new Float32Array(cells),
  }),
  measure({ stack }) {
    const { width, height, frames } = stack;
    const maps = this.empty(width * height);
    maps.stepX.fill(Infinity);
    maps.stepY.fill(Infinity);
    // Where frames are in one tone, they differ by their blur: a step that they do not agree on is its doing.
    const spreads = frames.some((f) => f.relation) ? null : [newSpread(width * height), newSpread(width * height)];
    const explained = [new Uint8Array(width * height), new Uint8Array(width * height)];
    const witnessOf = makeWitnesses(stack);
    const sums = newSums(width, height);
    // What is shown most tells most: asked first, it leaves little to ask the others.
    for (const k of mostPickedFirst(stack)) {
      const witness = witnessOf(k);
      if (!witness.telling.includes(1)) continue;
      sumDifferences(stack, k, witness, sums);
      leastSteps(stack, sums, [1, 0], maps.stepX, maps.differenceX, explained[0]!, spreads?.[0]);
      leastSteps(stack, sums, [0, 1], maps.stepY, maps.differenceY, explained[1]!, spreads?.[1]);
    }
    if (spreads) {
      dropDisputed(maps.stepX, spreads[0]!);
      dropDisputed(maps.stepY, spreads[1]!);
    }
    // Any frame without a step there speaks against one; but at least one has to be what is shown.
    clearUnexplained(maps.stepX, explained[0]!);
    clearUnexplained(maps.stepY, explained[1]!);
    const steps: number[] = [];
    for (let i = 0; i < maps.stepX.length; i++) {
      const told = maps.stepX[i] !== Infinity || maps.stepY[i] !== Infinity;
      if (maps.stepX[i] === Infinity) maps.stepX[i] = 0;
      if (maps.stepY[i] === Infinity) maps.stepY[i] = 0;
      if (told && i % 8 === 0) steps.push(Math.max(maps.stepX[i]!, maps.stepY[i]!));
    }
    return { maps, samples: steps };
  },
  calibrate(samples) {
    const steps = samples.flat();
    return { usual: steps.length > 0 ? quantile(steps, 0.9) : 0 };
  },
};

/** Where a frame says something of the merge, and where the merge is it but for tone. */
interface Witness {
  readonly telling: Uint8Array;
  fits(cell: number): boolean;
}

function makeWitnesses(stack: CellStack): (frame: number) => Witness {
  // What it works out for all cells is only asked where frames are in one tone.
  let likeness: Likeness | null = null;
  return (k) => {
    const frame = stack.frames[k]!;
    const { relation, valid, residual } = frame;
    if (relation) return { telling: relation.telling, fits: (i) => relation.misfit[i]! < EXPLAINS };
    // In one tone pixels are compared; a step of tone or colour itself is no reason against a frame.
    const { allowed } = (likeness ??= pixelLikeness(stack));
    const toned = toneApart(stack.merge!, frame);
    return { telling: valid, fits: (i) => residual[i]! - toned[i]! < allowed(frame, i) };
  };
}

/** Indices of all frames, that of most cells first. */
function mostPickedFirst({ frames, picked }: CellStack): number[] {
  const counts = new Float64Array(256);
  for (const k of picked) counts[k]! += 1;
  return [...frames.keys()].sort((a, b) => counts[b]! - counts[a]! || a - b);
}

/** Squared difference of two pictures' mean colours per cell, as in the residual. */
function toneApart({ mean: [r, g, b] }: CellPicture, { mean: [fr, fg, fb] }: CellPicture): Float32Array {
  return r.map((_, i) => toneSquared(r[i]! - fr[i]!, g[i]! - fg[i]!, b[i]! - fb[i]!));
}

/** Summed-area tables of a frame's differences from the merge. */
interface Sums {
  readonly luma: Float64Array;
  /** Luma of the frame itself, in the merge's tone. */
  readonly own: Float64Array;
  readonly square: Float64Array;
  readonly warmth: Float64Array;
  readonly told: Float64Array;
  readonly explained: Float64Array;
  /** Variance of texture that the merge lacks of the frame. */
  readonly smoothed: Float64Array;
}

/** Tables of a grid of cells, whose first row and column stay 0: filled anew for each frame. */
function newSums(width: number, height: number): Sums {
  const table = (): Float64Array => new Float64Array((width + 1) * (height + 1));
  return {
    ...{ luma: table(), own: table(), square: table(), warmth: table(), told: table(), explained: table() },
    smoothed: table(),
  };
}

/** Differences of the merge from one frame, added up. */
function sumDifferences(
  { width, height, merge, frames }: CellStack,
  k: number,
  { telling, fits }: Witness,
  sums: Sums,
): void {
  const [mr, mg, mb] = merge!.mean;
  const [fr, fg, fb] = frames[k]!.mean;
  const across = width + 1;
  const frame = frames[k]!;
  for (let y = 0; y < height; y++) {
    let [luma, own, square, warmth, told, explained, smoothed] = [0, 0, 0, 0, 0, 0, 0];
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (telling[i]) {
        const [r, g, b] = [mr[i]! - fr[i]!, mg[i]! - fg[i]!, mb[i]! - fb[i]!];
        const d = 0.2126 * r + 0.7152 * g + 0.0722 * b;
        luma += d;
        own += 0.2126 * fr[i]! + 0.7152 * fg[i]! + 0.0722 * fb[i]!;
        square += d * d;
        warmth += (r - b) / 2;
        told += 1;
        smoothed += detailAt(frame, i) - detailAt(merge!, i);
        if (fits(i)) explained += 1;
      }
      const at = (y + 1) * across + x + 1;
      const above = at - across;
      sums.luma[at] = sums.luma[above]! + luma;
      sums.own[at] = sums.own[above]! + own;
      sums.square[at] = sums.square[above]! + square;
      sums.warmth[at] = sums.warmth[above]! + warmth;
      sums.told[at] = sums.told[above]! + told;
      sums.explained[at] = sums.explained[above]! + explained;
      sums.smoothed[at] = sums.smoothed[above]! + smoothed;
    }
  }
}

/** The least and the largest step that any frame has at a cell, with its sign. */
interface Spread {
  readonly low: Float32Array;
  readonly high: Float32Array;
}

function newSpread(cells: number): Spread {
  return { low: new Float32Array(cells).fill(Infinity), high: new Float32Array(cells).fill(-Infinity) };
}

function clearUnexplained(step: Float32Array, explained: Uint8Array): void {
  for (let i = 0; i < step.length; i++) if (!explained[i]) step[i] = Infinity;
}

/** Frames may disagree on a step by this share of it. */
const DISPUTED = 0.6;

function dropDisputed(step: Float32Array, { low, high }: Spread): void {
  for (let i = 0; i < step.length; i++)
    if (step[i] !== Infinity && high[i]! - low[i]! > DISPUTED * step[i]!) step[i] = 0;
}

/** Steps across each cell in one direction, kept where they are less than what other frames say. */
function leastSteps(
  { width, height, merge }: CellStack,
  sums: Sums,
  [dx, dy]: readonly [0 | 1, 0 | 1],
  least: Float32Array,
  difference: Float32Array,
  explained: Uint8Array,
  spread?: Spread,
): void {
  const [red, green, blue] = merge!.mean;
  const [wide, tall] = [dx ? DEEP : 2 * ALONG + 1, dy ? DEEP : 2 * ALONG + 1];
  const full = wide * tall;
  const across = width + 1;
  // A table's sum over the box with this upper left corner. Most cells are settled by the first frames: it is only read where one is open.
  const box = (table: Float64Array, at: number): number => {
    const foot = at + tall * across;
    return table[foot + wide]! - table[at + wide]! - table[foot]! + table[at]!;
  };
  const beyond = CLEAR * (dx + dy * across);
  const reach = DEEP + CLEAR;
  for (let y = dy ? reach : ALONG; y < height - (dy ? reach : ALONG); y++) {
    for (let x = dx ? reach : ALONG; x < width - (dx ? reach : ALONG); x++) {
      const at = y * width + x;
      // A frame without a step here has spoken, and one that is shown: no other has anything to add.
      if (least[at] === 0 && explained[at]) continue;
      const bx = dx ? x + 1 : x - ALONG;
      const by = dy ? y + 1 : y - ALONG;
      const one = (y - (dy ? DEEP : ALONG)) * across + x - (dx ? DEEP : ALONG);
      const other = by * across + bx;
      const na = box(sums.told, one);
      const nb = box(sums.told, other);
      if (na < TOLD * full || nb < TOLD * full) continue;
      const la = box(sums.luma, one) / na;
      const lb = box(sums.luma, other) / nb;
      if (spread) {
        spread.low[at] = Math.min(spread.low[at]!, lb - la);
        spread.high[at] = Math.max(spread.high[at]!, lb - la);
      }
      const explains =
        box(sums.explained, one - beyond) >= EXPLAINED * full &&
        box(sums.explained, other + beyond) >= EXPLAINED * full;
      if (explains) explained[at] = 1;
      const scatter = (box(sums.square, one) / na - la * la) / na + (box(sums.square, other) / nb - lb * lb) / nb;
      const warmth = box(sums.warmth, other) / nb - box(sums.warmth, one) / na;
      const scene = box(sums.own, other) / nb - box(sums.own, one) / na;
      const smoothed = box(sums.smoothed, other) / nb - box(sums.smoothed, one) / na;
      const borne = BENDS * Math.abs(scene) + MIXED_LIGHT * Math.abs(smoothed);
      const step = Math.max(0, Math.sqrt((lb - la) ** 2 + (CHROMA_WEIGHT * warmth) ** 2) - borne);
      const doubt = OUT_OF_SCATTER * Math.sqrt(Math.max(0, DEPENDENT * scatter));
      // A frame that lies a little off speaks against a step only where it would see one.
      if (!explains && doubt > SEES) continue;
      const sure = step > doubt;
      const value = sure ? step : 0;
      if (value >= least[at]!) continue;
      least[at] = value;
      const there = (by + (tall >> 1)) * width + bx + (wide >> 1);
      const [r, g, b] = [red[there]!, green[there]!, blue[there]!];
      const l = lb - la;
      difference[at] = value > 0 ? colourDifference([r, g, b], [r - l - warmth, g - l, b - l + warmth]) : 0;
    }
  }
}
