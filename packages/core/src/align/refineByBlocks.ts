// The last step of registration: local shifts of many blocks, each weighted by what it really knows.
import { LuDecomposition, Matrix, solve } from 'ml-matrix';
import { quantile } from '../image';
import type { AlignLevel } from './levels';
import { measureBlock, type Block } from './measureBlock';
import { IDENTITY, rescaleSimilarity, type Similarity, similarityAffine } from '../frame';

/** Local shift of one block against the fitted similarity, in full-size px. */
export interface BlockShift {
  /** Centre of the block in full-size reference px. */
  readonly x: number;
  readonly y: number;
  readonly shiftX: number;
  readonly shiftY: number;
  /** Information of the block: inverse variance of its shift, in 1/px² at full size. */
  readonly weight: number;
}

export interface Refinement {
  /** Reference px → moving px at full size. */
  readonly toMoving: Similarity;
  /** Median local shift that the similarity does not explain, weighted by information, full-size px. */
  readonly residualPx: number;
  readonly blocks: readonly BlockShift[];
}

const COLUMNS = 24;
const ROWS = 16;
// Steps per block, the last of which only measures. A level that starts from a refined coarser one needs fewer.
const FIRST_STEPS = 2;
const LATER_STEPS = 1;

/**
 * Refines a similarity on one level: every block measures its own shift by Lucas–Kanade, and the similarity is fitted to
 * the shifts with each block's information matrix (gradient structure over residual variance) as weight. Blurred places
 * know little and say little; places that changed have a large residual and say little as well.
 * @param reference, moving the same level of both pictures
 * @param toMoving start, at full size, good to about 3 px of the level
 * @param refined whether the start comes from this operator at a coarser level
 * @returns refined transform, what is left, and the blocks
 * Cost: about 100 ns per level px.
 * Source: B. D. Lucas and T. Kanade, IJCAI 1981; generalised least squares with Tukey's biweight.
 */
export function refineByBlocks(
  reference: AlignLevel,
  moving: AlignLevel,
  toMoving: Similarity,
  refined = false,
): Refinement {
  const { factor } = reference;
  let local = rescaleSimilarity(toMoving, 1 / factor);
  const blocks = measureBlocks(reference, moving, local, refined ? LATER_STEPS : FIRST_STEPS);
  const update = fitUpdate(blocks, reference);
  local = {
    re: local.re + update.re - 1,
    im: local.im + update.im,
    tx: local.tx + update.tx,
    ty: local.ty + update.ty,
  };
  const shifts = blocks.map((b) => ({
    x: b.x * factor,
    y: b.y * factor,
    shiftX: (b.dx - (update.re - 1) * b.x + update.im * b.y - update.tx) * factor,
    shiftY: (b.dy - update.im * b.x - (update.re - 1) * b.y - update.ty) * factor,
    weight: (b.hxx + b.hyy) / (2 * factor * factor),
  }));
  return { toMoving: rescaleSimilarity(local, factor), residualPx: weightedMedianLength(shifts), blocks: shifts };
}

function weightedMedianLength(blocks: readonly BlockShift[]): number {
  const sorted = blocks.map((b) => [Math.hypot(b.shiftX, b.shiftY), b.weight] as const).sort((a, b) => a[0] - b[0]);
  const total = sorted.reduce((s, b) => s + b[1], 0);
  let run = 0;
  for (const [length, weight] of sorted) {
    run += weight;
    if (run >= total / 2) return length;
  }
  return NaN;
}

function measureBlocks(ref: AlignLevel, mov: AlignLevel, s: Similarity, steps: number): Block[] {
  const { width, height } = ref.detail;
  const out: Block[] = [];
  for (let by = 0; by < ROWS; by++) {
    for (let bx = 0; bx < COLUMNS; bx++) {
      const x0 = Math.floor((bx * width) / COLUMNS);
      const y0 = Math.floor((by * height) / ROWS);
      const x1 = Math.floor(((bx + 1) * width) / COLUMNS);
      const y1 = Math.floor(((by + 1) * height) / ROWS);
      const block = measureBlock(ref, mov, similarityAffine(s), x0, y0, x1, y1, steps);
      if (block) out.push(block);
    }
  }
  return out;
}

/** The similarity (as identity + small change) whose shifts explain the blocks best. */
function fitUpdate(blocks: readonly Block[], ref: AlignLevel): Similarity {
  const cx = ref.detail.width / 2;
  const cy = ref.detail.height / 2;
  const half = Math.max(cx, cy);
  let p = [0, 0, 0, 0];
  for (let iteration = 0; iteration < 5; iteration++) {
    const distances = blocks.map((b) => mahalanobis(b, p, cx, cy, half));
    const cut = 4.685 * Math.max(1, 1.4826 * quantile(distances, 0.5));
    const a = Array.from({ length: 4 }, () => [0, 0, 0, 0]);
    const r = [0, 0, 0, 0];
    blocks.forEach((b, i) => {
      const q = distances[i]! / cut;
      if (q >= 1) return;
      const w = (1 - q * q) ** 2;
      const u = (b.x - cx) / half;
      const v = (b.y - cy) / half;
      const jx = [u, -v, 1, 0];
      const jy = [v, u, 0, 1];
      for (let m = 0; m < 4; m++) {
        const px = w * (jx[m]! * b.hxx + jy[m]! * b.hxy);
        const py = w * (jx[m]! * b.hxy + jy[m]! * b.hyy);
        for (let n = 0; n < 4; n++) a[m]![n]! += px * jx[n]! + py * jy[n]!;
        r[m]! += px * b.dx + py * b.dy;
      }
    });
    const system = new Matrix(a);
    if (new LuDecomposition(system).isSingular()) return IDENTITY;
    p = solve(system, Matrix.columnVector(r)).getColumn(0);
  }
  const re = p[0]! / half;
  const im = p[1]! / half;
  return { re: 1 + re, im, tx: p[2]! - re * cx + im * cy, ty: p[3]! - im * cx - re * cy };
}

function mahalanobis(b: Block, p: readonly number[], cx: number, cy: number, half: number): number {
  const u = (b.x - cx) / half;
  const v = (b.y - cy) / half;
  const ex = b.dx - (u * p[0]! - v * p[1]! + p[2]!);
  const ey = b.dy - (v * p[0]! + u * p[1]! + p[3]!);
  return Math.sqrt(Math.max(0, b.hxx * ex * ex + 2 * b.hxy * ex * ey + b.hyy * ey * ey));
}
