// Points from a merge to a frame and back, whatever the geometry.
import { canvasRay, rayOnCanvas } from './canvas';
import type { FrameGeometry } from './geometry';
import { applyMatrix, invertMatrix } from './homography';
import { frameRay } from './lens';
import { localShiftAt, type LocalField } from './localField';
import { applySimilarity, invertSimilarity } from './transform';

/** Straight radii beyond this are outside any frame; there the polynomial of distortion may fold back. */
const FARTHEST_RADIUS = 1.7;

/**
 * Where a place of the merge lies in the frame.
 * @param x merge px
 * @param y merge px
 * @returns frame px, also beyond the frame's edges; null where the camera does not look
 */
export function mergeToFrame(geometry: FrameGeometry, x: number, y: number): [number, number] | null {
  const at = byModel(geometry, x, y);
  if (!at || !geometry.local) return at;
  const [dx, dy] = localShiftAt(geometry.local, at[0], at[1]);
  return [at[0] + dx, at[1] + dy];
}

function byModel(geometry: FrameGeometry, x: number, y: number): [number, number] | null {
  if (geometry.model === 'similarity') return applySimilarity(invertSimilarity(geometry.toMerge), x, y);
  if (geometry.model === 'homography') {
    const m = geometry.toFrame;
    return m[6] * x + m[7] * y + m[8] > 0 ? applyMatrix(m, x, y) : null;
  }
  const [rx, ry, rz] = canvasRay(geometry.canvas, x, y);
  const r = geometry.rotation;
  const w = r[6] * rx + r[7] * ry + r[8] * rz;
  if (!(w > 1e-9)) return null;
  const sx = (geometry.focalPx * (r[0] * rx + r[1] * ry + r[2] * rz)) / w;
  const sy = (geometry.focalPx * (r[3] * rx + r[4] * ry + r[5] * rz)) / w;
  const square = (sx * sx + sy * sy) / (geometry.halfDiagonalPx * geometry.halfDiagonalPx);
  if (square > FARTHEST_RADIUS * FARTHEST_RADIUS) return null;
  const k = 1 + square * (geometry.distortion[0] + square * geometry.distortion[1]);
  return [geometry.centre[0] + k * sx, geometry.centre[1] + k * sy];
}

/**
 * Where a place of the frame lies in the merge; the inverse of `mergeToFrame`.
 * @param x frame px
 * @param y frame px
 * @returns merge px; null where the merge's projection shows nothing
 */
export function frameToMerge(geometry: FrameGeometry, x: number, y: number): [number, number] | null {
  return geometry.local ? modelToMerge(geometry, ...unshifted(geometry.local, x, y)) : modelToMerge(geometry, x, y);
}

function modelToMerge(geometry: FrameGeometry, x: number, y: number): [number, number] | null {
  if (geometry.model === 'similarity') return applySimilarity(geometry.toMerge, x, y);
  if (geometry.model === 'homography') {
    const at = applyMatrix(invertMatrix(geometry.toFrame), x, y);
    return Number.isFinite(at[0] + at[1]) ? at : null;
  }
  const { rotation: r, focalPx } = geometry;
  const [u, v] = frameRay(geometry, x, y);
  const [a, b, c] = [u / focalPx, v / focalPx, 1];
  return rayOnCanvas(
    geometry.canvas,
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
