// How far one picture is another in another tone: a linear relation in a window around each cell, in closed form.
import { tentSmooth } from '../image';
import { CELL_PX } from '../kernels';

/** Per cell, the relation merge ≈ gain · frame + offset around it. */
export interface LocalRelation {
  /** 0 or more. */
  readonly gain: Float32Array;
  /**
   * Mean square of what the relation leaves of the merge, or of the frame's structure that the merge lacks, over what noise, resampling
   * and compression leave: about 1 or less where the frame is shown.
   */
  readonly misfit: Float32Array;
  /** 1 where the frame says something: all of the window covered, and clipped at neither end. */
  readonly telling: Uint8Array;
  /** 1 where the cell by itself is covered and clipped at neither end, whatever is beside it. */
  readonly held: Uint8Array;
  /** 1 where all px of the cell are clipped at the bright end. */
  readonly burnt: Uint8Array;
  /** Value from which on the frame is clipped, as it is toned: the higher, the less light it was given. */
  readonly top: number;
  /** Variance of the frame's noise as it is toned. */
  readonly noise: Float32Array;
}

/** A frame's luma as it is toned, and what is known of it. */
export interface RelatedFrame {
  readonly luma: Float32Array;
  /** 1 per cell that it covers. */
  readonly valid: Uint8Array;
  /** Variance of its noise per cell. */
  readonly noise: Float32Array;
  /** Values outside of these are clipped. */
  readonly range: readonly [number, number];
}

/** The window is a tent over this many cells on either side: σ of about 5 px. */
const RADIUS = 2;
/** A window must be covered to this share. */
const FULL = 0.985;
/** Share of the merge's own variance that resampling and compression may cost. */
const RESAMPLING = 0.03;
/** Variance that a tone curve may leave of a frame's: local gains of a third are common, smaller ones are not. */
const LEAST_GAIN_SQUARED = 0.1;
const SUMS = 5;
const HELD = SUMS;
const BURNT = SUMS + 1;

/**
 * Fits merge ≈ a · frame + b in a window around each cell (the algebra of the guided filter: K. He, J. Sun and X. Tang, PAMI
 * 35(6), 2013).
 * @param merge luma of the merge, encoded 0..1, of a region of width × height cells
 * @param mergeNoise variance of the merge's noise per cell
 * @returns one relation per cell
 * Cost: about 4 ns per px.
 */
export function relateCells(
  merge: Float32Array,
  mergeNoise: Float32Array,
  frame: RelatedFrame,
  width: number,
  height: number,
): LocalRelation {
  const sums = Array.from({ length: SUMS + 2 }, () => new Float32Array(width * height));
  sumCells(merge, frame, width, height, sums);
  const [held, burnt] = [Uint8Array.from(sums[HELD]!), Uint8Array.from(sums[BURNT]!)];
  const [m, f, mm, ff, mf, weight] = sums
    .slice(0, BURNT)
    .map((data) => tentSmooth({ width, height, data }, RADIUS).data) as [
    Float32Array,
    Float32Array,
    Float32Array,
    Float32Array,
    Float32Array,
    Float32Array,
  ];
  const size = width * height;
  const gain = new Float32Array(size);
  const misfit = new Float32Array(size);
  const telling = new Uint8Array(size);
  for (let i = 0; i < size; i++) {
    const w = weight[i]!;
    if (!(w > FULL)) continue;
    const [mean, from] = [m[i]! / w, f[i]! / w];
    const own = Math.max(0, mm[i]! / w - mean * mean);
    const theirs = Math.max(0, ff[i]! / w - from * from);
    const both = mf[i]! / w - mean * from;
    const [noise, frameNoise] = [mergeNoise[i]!, frame.noise[i]!];
    // Noise of the frame flattens the slope; a merge never shows a frame upside down.
    const a = theirs > frameNoise ? Math.max(0, both / Math.max(theirs - frameNoise, 0.25 * theirs)) : 0;
    const left = Math.max(0, own - 2 * a * both + a * a * theirs);
    const lost = LEAST_GAIN_SQUARED * Math.max(0, theirs - (both * both) / Math.max(own, noise, 1e-12));
    gain[i] = a;
    misfit[i] = Math.max(
      left / (noise + a * a * frameNoise + RESAMPLING * own + 1e-9),
      lost / (noise + LEAST_GAIN_SQUARED * frameNoise + RESAMPLING * LEAST_GAIN_SQUARED * theirs + 1e-9),
    );
    telling[i] = 1;
  }
  return { gain, misfit, telling, held, burnt, top: frame.range[1], noise: frame.noise };
}

/** Per cell: means of m, f, m², f², m·f, and 1, over cells that tell, 0 elsewhere; and 1 where all is burnt. */
function sumCells(
  merge: Float32Array,
  { luma: frame, valid, range }: RelatedFrame,
  width: number,
  height: number,
  [sm, sf, smm, sff, smf, weight, burnt]: readonly Float32Array[],
): void {
  const across = width * CELL_PX;
  const share = 1 / (CELL_PX * CELL_PX);
  for (let cy = 0; cy < height; cy++) {
    for (let cx = 0; cx < width; cx++) {
      const i = cy * width + cx;
      if (!valid[i]) continue;
      let [a, b, aa, bb, ab] = [0, 0, 0, 0, 0];
      let [least, most] = [1, 0];
      for (let y = 0; y < CELL_PX; y++) {
        let at = (cy * CELL_PX + y) * across + cx * CELL_PX;
        for (let x = 0; x < CELL_PX; x++, at++) {
          const [m, f] = [merge[at]!, frame[at]!];
          if (f < least) least = f;
          if (f > most) most = f;
          a += m;
          b += f;
          aa += m * m;
          bb += f * f;
          ab += m * f;
        }
      }
      if (least > range[1]) burnt![i] = 1;
      if (least < range[0] || most > range[1]) continue;
      sm![i] = a * share;
      sf![i] = b * share;
      smm![i] = aa * share;
      sff![i] = bb * share;
      smf![i] = ab * share;
      weight![i] = 1;
    }
  }
}
