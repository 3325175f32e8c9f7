// A plane-to-plane map from local shifts: as many freedoms as asked for, no more.
import { LuDecomposition, Matrix, solve } from 'ml-matrix';
import { badParameter } from '../checks';
import { applyMatrix, composeMatrix, quantile, similarityMatrix, type Matrix3, type Similarity } from '../image';
import type { BlockShift } from './refineByBlocks';

export type PlaneModel = 'shift' | 'similarity' | 'affine' | 'homography';

const FREEDOMS: Readonly<Record<PlaneModel, number>> = { shift: 2, similarity: 4, affine: 6, homography: 8 };
const ROUNDS = 8;

export interface PlaneFit {
  /** Reference px → moving px. */
  readonly toMoving: Matrix3;
  /** Weighted median distance that the map leaves, px. */
  readonly residualPx: number;
}

/**
 * Fits a map to blocks, robust by Tukey's biweight, each block weighted by its information.
 * @param start the similarity against which the shifts were measured
 * @param width, height of the reference, px: coordinates are scaled by them
 * @throws ParameterError for fewer blocks than freedoms
 */
export function fitPlane(
  blocks: readonly BlockShift[],
  start: Similarity,
  model: PlaneModel,
  width: number,
  height: number,
): PlaneFit {
  const freedoms = FREEDOMS[model];
  if (blocks.length < freedoms)
    throw badParameter('fitPlane.blocks.length', `at least ${freedoms} blocks for ${model}`, blocks.length);
  const half = Math.max(width, height) / 2;
  const base = similarityMatrix(start);
  const rows = blocks.map((b) => {
    const [x, y] = applyMatrix(base, b.x, b.y);
    return {
      u: (b.x - width / 2) / half,
      v: (b.y - height / 2) / half,
      x: (x + b.shiftX - width / 2) / half,
      y: (y + b.shiftY - height / 2) / half,
      weight: b.weight * half * half,
    };
  });
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
    const normal = Matrix.zeros(freedoms, freedoms);
    const right = Matrix.zeros(freedoms, 1);
    rows.forEach((r, i) => {
      const q = standard[i]! / cut;
      if (q >= 1) return;
      const w = r.weight * (1 - q * q) ** 2;
      const [x, y] = mapped(model, p, r.u, r.v);
      const [jx, jy] = slopes(model, p, r.u, r.v, x, y);
      for (let a = 0; a < freedoms; a++) {
        right.set(a, 0, right.get(a, 0) + w * (jx[a]! * (r.x - x) + jy[a]! * (r.y - y)));
        for (let c = 0; c < freedoms; c++) normal.set(a, c, normal.get(a, c) + w * (jx[a]! * jx[c]! + jy[a]! * jy[c]!));
      }
    });
    for (let a = 0; a < freedoms; a++) normal.set(a, a, normal.get(a, a) * (1 + 1e-9) + 1e-12);
    if (new LuDecomposition(normal).isSingular()) break;
    const d = solve(normal, right).getColumn(0);
    p = p.map((v, a) => v + d[a]!);
  }
  return { toMoving: fullSize(matrixOf(model, p), half, width, height), residualPx: residual };
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
  return out.map((v) => v / out[8]) as unknown as Matrix3;
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
