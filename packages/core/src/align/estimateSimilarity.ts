// Registration of two pictures by a similarity: Gauss–Newton on locally normalised luma, coarse to fine, robust.
import { LuDecomposition, Matrix, solve } from 'ml-matrix';
import { badParameter } from '../checks';
import { IDENTITY, rescaleSimilarity, type Similarity } from '../frame';
import { robustDeviation } from '../image';
import type { AlignLevel } from './levels';

export interface EstimateSimilarityOptions {
  /** Start, mapping reference to moving coordinates at full (finest-level) size; default identity. */
  readonly initial?: Similarity;
  /** Iterations per level; default 8. */
  readonly iterations?: number;
  /** Levels with a longer side than this are left to `refineByBlocks`; default 520 px. */
  readonly maxLongSidePx?: number;
}

export interface SimilarityEstimate {
  /** Maps reference px to moving px, both at the finest level's size. */
  readonly toMoving: Similarity;
  /** Normalised correlation of the details where both exist, -1..1. */
  readonly correlation: number;
  /** Share of the reference that the moving picture covers, 0..1. */
  readonly overlap: number;
}

/**
 * Finds the similarity that maps the reference onto the moving picture.
 * @param reference, moving levels from `alignLevels`; sizes may differ
 * @returns transform with sub-pixel accuracy, how well the details agree, and the overlap
 * @throws ParameterError when a picture has no levels
 * Cost: about 60 ns per pixel and iteration.
 * Source: S. Baker and I. Matthews, IJCV 56(3), 2004 (forward additive Lucas–Kanade, with averaged gradients);
 * robust weights after J. W. Tukey's biweight.
 */
export function estimateSimilarity(
  reference: readonly AlignLevel[],
  moving: readonly AlignLevel[],
  options: EstimateSimilarityOptions = {},
): SimilarityEstimate {
  const { initial = IDENTITY, iterations = 8, maxLongSidePx = 520 } = options;
  if (reference.length === 0 || moving.length === 0)
    throw badParameter('estimateSimilarity.levels', 'at least one level each', 0);
  const pairs = pairLevels(reference, moving).filter(
    ([ref], i) => i === 0 || Math.max(ref.detail.width, ref.detail.height) <= maxLongSidePx,
  );
  let current = initial;
  let stats = { correlation: 0, overlap: 0 };
  for (const [ref, mov] of pairs) {
    let local = rescaleSimilarity(current, 1 / ref.factor);
    for (let k = 0; k < iterations; k++) {
      const step = gaussNewtonStep(ref, mov, local);
      stats = step;
      if (!step.update) break;
      local = step.update.next;
      if (step.update.movePx < 0.003) break;
    }
    current = rescaleSimilarity(local, ref.factor);
  }
  return { toMoving: current, correlation: stats.correlation, overlap: stats.overlap };
}

function pairLevels(reference: readonly AlignLevel[], moving: readonly AlignLevel[]): [AlignLevel, AlignLevel][] {
  return reference.flatMap((ref) => {
    const mov = moving.find((m) => m.factor === ref.factor);
    return mov ? [[ref, mov] as [AlignLevel, AlignLevel]] : [];
  });
}

interface Step {
  readonly update: { readonly next: Similarity; readonly movePx: number } | null;
  readonly correlation: number;
  readonly overlap: number;
}

interface Samples {
  count: number;
  readonly residual: Float32Array;
  readonly gx: Float32Array;
  readonly gy: Float32Array;
  readonly x: Float32Array;
  readonly y: Float32Array;
}

function gaussNewtonStep(ref: AlignLevel, mov: AlignLevel, s: Similarity): Step {
  const { width, height } = ref.detail;
  const half = Math.max(width, height) / 2;
  const { samples, dot, rr, mm } = collect(ref, mov, s, half);
  const n = samples.count;
  const overlap = n / Math.max(1, (width - 2) * (height - 2));
  const correlation = rr > 0 && mm > 0 ? dot / Math.sqrt(rr * mm) : 0;
  if (n < 64) return { update: null, correlation, overlap };
  const stride = Math.max(1, Math.floor(n / 20000));
  const probe = new Float32Array(Math.floor(n / stride));
  for (let i = 0; i < probe.length; i++) probe[i] = samples.residual[i * stride]!;
  const cut = 4.685 * Math.max(1e-3, robustDeviation(probe));
  const delta = solveWeighted(samples, cut);
  if (!delta) return { update: null, correlation, overlap };
  const [da, db, dtx, dty] = delta;
  // The increment is expressed about the picture's centre, in units of its half size.
  const cx = width / 2;
  const cy = height / 2;
  const re = da / half;
  const im = db / half;
  const inc: Similarity = { re, im, tx: dtx - re * cx + im * cy, ty: dty - im * cx - re * cy };
  const next = { re: s.re + inc.re, im: s.im + inc.im, tx: s.tx + inc.tx, ty: s.ty + inc.ty };
  return { update: { next, movePx: Math.hypot(da, db) + Math.hypot(dtx, dty) }, correlation, overlap };
}

function collect(
  ref: AlignLevel,
  mov: AlignLevel,
  s: Similarity,
  half: number,
): { samples: Samples; dot: number; rr: number; mm: number } {
  const { width, height, data } = ref.detail;
  const mw = mov.detail.width;
  const mh = mov.detail.height;
  const md = mov.detail.data;
  const capacity = Math.max(1, (width - 2) * (height - 2));
  const make = (): Float32Array => new Float32Array(capacity);
  const samples: Samples = { count: 0, residual: make(), gx: make(), gy: make(), x: make(), y: make() };
  let [n, dot, rr, mm] = [0, 0, 0, 0];
  const { re, im } = s;
  const { use } = ref;
  for (let y = 1; y < height - 1; y++) {
    for (let x = 1; x < width - 1; x++) {
      if (use && !use[y * width + x]) continue;
      const px = x + 0.5;
      const py = y + 0.5;
      const qx = re * px - im * py + s.tx - 0.5;
      const qy = im * px + re * py + s.ty - 0.5;
      const ix = Math.floor(qx);
      const iy = Math.floor(qy);
      if (ix < 1 || iy < 1 || ix >= mw - 2 || iy >= mh - 2) continue;
      const t = qx - ix;
      const u = qy - iy;
      const j = iy * mw + ix;
      const w00 = (1 - t) * (1 - u);
      const w10 = t * (1 - u);
      const w01 = (1 - t) * u;
      const w11 = t * u;
      const m = md[j]! * w00 + md[j + 1]! * w10 + md[j + mw]! * w01 + md[j + mw + 1]! * w11;
      const gmx = mov.dx[j]! * w00 + mov.dx[j + 1]! * w10 + mov.dx[j + mw]! * w01 + mov.dx[j + mw + 1]! * w11;
      const gmy = mov.dy[j]! * w00 + mov.dy[j + 1]! * w10 + mov.dy[j + mw]! * w01 + mov.dy[j + mw + 1]! * w11;
      const i = y * width + x;
      const r = data[i]!;
      samples.residual[n] = r - m;
      samples.gx[n] = 0.5 * (gmx + ref.dx[i]!);
      samples.gy[n] = 0.5 * (gmy + ref.dy[i]!);
      samples.x[n] = (px - width / 2) / half;
      samples.y[n] = (py - height / 2) / half;
      n++;
      dot += r * m;
      rr += r * r;
      mm += m * m;
    }
  }
  samples.count = n;
  return { samples, dot, rr, mm };
}

function solveWeighted(samples: Samples, cut: number): [number, number, number, number] | null {
  const h = new Float64Array(16);
  const g = new Float64Array(4);
  for (let i = 0; i < samples.count; i++) {
    const e = samples.residual[i]!;
    const q = e / cut;
    if (q >= 1 || q <= -1) continue;
    const w = (1 - q * q) * (1 - q * q);
    const gx = samples.gx[i]!;
    const gy = samples.gy[i]!;
    const x = samples.x[i]!;
    const y = samples.y[i]!;
    const ja = gx * x + gy * y;
    const jb = gy * x - gx * y;
    const wa = w * ja;
    const wb = w * jb;
    h[0]! += wa * ja;
    h[1]! += wa * jb;
    h[2]! += wa * gx;
    h[3]! += wa * gy;
    h[5]! += wb * jb;
    h[6]! += wb * gx;
    h[7]! += wb * gy;
    h[10]! += w * gx * gx;
    h[11]! += w * gx * gy;
    h[15]! += w * gy * gy;
    g[0]! += wa * e;
    g[1]! += wb * e;
    g[2]! += w * gx * e;
    g[3]! += w * gy * e;
  }
  const system = new Matrix([
    [h[0]!, h[1]!, h[2]!, h[3]!],
    [h[1]!, h[5]!, h[6]!, h[7]!],
    [h[2]!, h[6]!, h[10]!, h[11]!],
    [h[3]!, h[7]!, h[11]!, h[15]!],
  ]);
  if (new LuDecomposition(system).isSingular()) return null;
  return solve(system, Matrix.columnVector(g)).getColumn(0) as [number, number, number, number];
}
