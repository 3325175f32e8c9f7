// Two frames of a camera that turned on the spot: which matched corners agree on one rotation.
import type { KeyPoint } from './findPoints';
import type { PointMatch } from './matchPoints';
import { cross, dot, NO_TURN, rotationBetween, turn, unit, type Vector3 } from './rotations';
import { frameRay, type LensView, type Matrix3 } from '../frame';

/** What of a frame's camera is known before alignment. */
export interface FrameCamera extends LensView {
  readonly focalPx: number;
}

export interface RelativeRotation {
  /** Camera axes of a → camera axes of b. */
  readonly rotation: Matrix3;
  readonly inliers: readonly PointMatch[];
  /** Root mean square distance of the inliers, px of b. */
  readonly errorPx: number;
}

const TRIALS = 600;
/** Matches that agree by chance are fewer than this and this share (M. Brown and D. G. Lowe, IJCV 74(1), 2007). */
const LEAST_INLIERS = 9;
const LEAST_SHARE = 0.22;
/**
 * Of corners that both frames must show, so many and this share have their like where a true rotation puts them (same paper, eq. 13);
 * a wrong one finds a like for one or two of a hundred.
 */
const LEAST_GUIDED = 8;
const LEAST_GUIDED_SHARE = 0.3;
/** Two points that agree are any two; a rotation worth a second look has more. */
const LEAST_TO_GUIDE = 5;
/** Correlation of two descriptions of the same corner. */
const LIKE = 0.5;

/**
 * Finds the rotation that most matches agree on (random sample consensus, Fischler and Bolles 1981, over a fixed sequence).
 * @param tolerancePx how far from its place a match may lie, px of b
 * @param options.guided where too few agree, their best rotation is asked how many further corners have their like where it puts them:
 * finds frames of a repeated pattern, and needs focal lengths that are right to some per cent
 * @returns null when no more agree than chance explains
 */
export function estimateRelativeRotation(
  a: readonly KeyPoint[],
  b: readonly KeyPoint[],
  matches: readonly PointMatch[],
  cameraA: FrameCamera,
  cameraB: FrameCamera,
  tolerancePx: number,
  { guided = false }: { readonly guided?: boolean } = {},
): RelativeRotation | null {
  if (matches.length < LEAST_INLIERS) return null;
  const raysA = matches.map((m) => rayOf(cameraA, a[m.a]!));
  const raysB = matches.map((m) => rayOf(cameraB, b[m.b]!));
  const limit = Math.cos(Math.atan(tolerancePx / cameraB.focalPx));
  const agreeing = (rotation: Matrix3): number[] =>
    matches.flatMap((_, n) => (dot(turn(rotation, raysA[n]!), raysB[n]!) > limit ? [n] : []));
  let best: number[] = [];
  let state = 12345;
  const next = (): number => {
    // A linear congruential sequence: the same pictures give the same result.
    state = (state * 1103515245 + 12345) % 2147483648;
    return Math.floor((state / 2147483648) * matches.length);
  };
  for (let trial = 0; trial < TRIALS; trial++) {
    const i = next();
    const j = next();
    const rotation = rotationOfTwo(raysA[i]!, raysA[j]!, raysB[i]!, raysB[j]!);
    if (!rotation) continue;
    const found = agreeing(rotation);
    if (found.length > best.length) best = found;
  }
  let rotation = NO_TURN;
  for (let round = 0; round < 3 && best.length >= 2; round++) {
    rotation = rotationBetween(
      best.map((n) => raysA[n]!),
      best.map((n) => raysB[n]!),
    );
    best = agreeing(rotation);
  }
  let inliers: readonly PointMatch[] = best.map((n) => matches[n]!);
  if (best.length < Math.max(LEAST_INLIERS, LEAST_SHARE * matches.length)) {
    if (!guided || best.length < LEAST_TO_GUIDE) return null;
    const found = matchGuided(a, b, cameraA, cameraB, rotation, limit);
    if (found.matches.length < LEAST_GUIDED + LEAST_GUIDED_SHARE * found.shared) return null;
    inliers = found.matches;
    rotation = rotationBetween(
      inliers.map((m) => rayOf(cameraA, a[m.a]!)),
      inliers.map((m) => rayOf(cameraB, b[m.b]!)),
    );
  }
  const square = inliers.reduce((s, m) => {
    const cosine = dot(turn(rotation, rayOf(cameraA, a[m.a]!)), rayOf(cameraB, b[m.b]!));
    return s + Math.tan(Math.acos(Math.min(1, cosine))) ** 2;
  }, 0);
  return { rotation, inliers, errorPx: cameraB.focalPx * Math.sqrt(square / inliers.length) };
}

/**
 * Corners of a that have their like in b where a rotation puts them: what a repeated pattern hides from matching by looks alone.
 * @param limit cosine of the angle within which a like may lie
 * @returns the pairs, and how many corners of a lie within b
 */
function matchGuided(
  a: readonly KeyPoint[],
  b: readonly KeyPoint[],
  cameraA: FrameCamera,
  cameraB: FrameCamera,
  rotation: Matrix3,
  limit: number,
): { readonly matches: readonly PointMatch[]; readonly shared: number } {
  const raysB = b.map((p) => rayOf(cameraB, p));
  const matches: PointMatch[] = [];
  let shared = 0;
  a.forEach((p, i) => {
    const ray = turn(rotation, rayOf(cameraA, p));
    const [halfWidth, halfHeight] = cameraB.centre;
    const scale = cameraB.focalPx / ray[2];
    if (!(ray[2] > 0 && Math.abs(ray[0]) * scale < halfWidth && Math.abs(ray[1]) * scale < halfHeight)) return;
    shared += 1;
    let [like, most] = [-1, LIKE];
    raysB.forEach((other, j) => {
      if (dot(ray, other) < limit) return;
      const likeness = p.descriptor.reduce((sum, v, n) => sum + v * b[j]!.descriptor[n]!, 0);
      if (likeness > most) [like, most] = [j, likeness];
    });
    if (like >= 0) matches.push({ a: i, b: like });
  });
  return { matches, shared };
}

function rayOf(camera: FrameCamera, { x, y }: KeyPoint): Vector3 {
  const [u, v] = frameRay(camera, x, y);
  return unit([u, v, camera.focalPx]);
}

/** The rotation that carries two directions onto two others that enclose nearly the same angle; null otherwise. */
function rotationOfTwo(a1: Vector3, a2: Vector3, b1: Vector3, b2: Vector3): Matrix3 | null {
  const angleA = Math.acos(Math.min(1, dot(a1, a2)));
  const angleB = Math.acos(Math.min(1, dot(b1, b2)));
  if (angleA < 0.01 || Math.abs(angleA - angleB) > 0.05 * Math.max(angleA, angleB) + 0.002) return null;
  const frame = (p: Vector3, q: Vector3): readonly [Vector3, Vector3, Vector3] => {
    const z = unit(cross(p, q));
    return [p, cross(z, p), z];
  };
  const [p, q, r] = frame(a1, a2);
  const [s, t, u] = frame(b1, b2);
  const at = (row: number, column: number): number =>
    s[row]! * p[column]! + t[row]! * q[column]! + u[row]! * r[column]!;
  return [at(0, 0), at(0, 1), at(0, 2), at(1, 0), at(1, 1), at(1, 2), at(2, 0), at(2, 1), at(2, 2)];
}
