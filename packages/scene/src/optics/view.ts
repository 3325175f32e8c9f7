// A view: how pixels of a frame or of a merge's canvas look out into the world.
import { apply, transpose, type Mat3, type Vec3 } from './pose';

/** Pixels → rays. A flat view is a frame or a flat merge, a cylindrical one the canvas of a wide panorama. */
export interface View {
  readonly projection: 'flat' | 'cylinder' | 'sphere';
  readonly width: number;
  readonly height: number;
  /** px per unit of tangent (flat), px per radian and per unit of tangent upwards (cylinder), px per radian (sphere). */
  readonly focalPx: number;
  /** Where the optical axis meets the picture, px. */
  readonly principal: readonly [number, number];
  /** World → camera. */
  readonly rotation: Mat3;
  readonly positionMm: Vec3;
  /** See Lens.distortion. */
  readonly distortion: number;
  /** Half the diagonal of the lens's picture in px: 1 in the radii of lens faults. */
  readonly halfDiagonalPx: number;
}

/** Rays of a row in the world, not normalised; for a flat view their length is 1 along the optical axis. */
export interface RayRow {
  readonly x: Float64Array;
  readonly y: Float64Array;
  readonly z: Float64Array;
}

export function makeRayRow(length: number): RayRow {
  return { x: new Float64Array(length), y: new Float64Array(length), z: new Float64Array(length) };
}

/**
 * Rays through the pixels x0 + (i + ½)·step of the line at height y (px, centres at .5).
 */
export function castRow(view: View, y: number, x0: number, step: number, count: number, out: RayRow): void {
  const { focalPx, principal, rotation: m, distortion, halfDiagonalPx: half } = view;
  for (let i = 0; i < count; i++) {
    let u = x0 + (i + 0.5) * step - principal[0];
    let v = y - principal[1];
    let w = focalPx;
    if (view.projection === 'cylinder') {
      w = focalPx * Math.cos(u / focalPx);
      u = focalPx * Math.sin(u / focalPx);
    } else if (view.projection === 'sphere') {
      const level = Math.cos(v / focalPx);
      w = focalPx * Math.cos(u / focalPx) * level;
      u = focalPx * Math.sin(u / focalPx) * level;
      v = focalPx * Math.sin(v / focalPx);
    } else if (distortion !== 0) {
      const k = 1 + (distortion * (u * u + v * v)) / (half * half);
      u *= k;
      v *= k;
    }
    u /= focalPx;
    v /= focalPx;
    w /= focalPx;
    out.x[i] = m[0] * u + m[3] * v + m[6] * w;
    out.y[i] = m[1] * u + m[4] * v + m[7] * w;
    out.z[i] = m[2] * u + m[5] * v + m[8] * w;
  }
}

/**
 * Where world directions fall in the view.
 * @param outX, outY px; NaN behind the camera and beyond what the lens shows
 */
export function projectRow(view: View, rays: RayRow, count: number, outX: Float64Array, outY: Float64Array): void {
  const { focalPx, principal, distortion, rotation: m, halfDiagonalPx: half } = view;
  for (let i = 0; i < count; i++) {
    const x = rays.x[i]!;
    const y = rays.y[i]!;
    const z = rays.z[i]!;
    const u = m[0] * x + m[1] * y + m[2] * z;
    const v = m[3] * x + m[4] * y + m[5] * z;
    const w = m[6] * x + m[7] * y + m[8] * z;
    if (view.projection === 'cylinder') {
      const level = Math.hypot(u, w);
      outX[i] = level > 0 ? principal[0] + focalPx * Math.atan2(u, w) : NaN;
      outY[i] = principal[1] + (focalPx * v) / level;
      continue;
    }
    if (view.projection === 'sphere') {
      outX[i] = principal[0] + focalPx * Math.atan2(u, w);
      outY[i] = principal[1] + focalPx * Math.atan2(v, Math.hypot(u, w));
      continue;
    }
    const k =
      w > 1e-9
        ? (focalPx / w) * (distortion === 0 ? 1 : bend(distortion, (focalPx * Math.hypot(u, v)) / w / half))
        : NaN;
    outX[i] = principal[0] + u * k;
    outY[i] = principal[1] + v * k;
  }
}

/** Share of the widest direction that a pincushion's polynomial reaches at all, beyond which it is not trusted. */
const WIDEST = 0.98;

/**
 * Distorted over straight radius, by Newton on r·(1 + k·r²) = straight: quadratic, exact after five steps for |k| < 0.2.
 * @returns NaN for directions that the lens never shows: there the polynomial folds back, and would draw them inside the frame
 */
function bend(distortion: number, straight: number): number {
  if (straight === 0) return 1;
  if (distortion < 0 && straight > (WIDEST * 2) / 3 / Math.sqrt(-3 * distortion)) return NaN;
  let r = straight;
  for (let i = 0; i < 5; i++) r -= (r * (1 + distortion * r * r) - straight) / (1 + 3 * distortion * r * r);
  return r / straight;
}

const ONE = makeRayRow(1);
const ONE_X = new Float64Array(1);
const ONE_Y = new Float64Array(1);

/**
 * Where a world direction falls in the view.
 * @returns px, or null behind the camera
 */
export function projectRay(view: View, x: number, y: number, z: number): [number, number] | null {
  ONE.x[0] = x;
  ONE.y[0] = y;
  ONE.z[0] = z;
  projectRow(view, ONE, 1, ONE_X, ONE_Y);
  return Number.isNaN(ONE_X[0]!) ? null : [ONE_X[0]!, ONE_Y[0]!];
}

/** Where a world point falls in the view; null behind the camera. */
export function projectPoint(view: View, p: Vec3): [number, number] | null {
  const t = view.positionMm;
  return projectRay(view, p[0] - t[0], p[1] - t[1], p[2] - t[2]);
}

/** The 3 × 3 matrix by which px of a flat, undistorted view map to px of another that stands in the same place. */
export function homographyBetween(from: View, to: View): Mat3 {
  const columns = [
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, 1],
  ].map(([x, y, w]) => {
    const ray = apply(
      transpose(from.rotation),
      (x! - from.principal[0] * w!) / from.focalPx,
      (y! - from.principal[1] * w!) / from.focalPx,
      w!,
    );
    const [u, v, q] = apply(to.rotation, ...ray);
    return [to.focalPx * u + to.principal[0] * q, to.focalPx * v + to.principal[1] * q, q] as const;
  });
  const [a, b, c] = columns as [Vec3, Vec3, Vec3];
  return [a[0], b[0], c[0], a[1], b[1], c[1], a[2], b[2], c[2]];
}
