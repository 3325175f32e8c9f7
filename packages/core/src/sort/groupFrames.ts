// A card's frames into sets: which belong together, as what, why, and how sure.
import { findRuns, isPause, sameCamera, STILL_SHARE } from './findRuns';
import { makePyramid, relateFrames, type Pyramid, type Relation } from './relateFrames';
import type { SortFrame } from './sortFrame';
import { splitRun, type Unit } from './splitRun';

export interface ProposedSet {
  readonly kind: 'focus-stack' | 'panorama' | 'bracket';
  /** Indices of frames in shooting order; of a nested set those of its inner sets, too. */
  readonly frames: readonly number[];
  /** Inner sets (indices in the list of sets) whose merges are frames of this one. */
  readonly nested: readonly number[];
  /** Place in a panorama, from the left and from the top, one for each direction. */
  readonly places: readonly (readonly [column: number, row: number])[] | null;
  readonly order: 'near-to-far' | 'far-to-near' | 'unknown';
  readonly why: string;
  /** 0..1. */
  readonly confidence: number;
}

export interface Sorting {
  readonly sets: readonly ProposedSet[];
  readonly separators: readonly number[];
  readonly unassigned: readonly number[];
}

/** Neighbours in a panorama share at least this much of the frame, and are at least so alike there. */
const LEAST_OVERLAP = 0.16;
const LEAST_LIKENESS = 0.33;
const LEAST_SCORE = 0.2;
/** Without a word in the file, a lens sees about as a normal one. */
const USUAL_FOCAL = 1;

interface Group {
  readonly units: Unit[];
  /** Place of each unit's view, in shares of the frame. */
  readonly at: (readonly [number, number])[];
  readonly likeness: number[];
}

/**
 * Proposes sets.
 * @param frames in any order; shooting order is by time where all files tell it, else as given
 */
export function groupFrames(frames: readonly SortFrame[]): Sorting {
  const order = shootingOrder(frames);
  const { runs, separators } = findRuns(frames, order);
  const pyramids = new Map<number, Pyramid>();
  const ladderOf = (k: number): Pyramid => {
    const known = pyramids.get(k);
    if (known) return known;
    const made = makePyramid(frames[k]!.summary, focalOf(frames[k]!));
    pyramids.set(k, made);
    return made;
  };
  const likenessOf = new Map<Unit, number>();
  const units = runs.flatMap((run) => {
    const parts = splitRun(frames, run.frames);
    parts.forEach((u) => likenessOf.set(u, run.likeness));
    return parts;
  });
  const groups: Group[] = [];
  for (const unit of units) {
    const group = groups.at(-1);
    const link = group && linkTo(frames, ladderOf, group, unit, order, separators);
    if (group && link) {
      group.units.push(unit);
      group.at.push(link.at);
      group.likeness.push(link.relation.correlation);
    } else groups.push({ units: [unit], at: [[0, 0]], likeness: [] });
  }
  return propose(groups, likenessOf, separators);
}

/** By time where every file tells it, else as given. */
export function shootingOrder(frames: readonly SortFrame[]): number[] {
  const order = frames.map((_, k) => k);
  if (frames.some((f) => f.settings.takenS === null)) return order;
  return order.sort((a, b) => frames[a]!.settings.takenS! - frames[b]!.settings.takenS! || a - b);
}

/** Focal length as a share of the frame's longer side. */
function focalOf({ settings }: SortFrame): number {
  return settings.focalLength35Mm === null ? USUAL_FOCAL : settings.focalLength35Mm / 36;
}

/** The frame that stands for a unit: of a bracket the middle exposure, of a stack the middle slice. */
function faceOf(unit: Unit): number {
  if (unit.kind !== 'bracket') return unit.frames[unit.frames.length >> 1]!;
  const byEv = unit.frames.map((k, i) => [unit.ev[i]!, k] as const).sort((a, b) => a[0] - b[0]);
  return byEv[byEv.length >> 1]![1];
}

/** How a unit continues a panorama; null when it does not. Any of its directions may be the neighbour: rows begin anew. */
function linkTo(
  frames: readonly SortFrame[],
  ladderOf: (k: number) => Pyramid,
  group: Group,
  unit: Unit,
  order: readonly number[],
  separators: readonly number[],
): { at: readonly [number, number]; relation: Relation } | null {
  const last = group.units.at(-1)!;
  const before = last.frames.at(-1)!;
  const first = unit.frames[0]!;
  if (!sameCamera(frames[before]!, frames[first]!)) return null;
  if (separators.some((s) => order.indexOf(s) > order.indexOf(before) && order.indexOf(s) < order.indexOf(first)))
    return null;
  if (
    isPause(
      frames,
      group.units.flatMap((u) => u.frames),
      first,
    )
  )
    return null;
  if (!mayNeighbour(last, unit)) return null;
  for (let u = group.units.length - 1; u >= 0; u--) {
    const relation = relateFrames(ladderOf(faceOf(group.units[u]!)), ladderOf(faceOf(unit)));
    if (!isNeighbour(relation)) continue;
    const [x, y] = group.at[u]!;
    return { at: [x + relation.dx, y + relation.dy], relation };
  }
  return null;
}

/** Directions of one panorama are shot alike: single frames, or brackets of as many exposures, or stacks. */
function mayNeighbour(a: Unit, b: Unit): boolean {
  const plain = (u: Unit): boolean => u.kind === 'single' || u.kind === 'alike';
  if (plain(a) && plain(b)) return true;
  if (a.kind === b.kind) return a.kind === 'focus-stack' || a.frames.length === b.frames.length;
  // One direction of a pair may be bracketed for its sky.
  return a.kind !== 'focus-stack' && b.kind !== 'focus-stack';
}

function isNeighbour({ dx, dy, correlation, overlap }: Relation): boolean {
  const moved = Math.max(Math.abs(dx), Math.abs(dy)) > STILL_SHARE;
  return (
    moved && overlap > LEAST_OVERLAP && correlation > LEAST_LIKENESS && correlation * Math.sqrt(overlap) > LEAST_SCORE
  );
}

function propose(
  groups: readonly Group[],
  likenessOf: ReadonlyMap<Unit, number>,
  separators: readonly number[],
): Sorting {
  const sets: ProposedSet[] = [];
  const unassigned: number[] = [];
  const addInner = (unit: Unit): number => {
    const kind = unit.kind === 'bracket' ? 'bracket' : 'focus-stack';
    const { frames: members, why, focus } = unit;
    sets.push({
      kind,
      frames: members,
      nested: [],
      places: null,
      order: focus,
      why,
      confidence: sureOf(unit, likenessOf.get(unit)!),
    });
    return sets.length - 1;
  };
  for (const { units, at, likeness } of groups) {
    if (units.length === 1) {
      const only = units[0]!;
      if (only.kind === 'bracket' || only.kind === 'focus-stack') addInner(only);
      else unassigned.push(...only.frames);
      continue;
    }
    const nested = units.filter((u) => u.kind === 'bracket' || u.kind === 'focus-stack').map(addInner);
    const places = arrange(at);
    const columns = Math.max(...places.map((p) => p[0])) + 1;
    const rows = Math.max(...places.map((p) => p[1])) + 1;
    const mean = likeness.reduce((s, v) => s + v, 0) / likeness.length;
    sets.push({
      kind: 'panorama',
      frames: units.flatMap((u) => u.frames),
      nested,
      places,
      order: 'unknown',
      why: `${units.length} neighbouring views that overlap, ${columns} across in ${rows} ${rows === 1 ? 'row' : 'rows'}${nested.length > 0 ? '; each direction is a set of its own' : ''}`,
      confidence: Math.min(0.99, 0.5 + mean * 0.6),
    });
  }
  return { sets, separators, unassigned };
}

function sureOf(unit: Unit, likeness: number): number {
  const told = unit.kind === 'bracket' || unit.focus !== 'unknown';
  return Math.min(0.99, (told ? 0.6 : 0.45) + 0.4 * likeness);
}

/** Columns and rows from places: views that lie less than half a step apart share one. */
export function arrange(at: readonly (readonly [number, number])[]): (readonly [number, number])[] {
  const ranks = (values: readonly number[]): number[] => {
    const sorted = [...values].sort((a, b) => a - b);
    const starts: number[] = [];
    // A third of a frame: less than any usual step, more than a hand's sway.
    for (const v of sorted) if (starts.length === 0 || v - starts.at(-1)! > 0.3) starts.push(v);
    return values.map((v) => starts.findLastIndex((s) => v >= s - 1e-9));
  };
  const columns = ranks(at.map((p) => p[0]));
  const rows = ranks(at.map((p) => p[1]));
  return at.map((_, i) => [columns[i]!, rows[i]!] as const);
}
