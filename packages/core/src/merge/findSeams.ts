// Which frame of a panorama each cell comes from: seams where the frames agree, away from moving things and strong edges.
import { badParameter } from '../checks';
import { minimumCut } from './minimumCut';

/** A frame on the canvas, small: samples of the canvas, two per cell across and down. */
export interface SeamView {
  /** Place of its first cell on the grid, and its size in cells. */
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  /** Encoded R, G, B planes of 2·width × 2·height samples, one after the other. */
  readonly rgb: Float32Array;
  /** Per cell: 1 where the frame fills it wholly. */
  readonly valid: Uint8Array;
  /** Per cell: 0 in the frame's middle to 1 at its border. */
  readonly eccentricity: Float32Array;
  /** Blur of the frame beyond that of the sharpest, variance in px². */
  readonly softness: number;
}

export interface SeamOptions {
  /** Cost of a seam per cell where frames agree: what keeps seams short; default 0.004. */
  readonly length?: number;
  /** Cost of a strong edge under a seam, per unit of encoded contrast; default 0.08. */
  readonly edge?: number;
  /** Cost of a cell at a frame's border against one in its middle; default 0.002. */
  readonly eccentric?: number;
  /** Cost of a cell of a soft frame, per px² of blur beyond what frames alike differ by; default 0.02. */
  readonly soft?: number;
  /** Rounds over all frames; default 2. */
  readonly rounds?: number;
}

export interface SeamLabels {
  /** Frame per cell; 255 where no frame has picture. */
  readonly labels: Uint8Array;
  /** Sum of what the seams cost, per cell of seam: 0 where frames agree everywhere. */
  readonly disagreement: number;
}

/** No frame. */
export const NO_LABEL = 255;
const FORBIDDEN = 1e4;
/** Blur that frames alike may differ by, px²: half a px of it beside none cannot be seen. */
const ALIKE_PX2 = 0.25;
/** Beyond this blur more of it is no worse to look at, px². */
const WORST_PX2 = 4;

/**
 * Labels the cells by alpha-expansion (Y. Boykov, O. Veksler and R. Zabih, IEEE PAMI 23(11), 2001), from the frame whose middle is nearest.
 * A cell costs more the softer its frame is. A seam between two frames costs what they differ there (V. Kwatra et al., ACM Trans. Graphics 22(3), 2003), and a little for its
 * length and for edges under it.
 * @param views of all frames; up to 255
 * @param width, height of the grid in cells
 * @throws ParameterError for too many frames
 * Cost: some 10 µs per cell, frame and round, where frames overlap.
 */
export function findSeams(
  views: readonly SeamView[],
  width: number,
  height: number,
  options: SeamOptions = {},
): SeamLabels {
  const { length = 0.004, edge = 0.08, eccentric = 0.002, soft = 0.02, rounds = 2 } = options;
  if (views.length > NO_LABEL) throw badParameter('findSeams.views.length', 'up to 255 frames', views.length);
  const labels = nearestFrames(views, width, height);
  const field: Field = { views, width, height, length, edge, eccentric, soft };
  for (let round = 0; round < rounds; round++) {
    let changed = 0;
    for (let k = 0; k < views.length; k++) changed += expand(field, labels, k);
    if (changed === 0) break;
  }
  return { labels, disagreement: disagreementOf(field, labels) };
}

interface Field {
  readonly views: readonly SeamView[];
  readonly width: number;
  readonly height: number;
  readonly length: number;
  readonly edge: number;
  readonly eccentric: number;
  readonly soft: number;
}

function nearestFrames(views: readonly SeamView[], width: number, height: number): Uint8Array {
  const labels = new Uint8Array(width * height).fill(NO_LABEL);
  const best = new Float32Array(width * height).fill(Infinity);
  views.forEach((v, k) => {
    for (let y = 0; y < v.height; y++) {
      for (let x = 0; x < v.width; x++) {
        const own = y * v.width + x;
        const i = (v.y + y) * width + v.x + x;
        if (!v.valid[own] || v.eccentricity[own]! >= best[i]!) continue;
        best[i] = v.eccentricity[own]!;
        labels[i] = k;
      }
    }
  });
  return labels;
}

/** Index of a grid cell in a view, or −1 where the frame does not fill it. */
function cellIn(v: SeamView, x: number, y: number): number {
  const cx = x - v.x;
  const cy = y - v.y;
  if (cx < 0 || cy < 0 || cx >= v.width || cy >= v.height) return -1;
  const i = cy * v.width + cx;
  return v.valid[i] ? i : -1;
}

/** What two frames differ at a cell, and the stronger edge of both under it. */
function clash(field: Field, a: number, b: number, x: number, y: number): number {
  const va = field.views[a]!;
  const vb = field.views[b]!;
  const ca = cellIn(va, x, y);
  const cb = cellIn(vb, x, y);
  if (ca < 0 || cb < 0) return 0.5;
  const strideA = 2 * va.width;
  const strideB = 2 * vb.width;
  const planeA = strideA * 2 * va.height;
  const planeB = strideB * 2 * vb.height;
  const atA = 2 * (y - va.y) * strideA + 2 * (x - va.x);
  const atB = 2 * (y - vb.y) * strideB + 2 * (x - vb.x);
  let worst = 0;
  let contrast = 0;
  for (let c = 0; c < 3; c++) {
    const p = va.rgb;
    const q = vb.rgb;
    const i = c * planeA + atA;
    const j = c * planeB + atB;
    const [p0, p1, p2, p3] = [p[i]!, p[i + 1]!, p[i + strideA]!, p[i + strideA + 1]!];
    const [q0, q1, q2, q3] = [q[j]!, q[j + 1]!, q[j + strideB]!, q[j + strideB + 1]!];
    const d = Math.max(Math.abs(p0 - q0), Math.abs(p1 - q1), Math.abs(p2 - q2), Math.abs(p3 - q3));
    const e = Math.max(
      Math.max(p0, p1, p2, p3) - Math.min(p0, p1, p2, p3),
      Math.max(q0, q1, q2, q3) - Math.min(q0, q1, q2, q3),
    );
    worst += d / 3;
    contrast = Math.max(contrast, e);
  }
  return worst + field.edge * contrast;
}

function seamCost(field: Field, a: number, b: number, x0: number, y0: number, x1: number, y1: number): number {
  if (a === b) return 0;
  return field.length + clash(field, a, b, x0, y0) + clash(field, a, b, x1, y1);
}

function ownCost(field: Field, k: number, x: number, y: number): number {
  const v = field.views[k]!;
  const cell = cellIn(v, x, y);
  if (cell < 0) return FORBIDDEN;
  const blur = Math.min(WORST_PX2, Math.max(0, v.softness - ALIKE_PX2));
  return field.eccentric * v.eccentricity[cell]! ** 2 + field.soft * blur;
}

/** Lets frame k take cells from the others where that costs less; works on its own part of the grid. Returns how many changed. */
function expand(field: Field, labels: Uint8Array, k: number): number {
  const v = field.views[k]!;
  const { width, height } = field;
  // One cell around the frame takes part, so that its seams with what lies outside count.
  const x0 = Math.max(0, v.x - 1);
  const y0 = Math.max(0, v.y - 1);
  const w = Math.min(width, v.x + v.width + 1) - x0;
  const h = Math.min(height, v.y + v.height + 1) - y0;
  const arcs = new Float32Array(4 * w * h);
  const second = new Float32Array(w * h);
  const pair = (p: number, q: number, d: number, px: number, py: number, qx: number, qy: number): void => {
    const a = labels[py * width + px]!;
    const b = labels[qy * width + qx]!;
    if (a === NO_LABEL || b === NO_LABEL || (a === k && b === k)) return;
    const keep = a === b ? 0 : seamCost(field, a, b, px, py, qx, qy);
    const takeSecond = a === k ? 0 : seamCost(field, a, k, px, py, qx, qy);
    const takeFirst = b === k ? 0 : seamCost(field, k, b, px, py, qx, qy);
    // keep + (takeFirst − keep)·x − takeFirst·y + (takeSecond + takeFirst − keep)·(1 − x)·y
    second[p]! += takeFirst - keep;
    second[q]! -= takeFirst;
    arcs[4 * p + d]! += Math.max(0, takeSecond + takeFirst - keep);
  };
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      const p = y * w + x;
      const gx = x0 + x;
      const gy = y0 + y;
      const label = labels[gy * width + gx]!;
      if (label === NO_LABEL) continue;
      if (label === k) second[p]! -= FORBIDDEN;
      else second[p]! += ownCost(field, k, gx, gy) - ownCost(field, label, gx, gy);
      if (x + 1 < w) pair(p, p + 1, 0, gx, gy, gx + 1, gy);
      if (y + 1 < h) pair(p, p + w, 2, gx, gy, gx, gy + 1);
    }
  }
  const side = minimumCut({ width: w, height: h, arcs, second });
  let changed = 0;
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      const i = (y0 + y) * width + x0 + x;
      if (!side[y * w + x] || labels[i] === k || labels[i] === NO_LABEL || cellIn(v, x0 + x, y0 + y) < 0) continue;
      labels[i] = k;
      changed++;
    }
  }
  return changed;
}

function disagreementOf(field: Field, labels: Uint8Array): number {
  const { width, height } = field;
  let sum = 0;
  let cells = 0;
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const a = labels[y * width + x]!;
      for (const [dx, dy] of [
        [1, 0],
        [0, 1],
      ] as const) {
        if (x + dx >= width || y + dy >= height) continue;
        const b = labels[(y + dy) * width + x + dx]!;
        if (a === b || a === NO_LABEL || b === NO_LABEL) continue;
        sum += clash(field, a, b, x, y) + clash(field, a, b, x + dx, y + dy);
        cells += 1;
      }
    }
  }
  return cells === 0 ? 0 : sum / (2 * cells);
}
