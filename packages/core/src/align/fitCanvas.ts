// The canvas of a panorama made elsewhere, from places of it whose directions are known.
import { LuDecomposition, Matrix } from 'ml-matrix';
import { composeMatrix, rayOnCanvas, type Canvas, type Matrix3, type Projection } from '../frame';
import { quantile } from '../image';
import { cross, rotationBy, turn, unit, type Vector3 } from './rotations';

/** A place of the merge and the direction in the world that it shows. */
export interface CanvasTie {
  readonly x: number;
  readonly y: number;
  readonly ray: Vector3;
}

export interface FittedCanvas {
  readonly canvas: Canvas;
  /** World → canvas axes (x right, y down, z ahead). */
  readonly axes: Matrix3;
  /** Median distance of the ties, px of the merge. */
  readonly residualPx: number;
  /** Which ties agree. */
  readonly agreeing: readonly boolean[];
}

const PROJECTIONS: readonly Projection[] = ['flat', 'cylindrical', 'spherical'];
/** A plainer canvas is taken when a bent one leaves no less than this share of what it leaves. */
const PLAINER = 0.85;
const ROUNDS = 60;
const STEP = 1e-6;
/** Corners are good to about so many px of the picture they were found in. */
const CORNER_PX = 1;

/**
 * Fits projection, focal length, axis and attitude to ties (Levenberg–Marquardt, robust by Tukey's biweight).
 * @param down which way is down in the world
 * @param focalPx rough focal length of the canvas, px of the merge per radian; good to a third
 * @param unitPx px of the merge per px in which the corners were found
 * @returns the plainest canvas that explains the ties; null when none does
 */
export function fitCanvas(
  ties: readonly CanvasTie[],
  down: Vector3,
  focalPx: number,
  unitPx: number,
): FittedCanvas | null {
  if (ties.length < 8) return null;
  const ahead = unit(ties.reduce<Vector3>((s, t) => [s[0] + t.ray[0], s[1] + t.ray[1], s[2] + t.ray[2]], [0, 0, 0]));
  const fits = PROJECTIONS.flatMap((projection) => {
    // A plane is looked at straight; a cylinder and a sphere stand upright.
    const starts =
      projection === 'flat'
        ? [attitude(ahead, down), attitude(level(ahead, down), down)]
        : [attitude(level(ahead, down), down)];
    const found = starts.map((axes) => fitOne(ties, projection, axes, focalPx, unitPx));
    return [found.reduce((b, f) => (f.residualPx < b.residualPx ? f : b))];
  });
  const least = Math.min(...fits.map((f) => f.residualPx));
  return fits.find((f) => PLAINER * f.residualPx <= Math.max(least, 0.25 * unitPx)) ?? null;
}

/** The direction, freed of its part along down. */
function level(ahead: Vector3, down: Vector3): Vector3 {
  const along = ahead[0] * down[0] + ahead[1] * down[1] + ahead[2] * down[2];
  return unit([ahead[0] - along * down[0], ahead[1] - along * down[1], ahead[2] - along * down[2]]);
}

/** World → axes that look ahead with down as near to down as can be. */
function attitude(ahead: Vector3, down: Vector3): Matrix3 {
  const right = unit(cross(down, ahead));
  const below = cross(ahead, right);
  return [...right, ...below, ...ahead];
}

interface Unknowns {
  readonly axes: Matrix3;
  readonly logFocal: number;
  readonly x: number;
  readonly y: number;
}

function fitOne(
  ties: readonly CanvasTie[],
  projection: Projection,
  axes: Matrix3,
  focalPx: number,
  unitPx: number,
): FittedCanvas {
  const plain: Canvas = { projection, focalPx: 1, axis: [0, 0] };
  const project = (at: Unknowns, { ray }: CanvasTie): [number, number] | null => {
    const place = rayOnCanvas(plain, ...turn(at.axes, ray));
    if (!place) return null;
    const f = Math.exp(at.logFocal);
    return [at.x + f * place[0], at.y + f * place[1]];
  };
  const start: Unknowns = { axes, logFocal: Math.log(focalPx), x: 0, y: 0 };
  // Where the axis lies, follows from where the ties lie.
  const offsets = ties.flatMap((t) => {
    const at = project(start, t);
    return at ? [[t.x - at[0], t.y - at[1]] as const] : [];
  });
  let at: Unknowns = { ...start, x: middle(offsets, 0), y: middle(offsets, 1) };
  const distances = (of: Unknowns): number[] =>
    ties.map((t) => {
      const p = project(of, t);
      return p ? Math.hypot(p[0] - t.x, p[1] - t.y) : Infinity;
    });
  const cutOf = (off: readonly number[]): number => 4.685 * Math.max(CORNER_PX * unitPx, 1.4826 * quantile(off, 0.5));
  let off = distances(at);
  let damping = 1e-3;
  for (let round = 0; round < ROUNDS && damping < 1e9; round++) {
    const cut = cutOf(off);
    const d = stepOf(at, ties, off, cut, damping, project);
    if (!d) break;
    const moved = nudged(at, d);
    const next = distances(moved);
    const better = robustCost(next, cut) < robustCost(off, cut);
    damping = better ? damping / 4 : damping * 6;
    if (better) [at, off] = [moved, next];
    if (better && d.every((v, k) => Math.abs(v) < (k < 4 ? 1e-9 : 1e-4))) break;
  }
  const cut = cutOf(off);
  return {
    canvas: { projection, focalPx: Math.exp(at.logFocal), axis: [at.x, at.y] },
    axes: at.axes,
    residualPx: quantile(off, 0.5),
    agreeing: off.map((d) => d < cut),
  };
}

function middle(list: readonly (readonly [number, number])[], axis: 0 | 1): number {
  return list.length > 0
    ? quantile(
        list.map((v) => v[axis]),
        0.5,
      )
    : 0;
}

function robustCost(off: readonly number[], cut: number): number {
  return off.reduce((s, d) => s + (d >= cut ? 1 : 1 - (1 - (d / cut) ** 2) ** 3), 0);
}

function nudged(at: Unknowns, d: readonly number[]): Unknowns {
  return {
    axes: composeMatrix(rotationBy([d[0]!, d[1]!, d[2]!]), at.axes),
    logFocal: at.logFocal + d[3]!,
    x: at.x + d[4]!,
    y: at.y + d[5]!,
  };
}

function stepOf(
  at: Unknowns,
  ties: readonly CanvasTie[],
  off: readonly number[],
  cut: number,
  damping: number,
  project: (at: Unknowns, tie: CanvasTie) => [number, number] | null,
): number[] | null {
  const moved = [0, 1, 2, 3].map((k) =>
    nudged(
      at,
      [0, 1, 2, 3, 4, 5].map((n) => (n === k ? STEP : 0)),
    ),
  );
  const normal = Matrix.zeros(6, 6);
  const right = Matrix.zeros(6, 1);
  ties.forEach((t, n) => {
    const q = off[n]! / cut;
    if (q >= 1) return;
    const here = project(at, t);
    if (!here) return;
    const weight = (1 - q * q) ** 2;
    const slopes = moved.map((m) => {
      const p = project(m, t);
      return p ? [(p[0] - here[0]) / STEP, (p[1] - here[1]) / STEP] : [0, 0];
    });
    slopes.push([1, 0], [0, 1]);
    for (let a = 0; a < 6; a++) {
      const [ax, ay] = slopes[a]!;
      right.set(a, 0, right.get(a, 0) + weight * (ax! * (t.x - here[0]) + ay! * (t.y - here[1])));
      for (let c = 0; c < 6; c++) {
        const [cx, cy] = slopes[c]!;
        normal.set(a, c, normal.get(a, c) + weight * (ax! * cx! + ay! * cy!));
      }
    }
  });
  for (let a = 0; a < 6; a++) normal.set(a, a, normal.get(a, a) * (1 + damping) + 1e-9);
  const decomposed = new LuDecomposition(normal);
  return decomposed.isSingular() ? null : decomposed.solve(right).getColumn(0);
}
