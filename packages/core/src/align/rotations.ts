// Rotations in space as 3 × 3 matrices.
import { EigenvalueDecomposition, Matrix, SingularValueDecomposition } from 'ml-matrix';
import { composeMatrix, matrix3, type Matrix3 } from '../frame';

export type Vector3 = readonly [number, number, number];

export const NO_TURN: Matrix3 = [1, 0, 0, 0, 1, 0, 0, 0, 1];

/** The transpose of a matrix: of a rotation, its inverse. */
export function transposed(m: Matrix3): Matrix3 {
  return [m[0], m[3], m[6], m[1], m[4], m[7], m[2], m[5], m[8]];
}

/** A direction under a matrix: m · (x, y, z). */
export function turn(m: Matrix3, [x, y, z]: Vector3): [number, number, number] {
  return [m[0] * x + m[1] * y + m[2] * z, m[3] * x + m[4] * y + m[5] * z, m[6] * x + m[7] * y + m[8] * z];
}

/** The cross product; right-handed. */
export function cross([a, b, c]: Vector3, [d, e, f]: Vector3): Vector3 {
  return [b * f - c * e, c * d - a * f, a * e - b * d];
}

/** A direction at length 1. Not finite for a vector of length 0. */
export function unit([x, y, z]: Vector3): Vector3 {
  const n = Math.hypot(x, y, z);
  return n > 0 ? [x / n, y / n, z / n] : [0, 0, 1];
}

/** The scalar product. */
export function dot(a: Vector3, b: Vector3): number {
  return a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
}

/** Rotation by |v| radians about v (O. Rodrigues, 1840). */
export function rotationBy([x, y, z]: Vector3): Matrix3 {
  const angle = Math.hypot(x, y, z);
  if (angle < 1e-12) return [1, -z, y, z, 1, -x, -y, x, 1];
  const [u, v, w] = [x / angle, y / angle, z / angle];
  const c = Math.cos(angle);
  const s = Math.sin(angle);
  const k = 1 - c;
  return [
    c + u * u * k,
    u * v * k - w * s,
    u * w * k + v * s,
    v * u * k + w * s,
    c + v * v * k,
    v * w * k - u * s,
    w * u * k - v * s,
    w * v * k + u * s,
    c + w * w * k,
  ];
}

/** The rotation that carries directions `from` onto directions `to` best (W. Kabsch, Acta Cryst. A32, 1976). */
export function rotationBetween(from: readonly Vector3[], to: readonly Vector3[]): Matrix3 {
  const h = Matrix.zeros(3, 3);
  from.forEach((p, n) => {
    const q = to[n]!;
    for (let r = 0; r < 3; r++) for (let c = 0; c < 3; c++) h.set(r, c, h.get(r, c) + q[r]! * p[c]!);
  });
  const svd = new SingularValueDecomposition(h, { autoTranspose: false });
  const u = svd.leftSingularVectors;
  const vt = svd.rightSingularVectors.transpose();
  const flat = (m: Matrix): Matrix3 => matrix3(m.to1DArray());
  const r = u.mmul(vt);
  if (determinant(flat(r)) > 0) return flat(r);
  return flat(u.mmul(Matrix.diag([1, 1, -1])).mmul(vt));
}

function determinant(m: Matrix3): number {
  return m[0] * (m[4] * m[8] - m[5] * m[7]) - m[1] * (m[3] * m[8] - m[5] * m[6]) + m[2] * (m[3] * m[7] - m[4] * m[6]);
}

/** The direction across most of the given ones: eigenvector of the least eigenvalue of Σ w·v·vᵀ. */
export function directionAcross(vectors: readonly Vector3[], weights: ArrayLike<number>): Vector3 {
  const m = Matrix.zeros(3, 3);
  vectors.forEach((v, n) => {
    for (let r = 0; r < 3; r++) for (let c = 0; c < 3; c++) m.set(r, c, m.get(r, c) + weights[n]! * v[r]! * v[c]!);
  });
  const { realEigenvalues, eigenvectorMatrix } = new EigenvalueDecomposition(m, { assumeSymmetric: true });
  const least = realEigenvalues.indexOf(Math.min(...realEigenvalues));
  const [x, y, z] = eigenvectorMatrix.getColumn(least);
  return unit([x!, y!, z!]);
}

/** A rotation followed by a small turn. */
export function turned(rotation: Matrix3, by: Vector3): Matrix3 {
  return composeMatrix(rotationBy(by), rotation);
}
