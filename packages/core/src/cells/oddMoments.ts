// Things that move through a focus stack: where a frame shows what neither of its neighbours along the focus axis shows, blurred or not.
import { boxSmooth, median } from '../image';
import { cellLuma } from './cellLuma';
import type { CellPicture, CellStack } from './gatherCells';

/** What moved, by frame. */
export interface OddMoments {
  /** For each frame, 1 where it shows another moment than its neighbours. */
  readonly odd: readonly Uint8Array[];
  /** For each frame, by how much it stands out there from neighbours that are alike, encoded luma; 0 elsewhere. */
  readonly contrast: readonly Float32Array[];
  /** What frames were compared by (see broadLuma); none where nothing was compared. */
  readonly luma: readonly Float32Array[];
}

/** So few frames have no neighbours on both sides to speak of. */
const LEAST_FRAMES = 4;
/** A step of focus blurs by less than the last of these, as deviations of a Gaussian in cells. */
const STEPS = 2;
/** Cells around one in which frames are compared. */
const AROUND = 2;
/** RMS by which another moment differs at least, encoded. */
const LEAST_APART = 0.015;
/** It differs, however either is blurred, by this share of what is seen there; blur leaves no more than half of that. */
const OF_CONTRAST = 0.45;
/** Neighbours are alike where they differ by less than this share of what a frame stands out by from both. */
const ALIKE = 0.6;
/** Every so many cells tell by how much one frame is lighter than the other. */
const TELLING = 7;
/** Noise of a cell's mean against that of a px; and how far beyond noise a difference must be, as energies. */
const [PER_CELL, OVER_NOISE] = [1 / 16, 8];

/**
 * Looks for them.
 * @returns maps by frame; none are odd where frames differ in tone, or are few
 * Cost: 100 ns per cell and frame, and 1 µs where neighbours differ.
 */
export function oddMoments(stack: CellStack): OddMoments {
  const { frames, width, height, noiseMiddle } = stack;
  const size = width * height;
  const odd = frames.map(() => new Uint8Array(size));
  const contrast = frames.map(() => new Float32Array(size));
  if (frames.length < LEAST_FRAMES || frames.some((f) => f.relation)) return { odd, contrast, luma: [] };
  const blurred = frames.map((f): Blurred => {
    const levels = [broadLuma(f, stack)];
    // Most frames never differ: they are blurred when somebody asks.
    return (n) => {
      for (let k = levels.length; k <= n; k++) levels.push(smoother(levels[k - 1]!, width, height, 1 << (k - 1)));
      return levels[n]!;
    };
  });
  const floor = (i: number): number => Math.max(LEAST_APART ** 2, OVER_NOISE * PER_CELL * noiseMiddle[i]!);
  const pairs = frames.slice(1).map((_, k) => apart(blurred[k]!, blurred[k + 1]!, width, height, floor));
  // The ends have one neighbour: they must differ from the one behind it, too.
  const last = frames.length - 1;
  const ends = [
    apart(blurred[0]!, blurred[2]!, width, height, floor),
    apart(blurred[last]!, blurred[last - 2]!, width, height, floor),
  ] as const;
  frames.forEach((frame, k) => {
    const before = k === 0 ? ends[0] : pairs[k - 1]!;
    const after = k === last ? ends[1] : pairs[k]!;
    const own = blurred[k]!(0);
    const [one, other] = [k === 0 ? 2 : k - 1, k === last ? last - 2 : k + 1].map((n) => blurred[n]!(0)) as [
      Float32Array,
      Float32Array,
    ];
    for (let i = 0; i < size; i++) {
      if (!before[i] || !after[i] || !frame.valid[i]) continue;
      odd[k]![i] = 1;
      const least = Math.min(Math.abs(own[i]! - one[i]!), Math.abs(own[i]! - other[i]!));
      // Where the others differ as well, something is there in each: it is not this one that stands out.
      if (Math.abs(one[i]! - other[i]!) < ALIKE * least) contrast[k]![i] = least;
    }
  });
  return { odd, contrast, luma: blurred.map((level) => level(0)) };
}

/** Luma in forms of a cell and more: thin lines and glints, which a blur of less than a cell takes away, tell nothing of movement. */
export function broadLuma(
  picture: Pick<CellPicture, 'mean'>,
  { width, height }: Pick<CellStack, 'width' | 'height'>,
): Float32Array {
  return smoother(cellLuma(picture), width, height, 1);
}

/** A tent over a cell and those so far to its sides and above and below, twice. */
function smoother(plane: Float32Array, width: number, height: number, reach: number): Float32Array {
  const rows = new Float32Array(plane.length);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const v = plane[i]!;
      const before = x >= reach ? plane[i - reach]! : v;
      const after = x < width - reach ? plane[i + reach]! : v;
      rows[i] = (before + 2 * v + after) / 4;
    }
  const out = new Float32Array(plane.length);
  const step = reach * width;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const v = rows[i]!;
      const above = y >= reach ? rows[i - step]! : v;
      const below = y < height - reach ? rows[i + step]! : v;
      out[i] = (above + 2 * v + below) / 4;
    }
  return out;
}

/** A frame at some blur, the least at 0. */
type Blurred = (level: number) => Float32Array;

/** 1 where two frames differ, however either is blurred. */
function apart(a: Blurred, b: Blurred, width: number, height: number, floor: (cell: number) => number): Uint8Array {
  const out = new Uint8Array(width * height);
  const [own, other] = [a(0), b(0)];
  // Light that flickers is no movement.
  const some = new Float64Array(Math.ceil(own.length / TELLING));
  for (let n = 0; n < some.length; n++) some[n] = own[n * TELLING]! - other[n * TELLING]!;
  const lighter = median(some);
  const squared = new Float32Array(own.length);
  for (let i = 0; i < squared.length; i++) squared[i] = (own[i]! - other[i]! - lighter) ** 2;
  const mean = boxSmooth({ width, height, data: squared }, AROUND).data;
  for (let y = AROUND; y < height - AROUND; y++)
    for (let x = AROUND; x < width - AROUND; x++) {
      const i = y * width + x;
      const least = floor(i);
      if (!(mean[i]! > least)) continue;
      const limit = Math.max(
        least,
        OF_CONTRAST ** 2 * Math.max(varianceAt(own, i, width), varianceAt(other, i, width)),
      );
      let isBlur = mean[i]! <= limit;
      for (let n = 1; n <= STEPS && !isBlur; n++) {
        const [softer, softerOther] = [a(n), b(n)];
        isBlur =
          around(i, width, (j) => (softer[j]! - other[j]! - lighter) ** 2) <= limit ||
          around(i, width, (j) => (own[j]! - softerOther[j]! - lighter) ** 2) <= limit;
      }
      if (!isBlur) out[i] = 1;
    }
  return out;
}

/** Mean of a value over the cells around one. */
function around(i: number, width: number, value: (cell: number) => number): number {
  let sum = 0;
  for (let dy = -AROUND; dy <= AROUND; dy++)
    for (let dx = -AROUND; dx <= AROUND; dx++) sum += value(i + dy * width + dx);
  return sum / (2 * AROUND + 1) ** 2;
}

function varianceAt(plane: Float32Array, i: number, width: number): number {
  const mean = around(i, width, (j) => plane[j]!);
  return around(i, width, (j) => (plane[j]! - mean) ** 2);
}
