// A mask that fits its cause: from a finding's cells on as far as the merge is not what the donor shows.
import { badParameter } from '../checks';
import { dilate, median, tentSmooth } from '../image';
import { CELL_PX } from '../kernels';

/** A merge beside a donor in the same tone, per cell of a region. */
export interface Likeness {
  /** Cells across and down. */
  readonly width: number;
  readonly height: number;
  /** By how much they differ over what noise and resampling leave: about 1 where both show the same. */
  readonly apart: Float32Array;
  /** Detail of the donor over the merge's, as energies. */
  readonly gain: Float32Array;
  /** 1 where the donor shows the cell. */
  readonly valid: Uint8Array;
}

/** Share of the pictures' own variance that resampling and compression may cost. */
const RESAMPLING = 0.05;
/** Squares of the differences that nobody sees: of px a level of 255, of the tone of a place 1.5. */
const [PIXEL_FLOOR, TONE_FLOOR] = [1.6e-5, 3.5e-5];

/**
 * Compares two pictures cell by cell.
 * @param merge R, G, B of a region, encoded 0..1
 * @param donor R, G, B in the merge's tone, and where it is valid
 * @param width, height px of the region, multiples of 4
 * @param noise variance of a px of both together
 * @throws ParameterError for planes of another size
 */
export function likenessOf(
  merge: readonly Float32Array[],
  donor: readonly Float32Array[],
  width: number,
  height: number,
  noise: number,
): Likeness {
  if (width % CELL_PX !== 0 || height % CELL_PX !== 0 || merge[0]!.length !== width * height)
    throw badParameter('likenessOf.size', 'multiples of 4 px, and as many values', { width, height });
  const [across, down] = [width / CELL_PX, height / CELL_PX];
  const plane = (): Float32Array => new Float32Array(across * down);
  const [pixels, tone, mine, theirs] = [plane(), plane(), plane(), plane()];
  const valid = new Uint8Array(across * down);
  const n = CELL_PX * CELL_PX;
  for (let cell = 0; cell < valid.length; cell++) {
    const start = Math.floor(cell / across) * CELL_PX * width + (cell % across) * CELL_PX;
    let covered = 0;
    for (let c = 0; c < 3; c++) {
      let [a, b, aa, bb, ab] = [0, 0, 0, 0, 0];
      for (let v = 0; v < CELL_PX; v++)
        for (let i = start + v * width; i < start + v * width + CELL_PX; i++) {
          const [m, d] = [merge[c]![i]!, donor[c]![i]!];
          a += m;
          b += d;
          aa += m * m;
          bb += d * d;
          ab += (m - d) * (m - d);
          if (c === 0 && donor[3]![i]) covered += 1;
        }
      pixels[cell] = pixels[cell]! + ab / n / 3;
      tone[cell] = tone[cell]! + (a - b) / n / 3;
      mine[cell] = mine[cell]! + Math.max(0, aa / n - (a / n) ** 2) / 3;
      theirs[cell] = theirs[cell]! + Math.max(0, bb / n - (b / n) ** 2) / 3;
    }
    valid[cell] = covered === n ? 1 : 0;
  }
  const smooth = (data: Float32Array): Float32Array => tentSmooth({ width: across, height: down, data }, 1).data;
  const [p, t, m, d] = [pixels, tone, mine, theirs].map(smooth) as [
    Float32Array,
    Float32Array,
    Float32Array,
    Float32Array,
  ];
  return {
    width: across,
    height: down,
    valid,
    apart: p.map((v, i) =>
      Math.max(v / (noise + PIXEL_FLOOR + RESAMPLING * Math.min(m[i]!, d[i]!)), t[i]! ** 2 / (noise / n + TONE_FLOOR)),
    ),
    gain: d.map((v, i) => (v + noise) / (m[i]! + noise)),
  };
}

/** Cells around a mask that tell how a donor fits, and those beside it that lie in its fade. */
const [RIM_CELLS, FADE_CELLS] = [8, 1];

/** How far merge and donor differ around a mask: the median of `apart`; Infinity where nothing around it can be compared. */
export function rimOf({ width, height, apart, valid }: Likeness, mask: Uint8Array): number {
  const grid = { width, height, data: mask };
  const [far, near] = [dilate(grid, RIM_CELLS).data, dilate(grid, FADE_CELLS).data];
  const around = Array.from(apart).filter((_, i) => far[i] && !near[i] && valid[i]);
  return around.length === 0 ? Infinity : median(around);
}

/** Where a mask may grow. */
export interface MaskGrowth {
  /** Cells around the finding that it may reach. */
  readonly reach: number;
  /** Least share of the merge's detail, as energy, that the donor shows where the mask grows. */
  readonly leastGain: number;
  /** Whether of the start itself only what differs belongs to the mask: it was drawn around a thing, roughly; default not. */
  readonly isRough?: boolean;
}

/** Cells differ when they are so many times as far apart as those that are alike. */
const APART = 4;
/** Around a finding donor and merge are as far apart as this quantile says: a donor that is soft all around tells little. */
const USUAL_QUANTILE = 0.25;
/** Gaps of twice so many cells are bridged; within what was drawn around a thing, plain parts of it that look alike, too. */
const [GAP_CELLS, ROUGH_GAP_CELLS] = [1, 4];

/**
 * Grows a finding's cells through those in which the merge is not what the donor shows, so that the mask ends where both agree.
 * @param start cells of the finding in the grid of the likeness
 * @returns a flag per cell
 * Cost: one visit per cell for each cell of reach.
 */
export function fitMask(
  { width, height, apart, gain, valid }: Likeness,
  start: readonly number[],
  { reach, leastGain, isRough = false }: MaskGrowth,
): Uint8Array {
  const out = new Uint8Array(width * height);
  for (const i of start) out[i] = 1;
  const around = dilate({ width, height, data: out }, reach).data;
  const ring = Array.from(apart.keys()).filter((i) => around[i] && !out[i] && valid[i]);
  if (ring.length === 0) return isRough ? out.fill(0) : out;
  const sorted = ring.map((i) => apart[i]!).sort((a, b) => a - b);
  const limit = APART * Math.max(1, sorted[Math.floor(USUAL_QUANTILE * sorted.length)]!);
  const differs = Uint8Array.from(apart, (v, i) => (around[i] && valid[i] && v > limit ? 1 : 0));
  // Along the rim of what the donor shows soft both count alike: the rim is soft, too.
  const soft = differs.map((v, i) => (v && gain[i]! < leastGain ? 1 : 0));
  const isSoft = dilate({ width, height, data: soft }, 1).data;
  const open = differs.map((v, i) => ((v && !isSoft[i]) || (out[i] && !isRough) ? 1 : 0));
  const gap = isRough ? ROUGH_GAP_CELLS : GAP_CELLS;
  const bridged = dilate(dilate({ width, height, data: open }, gap), -gap).data;
  if (isRough) for (const i of start) if (!bridged[i] || isSoft[i]) out[i] = 0;
  let front = start.filter((i) => out[i]);
  for (let step = 0; step < reach && front.length > 0; step++) {
    const next: number[] = [];
    for (const i of front) {
      const [x, y] = [i % width, Math.floor(i / width)];
      for (let v = Math.max(0, y - 1); v <= Math.min(height - 1, y + 1); v++)
        for (let u = Math.max(0, x - 1); u <= Math.min(width - 1, x + 1); u++) {
          const near = v * width + u;
          if (out[near] || !bridged[near]) continue;
          out[near] = 1;
          next.push(near);
        }
    }
    front = next;
  }
  return out;
}
