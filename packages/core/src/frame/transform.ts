// Plane-to-plane transforms as row-major 3 × 3 matrices, and the similarity behind most of them.
import { badParameter } from '../checks';
import type { Affine } from '../kernels';
import type { Region } from '../image';

/** Nine numbers, row-major, acting on column vectors (x, y, 1); pixel centres at .5, origin top left, y down. */
export type Matrix3 = readonly [number, number, number, number, number, number, number, number, number];

/** Rotation and scale as a complex factor (re + i·im), then a shift in px. */
export interface Similarity {
  readonly re: number;
  readonly im: number;
  readonly tx: number;
  readonly ty: number;
}

export const IDENTITY: Similarity = { re: 1, im: 0, tx: 0, ty: 0 };

/** The matrix of a similarity. */
export function similarityMatrix(s: Similarity): Matrix3 {
  return [s.re, -s.im, s.tx, s.im, s.re, s.ty, 0, 0, 1];
}

/** The similarity of a matrix that is one (its first two rows are read). */
export function matrixSimilarity(m: Matrix3): Similarity {
  return { re: m[0], im: m[3], tx: m[2], ty: m[5] };
}

/** first, then second: p → second(first(p)). */
export function composeSimilarity(second: Similarity, first: Similarity): Similarity {
  return {
    re: second.re * first.re - second.im * first.im,
    im: second.re * first.im + second.im * first.re,
    tx: second.re * first.tx - second.im * first.ty + second.tx,
    ty: second.im * first.tx + second.re * first.ty + second.ty,
  };
}

/**
 * The inverse of a similarity.
 * @throws ParameterError when its scale is zero
 */
export function invertSimilarity(s: Similarity): Similarity {
  const n = s.re * s.re + s.im * s.im;
  if (!(n > 0)) throw badParameter('invertSimilarity.s', 'a scale above 0', s);
  const re = s.re / n;
  const im = -s.im / n;
  return { re, im, tx: -(re * s.tx - im * s.ty), ty: -(im * s.tx + re * s.ty) };
}

/** The same similarity between pictures that are both `factor` times as large. */
export function rescaleSimilarity(s: Similarity, factor: number): Similarity {
  return { ...s, tx: s.tx * factor, ty: s.ty * factor };
}

/** How many times a similarity enlarges; above 0. */
export function scaleOf(s: Similarity): number {
  return Math.hypot(s.re, s.im);
}

/** By how much a similarity turns, degrees in (−180, 180]; x right, y down: positive turns clockwise as seen. */
export function rotationDegOf(s: Similarity): number {
  return (Math.atan2(s.im, s.re) * 180) / Math.PI;
}

/** Maps a point. */
export function applySimilarity(s: Similarity, x: number, y: number): [number, number] {
  return [s.re * x - s.im * y + s.tx, s.im * x + s.re * y + s.ty];
}

/** Shift of the picture's centre in px: how far the middle of a width × height picture moves. */
export function centreShift(s: Similarity, width: number, height: number): [number, number] {
  const [x, y] = applySimilarity(s, width / 2, height / 2);
  return [x - width / 2, y - height / 2];
}

/** A similarity as the six numbers the warp kernel takes. */
export function similarityAffine(s: Similarity): Affine {
  return [s.re, -s.im, s.tx, s.im, s.re, s.ty];
}

/** Bounding box of a region's image under s, grown by marginPx (the taps of the resampling kernel). */
export function mapRegion(s: Similarity, region: Region, marginPx: number): Region {
  const corners = [
    applySimilarity(s, region.x, region.y),
    applySimilarity(s, region.x + region.width, region.y),
    applySimilarity(s, region.x, region.y + region.height),
    applySimilarity(s, region.x + region.width, region.y + region.height),
  ];
  const xs = corners.map((c) => c[0]);
  const ys = corners.map((c) => c[1]);
  const x = Math.floor(Math.min(...xs) - marginPx);
  const y = Math.floor(Math.min(...ys) - marginPx);
  return { x, y, width: Math.ceil(Math.max(...xs) + marginPx) - x, height: Math.ceil(Math.max(...ys) + marginPx) - y };
}
