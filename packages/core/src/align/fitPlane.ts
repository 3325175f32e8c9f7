// A plane-to-plane map from places found in two pictures: as many freedoms as asked for, no more.
import { LuDecomposition, Matrix } from 'ml-matrix';
import { badParameter } from '../checks';
import { applyMatrix, applySimilarity, composeMatrix, type Matrix3, matrix3, type Similarity } from '../frame';
import { quantile } from '../image';
import type { BlockShift } from './refineByBlocks';

export type PlaneModel = 'shift' | 'similarity' | 'affine' | 'homography';

const FREEDOMS: Readonly<Record<PlaneModel, number>> = { shift: 2, similarity: 4, affine: 6, homography: 8 };
const ROUNDS = 8;
/** Change of a parameter, in half lengths of the picture, below which nothing changes any more: a few ten thousandths of a px. */
const CONVERGED = 1e-7;

/** A place of one picture found in another, px, with its information, 1/px². */
export interface PlaneTie {
  readonly x: number;
  readonly y: number;
  readonly u: number;
  readonly v: number;
  readonly weight: number;
}

export interface PlaneFit {
  /** (x, y) → (u, v). */
  readonly matrix: Matrix3;
  /** Weighted median distance that the map leaves, px. */
  readonly residualPx: number;
}

/** Local shifts against a similarity as ties: reference px → moving px. */
export function tiesOfBlocks(blocks: readonly BlockShift[], toMoving: Similarity): PlaneTie[] {
  return blocks.map(({ x, y, shiftX, shiftY, weight }) => {
    const [u, v] = applySimilarity(toMoving, x, y);
    return { x, y, u: u + shiftX, v: v + shiftY, weight };
  });
}

/**
 * Fits a map to ties, robust by Tukey's biweight, each tie weighted by its information.
 * @param width, height of the pictures, px: coordinates are scaled by them
 * @throws ParameterError for fewer ties than freedoms
 */
export function fitPlane(ties: readonly PlaneTie[], model: PlaneModel, width: number, height: number): PlaneFit {
  const freedoms = FREEDOMS[model];
  if (ties.length < freedoms)
    throw badParameter('fitPlane.ties.length', `at least ${freedoms} ties for ${model}`, ties.length);
  const half = Math.max(width, height) / 2;
  const rows = ties.map((t) => ({
    u: (t.x - width / 2) / half,
    v: (t.y - height / 2) / half,
    x: (t.u - width / 2) / half,
    y: (t.v - height / 2) / half,
    weight: t.weight * half * half,
  }));
  let p = startParameters(model);
  let residual = Infinity;
  for (let round = 0; round < ROUNDS; round++) {
    const off = rows.map((r) => {
      const [x, y] = mapped(model, p, r.u, r.v);
      return Math.hypot(x - r.x, y - r.y);
    });
    residual = weightedMedian(off, rows) * half;
    const standard = off.map((d, i) => d * Math.sqrt(rows[i]!.weight));
    const cut = 4.685 * Math.max(1, 1.4826 * quantile(standard, 0.5));
    const normal = new Float64Array(freedoms * freedoms);
    const right = new Float64Array(freedoms);
    rows.forEach((r, i) => {
      const q = standard[i]! / cut;
      if (q >= 1) return;
      const w = r.weight * (1 - q * q) ** 2;
      const [x, y] = mapped(model, p, r.u, r.v);
      const [jx, jy] = slopes(model, p, r.u, r.v, x, y);
      for (let a = 0; a < freedoms; a++) {
        right[a]! += w * (jx[a]! * (r.x - x) + jy[a]! * (r.y - y));
        for (let c = 0; c < freedoms; c++) normal[a * freedoms + c]! += w * (jx[a]! * jx[c]! + jy[a]! * jy[c]!);
      }
    });
    for (let a = 0; a < freedoms; a++) normal[a * (freedoms + 1)] = normal[a * (freedoms + 1)]! * (1 + 1e-9) + 1e-12;
    const decomposed = new LuDecomposition(Matrix.from1DArray(freedoms, freedoms, normal));
    if (decomposed.isSingular()) break;
    const d = decomposed.solve(Matrix.columnVector(right)).getColumn(0);
    p = p.map((v, a) => v + d[a]!);
    if (d.every((v) => Math.abs(v) < CONVERGED)) break;
  }
  return { matrix: fullSize(matrixOf(model, p), half, width, height), residualPx: residual };
}

function startParameters(model: PlaneModel): number[] {
  if (model === 'shift') return [0, 0];
  if (model === 'similarity') return [1, 0, 0, 0];
  return model === 'affine' ? [1, 0, 0, 0, 1, 0] : [1, 0, 0, 0, 1, 0, 0, 0];
}

function matrixOf(model: PlaneModel, p: readonly number[]): Matrix3 {
  if (model === 'shift') return [1, 0, p[0]!, 0, 1, p[1]!, 0, 0, 1];
  if (model === 'similarity') return [p[0]!, -p[1]!, p[2]!, p[1]!, p[0]!, p[3]!, 0, 0, 1];
  return [p[0]!, p[1]!, p[2]!, p[3]!, p[4]!, p[5]!, p[6] ?? 0, p[7] ?? 0, 1];
}

function mapped(model: PlaneModel, p: readonly number[], u: number, v: number): [number, number] {
  return applyMatrix(matrixOf(model, p), u, v);
}

/** Derivatives of the mapped place by each parameter. */
function slopes(
  model: PlaneModel,
  p: readonly number[],
  u: number,
  v: number,
  x: number,
  y: number,
): readonly [readonly number[], readonly number[]] {
  if (model === 'shift')
    return [
      [1, 0],
      [0, 1],
    ];
  if (model === 'similarity')
    return [
      [u, -v, 1, 0],
      [v, u, 0, 1],
    ];
  if (model === 'affine')
    return [
      [u, v, 1, 0, 0, 0],
      [0, 0, 0, u, v, 1],
    ];
  const w = 1 / (p[6]! * u + p[7]! * v + 1);
  return [
    [u * w, v * w, w, 0, 0, 0, -u * x * w, -v * x * w],
    [0, 0, 0, u * w, v * w, w, -u * y * w, -v * y * w],
  ];
}

/** From coordinates about the middle in half lengths to px. */
function fullSize(m: Matrix3, half: number, width: number, height: number): Matrix3 {
  const [cx, cy] = [width / 2, height / 2];
  // N⁻¹ · m · N with N = (p − c) / half.
  const n: Matrix3 = [1 / half, 0, -cx / half, 0, 1 / half, -cy / half, 0, 0, 1];
  const back: Matrix3 = [half, 0, cx, 0, half, cy, 0, 0, 1];
  const out = composeMatrix(composeMatrix(back, m), n);
  return matrix3(out.map((v) => v / out[8]));
}

function weightedMedian(off: readonly number[], rows: readonly { readonly weight: number }[]): number {
  const order = off.map((_, i) => i).sort((a, b) => off[a]! - off[b]!);
  const total = rows.reduce((s, r) => s + r.weight, 0);
  let run = 0;
  for (const i of order) {
    run += rows[i]!.weight;
    if (run >= total / 2) return off[i]!;
  }
  return 0;
}
