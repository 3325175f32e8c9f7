// Plane-to-plane perspective maps: composing, inverting, applying.
import { badParameter } from '../checks';
import type { Matrix3 } from './transform';

/**
 * Nine numbers, row by row, as a matrix.
 * @throws ParameterError for another count
 */
export function matrix3(values: readonly number[]): Matrix3 {
  const [a, b, c, d, e, f, g, h, i, ...rest] = values;
  if (i === undefined || rest.length > 0) throw badParameter('matrix3.values.length', '9', values.length);
  return [a!, b!, c!, d!, e!, f!, g!, h!, i];
}

/** first, then second, as one matrix: second · first. */
export function composeMatrix(second: Matrix3, first: Matrix3): Matrix3 {
  const at = (r: number, c: number): number =>
    second[3 * r]! * first[c]! + second[3 * r + 1]! * first[3 + c]! + second[3 * r + 2]! * first[6 + c]!;
  return [at(0, 0), at(0, 1), at(0, 2), at(1, 0), at(1, 1), at(1, 2), at(2, 0), at(2, 1), at(2, 2)];
}

/**
 * The inverse by cofactors.
 * @throws ParameterError when the matrix has none
 */
export function invertMatrix(m: Matrix3): Matrix3 {
  const [a, b, c, d, e, f, g, h, i] = m;
  const A = e * i - f * h;
  const B = f * g - d * i;
  const C = d * h - e * g;
  const det = a * A + b * B + c * C;
  if (!(Math.abs(det) > 1e-300)) throw badParameter('invertMatrix.m', 'a matrix with an inverse', m);
  const s = 1 / det;
  return [
    A * s,
    (c * h - b * i) * s,
    (b * f - c * e) * s,
    B * s,
    (a * i - c * g) * s,
    (c * d - a * f) * s,
    C * s,
    (b * g - a * h) * s,
    (a * e - b * d) * s,
  ];
}

/** Maps a point; not finite on the matrix's horizon. */
export function applyMatrix(m: Matrix3, x: number, y: number): [number, number] {
  const w = m[6] * x + m[7] * y + m[8];
  return [(m[0] * x + m[1] * y + m[2]) / w, (m[3] * x + m[4] * y + m[5]) / w];
}

/** The same map between pictures that are both `factor` times as large. */
export function rescaleMatrix(m: Matrix3, factor: number): Matrix3 {
  return [m[0], m[1], m[2] * factor, m[3], m[4], m[5] * factor, m[6] / factor, m[7] / factor, m[8]];
}
