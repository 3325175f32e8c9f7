// What a repair did, by what is found before and after it: what is left of the finding, and what came instead or beside it.
import { dilate, sharedArea, type Region } from '../image';
import { hides, type Defect, type Detection } from '../inspect';
import { CELL_PX } from '../kernels';
import { partsOf, type Operation } from './operations';
import { layShape } from './shapes';

/** A detection after the repair that shares less than this of its box with those before it is new. */
const SAME_PLACE = 0.3;
/** It is the repair's where so much of it lies in what the repair changes, or so many cells beside it. */
const [TOUCHED_SHARE, BESIDE_CELLS] = [0.25, 2];
/** Another defect where the finding was counts as planted when it covers so much of it. */
const INSTEAD_SHARE = 0.3;

/** The finding that is repaired. */
export interface JudgedFinding {
  readonly defect: Defect;
  /** Merge px. */
  readonly bbox: Region;
}

/** What a repair did. */
export interface JudgedRepair {
  /** Share of the finding that stays, 0..1. */
  readonly rest: number;
  /** What is found under the repair that was not there before, or was not seen, over the size of the finding. */
  readonly beside: number;
  /** What most of that is called; null where there is nothing. */
  readonly brought: Defect | null;
  /** A defect that the repair brought, around it or instead of the finding. */
  readonly planted: Detection | null;
}

/** What the finding is measured by. */
export interface JudgedBy {
  /** What it is called where it is looked at. */
  readonly names: readonly Defect[];
  /** Its cells before the repair. */
  readonly whole: number;
  /** Cells that the repair changes, and those beside them (`cellsUnder`). */
  readonly touched: ReadonlySet<number>;
  /** Cells across the merge. */
  readonly gridWidth: number;
}

/**
 * Judges a repair.
 * @param before, after what is found around it without and with it
 */
export function judgeRepair(
  finding: JudgedFinding,
  before: readonly Detection[],
  after: readonly Detection[],
  by: JudgedBy,
): JudgedRepair {
  const { names, gridWidth, touched } = by;
  const whole = Math.max(1, by.whole);
  const { count, most } = spoiltBeside(after, before, finding, touched);
  return {
    rest: Math.min(1, cellsNamed(names, after, finding.bbox, gridWidth) / whole),
    beside: count / whole,
    brought: most,
    planted: plantedIn(after, before, finding, by) ?? null,
  };
}

/** What nothing is painted over without being asked: no frame has it, or it is filled from around it. */
const UNPAINTED: readonly Defect[] = ['focus-gap', 'dust'];

/** What a place is called where it is looked at by itself, if it is called otherwise than in the whole picture; else null. */
export function calledHere(
  { defect, bbox }: JudgedFinding,
  found: readonly Detection[],
  gridWidth: number,
): Defect | null {
  const others = found.filter((d) => !UNPAINTED.includes(d.defect));
  if (found.some((d) => d.defect === defect)) return null;
  const cells = (d: Detection): number => cellsNamed([d.defect], [d], bbox, gridWidth);
  const most = others.reduce<Detection | null>((a, b) => (a && cells(a) >= cells(b) ? a : b), null);
  return most && cells(most) > 0 ? most.defect : null;
}

/** Cells of the whole picture that an operation changes, and those beside them. */
export function cellsUnder(operation: Operation, region: Region, gridWidth: number): ReadonlySet<number> {
  const [x, y] = [Math.floor(region.x / CELL_PX), Math.floor(region.y / CELL_PX)];
  const [width, height] = [Math.ceil(region.width / CELL_PX), Math.ceil(region.height / CELL_PX)];
  const mask = new Float32Array(width * height);
  for (const { shape } of partsOf(operation)) layShape(mask, { x, y, width, height }, shape, CELL_PX);
  const changed = dilate({ width, height, data: Uint8Array.from(mask, (v) => (v > 0 ? 1 : 0)) }, BESIDE_CELLS).data;
  return new Set(
    Array.from(changed.keys()).flatMap((i) =>
      changed[i] ? [(y + Math.floor(i / width)) * gridWidth + x + (i % width)] : [],
    ),
  );
}

/** Cells of defects of some names in a box. */
export function cellsNamed(
  names: readonly Defect[],
  found: readonly Detection[],
  box: Region,
  gridWidth: number,
): number {
  return found
    .filter((d) => names.includes(d.defect))
    .reduce((n, d) => n + d.cells.filter((i) => isIn(box, i % gridWidth, Math.floor(i / gridWidth))).length, 0);
}

function isIn({ x, y, width, height }: Region, column: number, row: number): boolean {
  const [px, py] = [(column + 0.5) * CELL_PX, (row + 0.5) * CELL_PX];
  return px >= x && py >= y && px < x + width && py < y + height;
}

/** Cells under a repair in which something else is found that was not there before, or was not seen. */
function spoiltBeside(
  after: readonly Detection[],
  before: readonly Detection[],
  { defect }: JudgedFinding,
  touched: ReadonlySet<number>,
): { readonly count: number; readonly most: Defect | null } {
  const spoilt = new Set<number>();
  const counts = new Map<Defect, number>();
  for (const d of after) {
    // What no frame has was there before, whoever is painted over it.
    if (d.defect === defect || d.defect === 'focus-gap' || d.noFrameHasIt) continue;
    const brought = broughtCells(d, before, touched);
    for (const i of brought) spoilt.add(i);
    if (brought.length > 0) counts.set(d.defect, (counts.get(d.defect) ?? 0) + brought.length);
  }
  const [most] = [...counts].sort((a, b) => b[1] - a[1]);
  return { count: spoilt.size, most: most?.[0] ?? null };
}

/** A defect that a repair brought: somewhere around, or instead of the finding. */
function plantedIn(
  after: readonly Detection[],
  before: readonly Detection[],
  finding: JudgedFinding,
  { gridWidth, whole, touched }: JudgedBy,
): Detection | undefined {
  return after.find((d) => {
    if (!before.some((b) => overlap(b.bbox, d.bbox) >= SAME_PLACE)) {
      // What lies apart from the repair was there before, behind the finding.
      return d.cells.filter((i) => touched.has(i)).length >= TOUCHED_SHARE * d.cells.length;
    }
    // A window may have been clipped in part before.
    const isBurnt = d.defect === 'clipping' && !d.noFrameHasIt;
    if (isBurnt && broughtCells(d, before, touched).length > INSTEAD_SHARE * Math.max(1, whole)) return true;
    // What the finding hid is no fault of the repair: beside a near edge no frame may show the ground sharp and without spill.
    if (d.defect === finding.defect || hides(finding.defect, d.defect)) return false;
    const [now, then] = [after, before].map((found) => cellsNamed([d.defect], found, finding.bbox, gridWidth));
    return now! - then! > INSTEAD_SHARE * Math.max(1, whole);
  });
}

/** Cells of a defect under a repair that had none of its name before. */
function broughtCells(
  { defect, cells }: Detection,
  before: readonly Detection[],
  touched: ReadonlySet<number>,
): number[] {
  const known = new Set(before.filter((b) => b.defect === defect).flatMap((b) => b.cells));
  return cells.filter((i) => touched.has(i) && !known.has(i));
}

/** Shared area over the smaller of both. */
function overlap(a: Region, b: Region): number {
  return sharedArea(a, b) / Math.min(a.width * a.height, b.width * b.height);
}
