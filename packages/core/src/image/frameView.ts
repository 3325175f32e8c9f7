// How a frame lies in a merge where no similarity can say it: a perspective map, or a camera turning on the spot.
import { badParameter } from '../checks';
import { applyMatrix, invertMatrix } from './homography';
import { localShiftAt, type LocalField } from './localField';
import type { Matrix3, Similarity } from './transform';

/** How directions become places on the canvas of a panorama. */
export type Projection = 'flat' | 'cylindrical' | 'spherical';

/** The canvas of a panorama: px per radian in its middle, and where its axis (straight ahead) lies. */
export interface Canvas {
  readonly projection: Projection;
  readonly focalPx: number;
  readonly axis: readonly [number, number];
}

/** What every view may have besides its geometry. */
interface Refined {
  /** Local shifts on top of the model, px of the frame; none when left out. */
  readonly local?: LocalField;
}

/** How a lens darkens towards the corners: light at radius r (1 at half the diagonal) against the middle is 1 + v1·r² + v2·r⁴. */
export interface LensShade {
  /** Where the optical axis meets the frame, px. */
  readonly centre: readonly [number, number];
  /** Half the frame's diagonal: 1 in the radii of distortion and vignetting, px. */
  readonly halfDiagonalPx: number;
  readonly vignetting: readonly [number, number];
}

/** A frame on a plane: merge px → frame px. */
export interface PlaneView extends Refined {
  readonly model: 'homography';
  readonly toFrame: Matrix3;
  readonly shade?: LensShade;
}

/** A frame of a camera that turned on the spot. */
export interface TurnedView extends Refined, LensShade {
  readonly model: 'rotating-camera';
  readonly canvas: Canvas;
  /** Canvas axes (x right, y down, z ahead) → camera axes. */
  readonly rotation: Matrix3;
  readonly focalPx: number;
  /** Drawn radius = straight radius · (1 + k1·r² + k2·r⁴) (D. C. Brown, Photogrammetric Engineering 32(3), 1966). */
  readonly distortion: readonly [number, number];
}

export type FrameView = PlaneView | TurnedView;

/** Straight radii beyond this are outside any frame; there the polynomial may fold back. */
const FARTHEST_RADIUS = 1.7;

/** Direction of a canvas point in canvas axes (not normalised). */
export function canvasRay({ projection, focalPx, axis }: Canvas, x: number, y: number): [number, number, number] {
  const u = (x - axis[0]) / focalPx;
  const v = (y - axis[1]) / focalPx;
  if (projection === 'flat') return [u, v, 1];
  if (projection === 'cylindrical') return [Math.sin(u), v, Math.cos(u)];
  return [Math.sin(u) * Math.cos(v), Math.sin(v), Math.cos(u) * Math.cos(v)];
}

/** Where a direction falls on a canvas; null where the projection shows nothing. */
export function rayOnCanvas(canvas: Canvas, x: number, y: number, z: number): [number, number] | null {
  const { projection, focalPx, axis } = canvas;
  if (projection === 'flat') return z > 1e-9 ? [axis[0] + (focalPx * x) / z, axis[1] + (focalPx * y) / z] : null;
  const level = Math.hypot(x, z);
  if (!(level > 1e-12)) return null;
  const up = projection === 'cylindrical' ? y / level : Math.atan2(y, level);
  return [axis[0] + focalPx * Math.atan2(x, z), axis[1] + focalPx * up];
}

/**
 * Where a place of the merge lies in the frame.
 * @returns frame px, or null where the camera does not look
 */
export function mergeToFrame(view: FrameView, x: number, y: number): [number, number] | null {
  const at = byModel(view, x, y);
  if (!at || !view.local) return at;
  const [dx, dy] = localShiftAt(view.local, at[0], at[1]);
  return [at[0] + dx, at[1] + dy];
}

function byModel(view: FrameView, x: number, y: number): [number, number] | null {
  if (view.model === 'homography') {
    const m = view.toFrame;
    return m[6] * x + m[7] * y + m[8] > 0 ? applyMatrix(m, x, y) : null;
  }
  const [rx, ry, rz] = canvasRay(view.canvas, x, y);
  const r = view.rotation;
  const w = r[6] * rx + r[7] * ry + r[8] * rz;
  if (!(w > 1e-9)) return null;
  const sx = (view.focalPx * (r[0] * rx + r[1] * ry + r[2] * rz)) / w;
  const sy = (view.focalPx * (r[3] * rx + r[4] * ry + r[5] * rz)) / w;
  const square = (sx * sx + sy * sy) / (view.halfDiagonalPx * view.halfDiagonalPx);
  if (square > FARTHEST_RADIUS * FARTHEST_RADIUS) return null;
  const k = 1 + square * (view.distortion[0] + square * view.distortion[1]);
  return [view.centre[0] + k * sx, view.centre[1] + k * sy];
}

/**
 * Where a place of the frame lies in the merge.
 * @returns merge px, or null where the merge's projection shows nothing
 */
export function frameToMerge(view: FrameView, x: number, y: number): [number, number] | null {
  return view.local ? modelToMerge(view, ...unshifted(view.local, x, y)) : modelToMerge(view, x, y);
}

function modelToMerge(view: FrameView, x: number, y: number): [number, number] | null {
  if (view.model === 'homography') {
    const at = applyMatrix(invertMatrix(view.toFrame), x, y);
    return Number.isFinite(at[0] + at[1]) ? at : null;
  }
  const { rotation: r, focalPx } = view;
  const [u, v] = frameRay(view, x, y);
  const [a, b, c] = [u / focalPx, v / focalPx, 1];
  return rayOnCanvas(
    view.canvas,
    r[0] * a + r[3] * b + r[6] * c,
    r[1] * a + r[4] * b + r[7] * c,
    r[2] * a + r[5] * b + r[8] * c,
  );
}

/** Where the model alone puts what a local field shifts to a place; by iteration, as the shifts change slowly. */
function unshifted(local: LocalField, x: number, y: number): [number, number] {
  let [u, v] = [x, y];
  for (let i = 0; i < 4; i++) {
    const [dx, dy] = localShiftAt(local, u, v);
    [u, v] = [x - dx, y - dy];
  }
  return [u, v];
}

/** What of a lens it takes to draw rays. */
export type LensView = Pick<TurnedView, 'centre' | 'halfDiagonalPx' | 'distortion'>;

/** A frame's place freed of distortion, in px from the optical axis; by Newton's method, exact for lenses that draw one place once. */
export function frameRay({ centre, halfDiagonalPx, distortion }: LensView, x: number, y: number): [number, number] {
  const dx = x - centre[0];
  const dy = y - centre[1];
  const [k1, k2] = distortion;
  const drawn = Math.hypot(dx, dy) / halfDiagonalPx;
  if (drawn === 0 || (k1 === 0 && k2 === 0)) return [dx, dy];
  let r = drawn;
  for (let i = 0; i < 8; i++) {
    const q = r * r;
    r -= (r * (1 + q * (k1 + q * k2)) - drawn) / Math.max(0.2, 1 + q * (3 * k1 + 5 * q * k2));
  }
  const k = r / drawn;
  return [dx * k, dy * k];
}

/** How much brighter a frame must become at a place of the merge to be free of vignetting: 1 / light there. */
export function vignetteLift(view: FrameView, frameX: number, frameY: number): number {
  const shade = view.model === 'homography' ? view.shade : view;
  if (!shade) return 1;
  const [v1, v2] = shade.vignetting;
  if (v1 === 0 && v2 === 0) return 1;
  const q = ((frameX - shade.centre[0]) ** 2 + (frameY - shade.centre[1]) ** 2) / shade.halfDiagonalPx ** 2;
  return 1 / Math.max(0.05, 1 + q * (v1 + q * v2));
}

/**
 * The similarity frame px → merge px that touches a view in the middle of the frame: what reports give as scale, shift, rotation.
 * @throws ParameterError when the merge does not show the frame's middle
 */
export function touchingSimilarity(view: FrameView, width: number, height: number): Similarity {
  const [x, y] = [width / 2, height / 2];
  const step = Math.min(width, height) / 64;
  const at = (px: number, py: number): [number, number] => {
    const p = frameToMerge(view, px, py);
    if (!p) throw badParameter('touchingSimilarity.view', 'a view whose middle the merge shows', [px, py]);
    return p;
  };
  const [ax, ay] = at(x - step, y);
  const [bx, by] = at(x + step, y);
  const [cx, cy] = at(x, y - step);
  const [dx, dy] = at(x, y + step);
  // The mean of what both axes say: rotation and scale without shear.
  const re = (bx - ax + dy - cy) / (4 * step);
  const im = (by - ay - (dx - cx)) / (4 * step);
  const [mx, my] = at(x, y);
  return { re, im, tx: mx - (re * x - im * y), ty: my - (im * x + re * y) };
}
