// Places of a picture that can be found again in another: corners at several scales, each described by its surroundings.
import { badParameter } from '../checks';
import { makePlane, type Plane } from '../image';
import { planeView, smoothTwice, uploadPlanes, type Kernels } from '../kernels';
import { halve } from './levels';

/** A corner with its description. */
export interface KeyPoint {
  /** px of the picture it was found in, centres at .5. */
  readonly x: number;
  readonly y: number;
  /** Picture px per px of the level it was found on. */
  readonly factor: number;
  readonly strength: number;
  /** 64 brightness values of the surroundings, turned to its main gradient, mean 0, length 1. */
  readonly descriptor: Float32Array;
}

export interface FindPointsOptions {
  /** Points wanted in all; default 600. */
  readonly count?: number;
}

const LEVELS = 3;
const SHARES = [0.55, 0.3, 0.15] as const;
const SMALLEST_SIDE = 64;
const MARGIN_PX = 10;
const GRID = 8;
const SPACING_PX = 5;
/** Surroundings are read smoothed, so that noise is no likeness. */
const DESCRIBED_RADIUS = 3;
/** More corners than this are thinned by strength before they are spread. */
const MOST_CANDIDATES = 2500;
const { atan2, cos, floor, hypot, max, min, sin, sqrt } = Math;

/**
 * Finds corners, spread over the picture.
 * @param luma encoded luma 0..1; some 1000 px long is enough
 * @param noiseVariance of luma: weaker corners are not taken
 * @throws ParameterError when the plane is smaller than 64 px
 * Cost: about 0.1 µs per px.
 * Source: M. Brown, R. Szeliski and S. Winder, CVPR 2005 (multi-scale oriented patches, adaptive suppression).
 */
export function findPoints(
  kernels: Kernels,
  luma: Plane,
  noiseVariance: number,
  options: FindPointsOptions = {},
): KeyPoint[] {
  const { count = 600 } = options;
  if (min(luma.width, luma.height) < SMALLEST_SIDE)
    throw badParameter('findPoints.luma.size', `at least ${SMALLEST_SIDE} px on each side`, [luma.width, luma.height]);
  const out: KeyPoint[] = [];
  let plane = luma;
  for (let l = 0; l < LEVELS && min(plane.width, plane.height) >= SMALLEST_SIDE; l++) {
    const corners = spread(cornersOf(kernels, plane, noiseVariance / 4 ** l), Math.round(count * SHARES[l]!));
    const smooth = smoothed(kernels, plane, DESCRIBED_RADIUS);
    for (const c of corners) {
      const descriptor = describe(smooth, c.x, c.y);
      if (descriptor) out.push({ x: c.x * 2 ** l, y: c.y * 2 ** l, factor: 2 ** l, strength: c.strength, descriptor });
    }
    plane = halve(plane);
  }
  return out;
}

function smoothed(kernels: Kernels, { width, height, data }: Plane, radius: number): Plane {
  return kernels.scope(() => {
    const planes = uploadPlanes(kernels, [data], width, height);
    smoothTwice(kernels, planes, planes, radius);
    return { width, height, data: planeView(kernels, planes).slice() };
  });
}

interface Corner {
  readonly x: number;
  readonly y: number;
  readonly strength: number;
}

/**
 * Determinant of the structure tensor over its squared trace (C. Harris and M. Stephens, 1988): below this a place is a line, and where
 * along it a corner lies is decided by noise. ¼ is as steep in all directions.
 */
const LEAST_ROUNDNESS = 0.05;

/** Local maxima of the harmonic mean of the structure tensor's eigenvalues, refined by a parabola. */
function cornersOf(kernels: Kernels, plane: Plane, noiseVariance: number): Corner[] {
  const { width, height } = plane;
  const s = smoothed(kernels, plane, 1).data;
  const xx = makePlane(width, height);
  const xy = makePlane(width, height);
  const yy = makePlane(width, height);
  for (let y = 1; y < height - 1; y++) {
    for (let i = y * width + 1; i < (y + 1) * width - 1; i++) {
      const gx = 0.5 * (s[i + 1]! - s[i - 1]!);
      const gy = 0.5 * (s[i + width]! - s[i - width]!);
      xx.data[i] = gx * gx;
      xy.data[i] = gx * gy;
      yy.data[i] = gy * gy;
    }
  }
  const [a, b, d] = [xx, xy, yy].map((p) => smoothed(kernels, p, 2).data) as [Float32Array, Float32Array, Float32Array];
  const strength = a;
  for (let i = 0; i < strength.length; i++) {
    const trace = a[i]! + d[i]!;
    const det = a[i]! * d[i]! - b[i]! * b[i]!;
    strength[i] = trace > 1e-12 && det > LEAST_ROUNDNESS * trace * trace ? det / trace : 0;
  }
  // Noise makes corners of about this strength.
  const least = max(1e-7, 0.5 * noiseVariance);
  const out: Corner[] = [];
  for (let y = MARGIN_PX; y < height - MARGIN_PX; y++) {
    for (let x = MARGIN_PX; x < width - MARGIN_PX; x++) {
      const i = y * width + x;
      const v = strength[i]!;
      if (v < least || v <= strength[i - 1]! || v < strength[i + 1]! || v <= strength[i - width]!) continue;
      if (v < strength[i + width]! || v <= strength[i - width - 1]! || v <= strength[i - width + 1]!) continue;
      if (v < strength[i + width - 1]! || v < strength[i + width + 1]!) continue;
      out.push({
        x: x + 0.5 + vertex(strength[i - 1]!, v, strength[i + 1]!),
        y: y + 0.5 + vertex(strength[i - width]!, v, strength[i + width]!),
        strength: v,
      });
    }
  }
  return out.sort((p, q) => q.strength - p.strength).slice(0, MOST_CANDIDATES);
}

/** Where a parabola through three values has its top, −½..½ from the middle. */
function vertex(left: number, middle: number, right: number): number {
  const bend = left - 2 * middle + right;
  return bend < 0 ? max(-0.5, min(0.5, (0.5 * (left - right)) / bend)) : 0;
}

/** The points farthest from any clearly stronger one, so that no corner of the picture goes without. */
function spread(corners: readonly Corner[], count: number): Corner[] {
  if (corners.length <= count) return [...corners];
  const radius = corners.map((c, i) => {
    let nearest = Infinity;
    for (let j = 0; j < i; j++) {
      const o = corners[j]!;
      if (o.strength * 0.9 < c.strength) break;
      const dx = o.x - c.x;
      const dy = o.y - c.y;
      const square = dx * dx + dy * dy;
      if (square < nearest) nearest = square;
    }
    return nearest;
  });
  const order = corners.map((_, i) => i).sort((p, q) => radius[q]! - radius[p]!);
  return order.slice(0, count).map((i) => corners[i]!);
}

function describe(smooth: Plane, x: number, y: number): Float32Array | null {
  const { width, height, data } = smooth;
  // The main direction from the gradient over a few px around.
  let [gx, gy] = [0, 0];
  const cx = floor(x);
  const cy = floor(y);
  for (let v = -3; v <= 3; v++) {
    for (let u = -3; u <= 3; u++) {
      const i = max(1, min(height - 2, cy + v)) * width + max(1, min(width - 2, cx + u));
      gx += data[i + 1]! - data[i - 1]!;
      gy += data[i + width]! - data[i - width]!;
    }
  }
  const angle = hypot(gx, gy) > 1e-9 ? atan2(gy, gx) : 0;
  const c = cos(angle) * SPACING_PX;
  const s = sin(angle) * SPACING_PX;
  const out = new Float32Array(GRID * GRID);
  let mean = 0;
  for (let j = 0, n = 0; j < GRID; j++) {
    for (let i = 0; i < GRID; i++, n++) {
      const u = i - (GRID - 1) / 2;
      const v = j - (GRID - 1) / 2;
      const px = max(0, min(width - 1.001, x + c * u - s * v - 0.5));
      const py = max(0, min(height - 1.001, y + s * u + c * v - 0.5));
      const ix = floor(px);
      const iy = floor(py);
      const t = px - ix;
      const w = py - iy;
      const at = iy * width + ix;
      const value =
        (1 - w) * ((1 - t) * data[at]! + t * data[at + 1]!) +
        w * ((1 - t) * data[at + width]! + t * data[at + width + 1]!);
      out[n] = value;
      mean += value / (GRID * GRID);
    }
  }
  let square = 0;
  for (let n = 0; n < out.length; n++) {
    out[n]! -= mean;
    square += out[n]! * out[n]!;
  }
  if (!(square > 1e-8)) return null;
  const scale = 1 / sqrt(square);
  for (let n = 0; n < out.length; n++) out[n]! *= scale;
  return out;
}
