// Ghosts that are cut: the merge surely shows one frame, and right beside it surely another, of something that moved between them.
import { dilate, findComponents, findIslands, type Component, type Mask } from '../../image';
import { CELL_PX } from '../../kernels';
import { confidenceOf, JUST_VISIBLE, type Detection } from '../detection';
import type { Evidence } from '../detector';
import { agreement } from '../layers/agreement';
import { hasMoment, moments, type MomentsMaps } from '../layers/moments';
import { DISAGREE } from '../strangers';
import { bridged, ghostOf, LARGEST_THING } from './movedThing';

/** Both sides of a tear lie within so many cells of each other … */
const TEAR_REACH = 4;
/** … or farther apart, if nothing is told between them: before a window that only one exposure holds, a thing shows on either side … */
const FAR_TEAR = 24;
/** Most of what lies between is untold then, and the rest one of the two frames. */
const UNTOLD_SHARE = 0.5;
/** … in so many cells at least. */
const LEAST_TEAR = 6;

/**
 * Places where the merge surely shows one frame and not another, right beside places where it shows the other and not the one. Tones are
 * equalised place by place: exposures differ by more than what moves does.
 */
export function findCuts(evidence: Evidence): Detection[] {
  const { width, height, picture } = evidence;
  const tears = markTears(evidence);
  const { torn } = tears;
  const { apart, apartOverNoise } = evidence.of(agreement);
  const { toneApart } = evidence.of(moments);
  const moves = Uint8Array.from(apart, (v, i) =>
    torn[i] || toneApart[i] || (v > JUST_VISIBLE && apartOverNoise[i]! > DISAGREE) ? 1 : 0,
  );
  const closed = dilate(dilate({ width, height, data: moves }, 1), -1);
  const parts = findComponents(closed)
    .flatMap((all) => ofBoth(all, tears, evidence))
    .flatMap((thing) =>
      thing.cells.length <= LARGEST_THING * picture.width * picture.height
        ? aroundTears(thing, torn, evidence)
        : longTears(thing, torn, evidence),
    );
  const things = joinSides(parts, tears, evidence);
  return things.flatMap((thing): Detection[] => {
    const own = thing.cells.filter((i) => torn[i]);
    if (own.length < LEAST_TEAR) return [];
    const plain = Math.sqrt(own.reduce((s, i) => s + Math.max(apart[i]!, toneApart[i]!) ** 2, 0) / own.length);
    const confidence = confidenceOf(plain, JUST_VISIBLE);
    const measurements = {
      cutLength: { value: CELL_PX * extentOf(own, width), unit: 'px' },
      framesApart: { value: 100 * plain, unit: '% of full scale' },
    };
    return ghostOf(thing, width, { confidence, measurements, rms: plain });
  });
}

/** Gaps of so many cells in what two frames differ by: insides of even tone, which tell nothing. */
const EVEN_GAP = 3;

/**
 * What of a place, in which frames differ, those two differ by that are torn apart there: where only others differ, the merge shows what both
 * show, and nothing is wrong.
 */
function ofBoth({ cells }: Component, { torn, beside }: Tears, evidence: Evidence): Component[] {
  const { shown, not, likely, unlikely } = evidence.of(moments);
  const met = new Map<number, Set<number>>();
  for (const i of cells) if (torn[i]) met.set(shown[i]!, (met.get(shown[i]!) ?? new Set()).add(beside[i]!));
  if (met.size === 0) return [];
  const isOther = (frame: number, others: number): boolean =>
    [...(met.get(frame) ?? [])].some((other) => hasMoment(others, other - 1));
  const differ = cells.filter(
    (i) => torn[i] || isOther(shown[i]!, not[i]!) || (!shown[i] && isOther(likely[i]!, unlikely[i]!)),
  );
  const own = new Set(cells);
  const islands = findIslands(differ, evidence, { grow: EVEN_GAP, shrink: EVEN_GAP - 1, keep: (i) => own.has(i) });
  return islands.filter((part) => part.cells.some((i) => torn[i]));
}

/** Both sides of a tear that is wide are one thing. */
function joinSides(parts: readonly Component[], { across }: Tears, evidence: Evidence): Component[] {
  const partOf = new Map<number, number>();
  parts.forEach(({ cells }, n) => cells.forEach((i) => partOf.set(i, n)));
  const joined: (Component | null)[] = [...parts];
  const isIn = parts.map((_, n) => n);
  const root = (n: number): number => (isIn[n] === n ? n : root(isIn[n]!));
  for (const [from, part] of partOf) {
    const other = partOf.get(across[from]!);
    if (other === undefined || root(other) === root(part)) continue;
    const [kept, gone] = [root(part), root(other)];
    joined[kept] = bridged(joined[kept]!, joined[gone]!, evidence);
    joined[gone] = null;
    isIn[gone] = kept;
  }
  return joined.filter((part) => part !== null);
}

type GridSize = Pick<Mask, 'width' | 'height'>;

/** A tear through something large runs at least so many cells on … */
const LONG_TEAR = 20;
/** … and is looked for over gaps of so many; what is beside it by so much belongs to it. */
const [TEAR_GAP, BESIDE_TEAR] = [2, 5];

/** A tear through a thing is this share of its extent at least, or a long one: all else are single torn cells, here and there. */
const THROUGH = 0.2;
/** What is torn reaches as far around its tear as that is long, or so many cells: no tear stands for all that differs from there on. */
const LEAST_AROUND = 8;

/** What of a thing lies around its tears. */
function aroundTears(thing: Component, tear: Uint8Array, size: GridSize): Component[] {
  const { width } = size;
  const own = tearsOf(thing, tear, size);
  const whole = extentOf(thing.cells, width);
  const near = new Set<number>();
  for (const torn of own) {
    const extent = extentOf(torn, width);
    if (torn.length < LEAST_TEAR || extent < Math.min(LONG_TEAR, THROUGH * whole)) continue;
    const reach = Math.max(LEAST_AROUND, extent);
    const [xs, ys] = [torn.map((i) => i % width), torn.map((i) => Math.floor(i / width))];
    const [left, right] = [least(xs) - reach, most(xs) + reach];
    const [top, bottom] = [least(ys) - reach, most(ys) + reach];
    for (const i of thing.cells) {
      const [x, y] = [i % width, Math.floor(i / width)];
      if (x >= left && x <= right && y >= top && y <= bottom) near.add(i);
    }
  }
  return findIslands([...near], size);
}

/** The tears of a thing: torn cells that belong together. */
function tearsOf({ cells }: Component, tear: Uint8Array, size: GridSize): number[][] {
  const torn = cells.filter((i) => tear[i]);
  const own = new Set(torn);
  return findIslands(torn, size, { grow: TEAR_GAP }).map((c) => c.cells.filter((i) => own.has(i)));
}

const least = (values: readonly number[]): number => values.reduce((a, b) => Math.min(a, b));
const most = (values: readonly number[]): number => values.reduce((a, b) => Math.max(a, b));

/**
 * Long tears through something large, as regions around them: what moves all over the place (a curtain, the light of a sky) is cut where two
 * exposures meet, while leaves and water are torn here and there, nowhere for long.
 */
function longTears(thing: Component, tear: Uint8Array, size: GridSize): Component[] {
  const own = new Set(thing.cells);
  return tearsOf(thing, tear, size)
    .filter((torn) => extentOf(torn, size.width) >= LONG_TEAR)
    .flatMap((torn) => findIslands(torn, size, { grow: BESIDE_TEAR, keep: (i) => own.has(i) }));
}

interface Tears {
  /** Cells of both sides of tears. */
  readonly torn: Uint8Array;
  /** Frame that is shown on the other side of a torn cell's tear, plus 1; of one of them, where there are several. */
  readonly beside: Uint8Array;
  /** A cell across a tear that is wide; -1 for none. */
  readonly across: Int32Array;
}

function markTears(evidence: Evidence): Tears {
  const { width, height, facts } = evidence;
  const maps = evidence.of(moments);
  const { shown, not } = maps;
  // Views of a panorama differ by parallax beside every cut that is not told: there only what is near is believed.
  const reach = facts.kind === 'bracket' ? FAR_TEAR : TEAR_REACH;
  const [torn, beside] = [new Uint8Array(shown.length), new Uint8Array(shown.length)];
  const across = new Int32Array(shown.length).fill(-1);
  for (let i = 0; i < shown.length; i++) {
    if (!shown[i] || !not[i]) continue;
    const [x, y] = [i % width, Math.floor(i / width)];
    for (let dy = 0; dy <= reach; dy++) {
      for (let dx = dy === 0 ? 1 : -reach; dx <= reach; dx++) {
        if (x + dx < 0 || x + dx >= width || y + dy >= height) continue;
        const j = i + dy * width + dx;
        if (!shown[j] || shown[j] === shown[i]) continue;
        if (!hasMoment(not[i]!, shown[j]! - 1) || !hasMoment(not[j]!, shown[i]! - 1)) continue;
        const isNear = Math.max(Math.abs(dx), dy) <= TEAR_REACH;
        if (!isNear && !isUntold(maps, i, dx, dy, width)) continue;
        torn[i] = torn[j] = 1;
        beside[i] = shown[j]!;
        beside[j] = shown[i]!;
        if (isNear) continue;
        across[i] = j;
        across[j] = i;
      }
    }
  }
  return { torn, beside, across };
}

/**
 * Whether between two cells little is told, nothing of a third frame, and neither moment surely: where a cut is sharp, no window beside it shows one
 * frame.
 */
function isUntold({ shown, not }: MomentsMaps, from: number, dx: number, dy: number, width: number): boolean {
  const steps = Math.max(Math.abs(dx), dy);
  const [one, other] = [shown[from]!, shown[from + dy * width + dx]!];
  let untold = 0;
  for (let n = 1; n < steps; n++) {
    const i = from + Math.round((n * dy) / steps) * width + Math.round((n * dx) / steps);
    if (shown[i] === 0) untold += 1;
    else if (shown[i] === one ? hasMoment(not[i]!, other - 1) : shown[i] !== other || hasMoment(not[i]!, one - 1))
      return false;
  }
  return untold >= UNTOLD_SHARE * (steps - 1);
}

/** The longer side of the box around cells, cells; 0 for none. */
function extentOf(cells: readonly number[], width: number): number {
  if (cells.length === 0) return 0;
  const spread = (values: readonly number[]): number => most(values) - least(values) + 1;
  return Math.max(spread(cells.map((i) => i % width)), spread(cells.map((i) => Math.floor(i / width))));
}
