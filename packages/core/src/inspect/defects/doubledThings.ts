// Ghosts that are doubled: the merge shows one thing in two places, each time from the frame in which it was there.
import { dilate, findComponents, quantile, tentSmooth, type Component, type Region } from '../../image';
import { CELL_PX } from '../../kernels';
import { confidenceOf, JUST_VISIBLE, type Detection } from '../detection';
import type { Evidence } from '../detector';
import { agreement } from '../layers/agreement';
import { hasMoment, moments } from '../layers/moments';
import { rim } from '../layers/rim';
import { DISAGREE } from '../strangers';
import { bridged, ghostOf, LARGEST_THING, middleOf } from './movedThing';

/** Cells of a thing at least: what is smaller looks like much else. */
const LEAST_THING = 30;
/** Share of a thing's cells at which the merge is surely not the frame that shows it in the other place. */
const MOSTLY_NOT = 0.6;
/** Two places of one thing lie within so many times its extent of each other. */
const FARTHEST = 8;
/** More things than these beside each other are leaves, waves, a crowd: alike without being the same. */
const MOST_BESIDE = 8;
/** One thing covers itself by this share of both of its outlines … */
const SAME_SHAPE = 0.5;
/** … and differs from itself by no more than this share of what it stands out by, in this share of its cells: the ground around it differs. */
const [SAME_LOOK, MOST_CELLS] = [0.45, 0.65];
/** Something stands out from the ground around it by this share of what the frames differ by there. */
const STANDS_OUT = 0.5;
/** Cells around a thing that are its ground. */
const AROUND = 3;
/** So many of its cells say what a thing looks like. */
const ENOUGH_CELLS = 400;

/** A place where the merge surely shows one frame, and not others. */
interface Moment extends Component {
  /** What the merge shows there departs from the ground around it by this RMS, encoded luma; told a little blurred, too. */
  readonly out: number;
  readonly outBlurred: number;
  /** Index of the frame. */
  readonly frame: number;
  /** RMS by which frames differ there, encoded luma. */
  readonly apart: number;
}

/**
 * Pairs of places, one shown from one frame and one from another, neither of which has at the other's place what is shown there, that look
 * the same.
 */
export function findDoubles(evidence: Evidence): Detection[] {
  const { width, height } = evidence;
  // Places lie on each other to a fraction of a cell: fine texture is compared a little blurred.
  const blurred = tentSmooth({ width, height, data: evidence.of(rim).level }, 1).data;
  const all = findMoments(evidence, blurred);
  const found = all.filter(({ box }) => all.filter((other) => isNear(other.box, box, box)).length <= MOST_BESIDE);
  const taken = new Set<Moment>();
  return found.flatMap((one): Detection[] => {
    if (taken.has(one)) return [];
    const twin = found.find(
      (other) => !taken.has(other) && other.frame > one.frame && isTwin(evidence, blurred, all, one, other),
    );
    if (!twin) return [];
    taken.add(one).add(twin);
    const rms = Math.min(one.apart, twin.apart);
    const measurements = {
      distance: { value: CELL_PX * Math.hypot(...between(one, twin)), unit: 'px' },
      framesApart: { value: 100 * rms, unit: '% of full scale' },
    };
    return ghostOf(bridged(one, twin, evidence), width, {
      confidence: confidenceOf(rms, JUST_VISIBLE),
      measurements,
      rms,
    });
  });
}

function findMoments(evidence: Evidence, blurred: Float32Array): Moment[] {
  const { width, height, picture } = evidence;
  const { shown, not } = evidence.of(moments);
  const { apart, apartOverNoise } = evidence.of(agreement);
  const { level } = evidence.of(rim);
  const differs = (i: number): boolean => not[i]! > 0 && apart[i]! > JUST_VISIBLE && apartOverNoise[i]! > DISAGREE;
  return [...new Set(shown)].flatMap((label): Moment[] => {
    if (label === 0) return [];
    const data = Uint8Array.from(shown, (v, i) => (v === label && differs(i) ? 1 : 0));
    if (data.reduce((sum, v) => sum + v, 0) < LEAST_THING) return [];
    return findComponents(dilate(dilate({ width, height, data }, 1), -1)).flatMap((component): Moment[] => {
      const { length } = component.cells;
      if (length < LEAST_THING || length > LARGEST_THING * picture.width * picture.height) return [];
      const sum = component.cells.reduce((s, i) => s + apart[i]! ** 2, 0);
      const out = departure(component, level, evidence);
      const outBlurred = departure(component, blurred, evidence);
      return [{ ...component, frame: label - 1, apart: Math.sqrt(sum / length), out, outBlurred }];
    });
  });
}

function isTwin(
  evidence: Evidence,
  blurred: Float32Array,
  all: readonly Moment[],
  one: Moment,
  other: Moment,
): boolean {
  const { not } = evidence.of(moments);
  const isNot = ({ cells }: Moment, { frame }: Moment): boolean =>
    cells.filter((i) => hasMoment(not[i]!, frame)).length >= MOSTLY_NOT * cells.length;
  return (
    Math.hypot(...between(one, other)) <= FARTHEST * Math.max(extentOf(one), extentOf(other)) &&
    isNot(one, other) &&
    isNot(other, one) &&
    all.filter((third) => isNear(third.box, one.box, other.box)).length <= MOST_BESIDE &&
    // What does not differ from the ground is the ground, from which something is gone.
    one.out >= STANDS_OUT * one.apart &&
    other.out >= STANDS_OUT * other.apart &&
    looksAlike(evidence, blurred, one, other)
  );
}

const extentOf = ({ box }: Component): number => Math.max(box.width, box.height);

function between(one: Component, other: Component): [number, number] {
  const [a, b] = [middleOf(one), middleOf(other)];
  return [b[0] - a[0], b[1] - a[1]];
}

/** Whether a box lies within an extent of the one around two others. */
function isNear(box: Region, a: Region, b: Region): boolean {
  const reach = Math.max(a.width, a.height, b.width, b.height);
  return (
    box.x < Math.max(a.x + a.width, b.x + b.width) + reach &&
    box.x + box.width > Math.min(a.x, b.x) - reach &&
    box.y < Math.max(a.y + a.height, b.y + b.height) + reach &&
    box.y + box.height > Math.min(a.y, b.y) - reach
  );
}

/** RMS by which a place departs from the ground around it; 0 where it has none. */
function departure({ cells, box }: Component, level: Float32Array, { width, height }: Evidence): number {
  // On a grid of its own: pictures are large, things are small.
  const [left, top] = [box.x - AROUND, box.y - AROUND];
  const own = { width: box.width + 2 * AROUND, height: box.height + 2 * AROUND };
  const data = new Uint8Array(own.width * own.height);
  for (const i of cells) data[(Math.floor(i / width) - top) * own.width + (i % width) - left] = 1;
  const wide = dilate({ ...own, data }, AROUND).data;
  const ground: number[] = [];
  for (let n = 0; n < data.length; n++) {
    const [x, y] = [left + (n % own.width), top + Math.floor(n / own.width)];
    if (wide[n] && !data[n] && x >= 0 && x < width && y >= 0 && y < height) ground.push(level[y * width + x]!);
  }
  if (ground.length === 0) return 0;
  const mean = ground.reduce((s, v) => s + v, 0) / ground.length;
  return Math.sqrt(cells.reduce((s, i) => s + (level[i]! - mean) ** 2, 0) / cells.length);
}

/** Whether two places look the same somewhere upon each other. */
function looksAlike({ width, height }: Evidence, level: Float32Array, one: Moment, other: Moment): boolean {
  const [small, large] = one.cells.length <= other.cells.length ? [one, other] : [other, one];
  if (small.cells.length < SAME_SHAPE * large.cells.length) return false;
  const there = new Set(large.cells);
  const every = Math.max(1, Math.floor(small.cells.length / ENOUGH_CELLS));
  const cells = small.cells.filter((_, n) => n % every === 0);
  const [mx, my] = between(small, large).map(Math.round) as [number, number];
  const reach = Math.max(2, Math.ceil(extentOf(small) / 3));
  const limit = SAME_LOOK * Math.min(one.outBlurred, other.outBlurred);
  for (let dy = my - reach; dy <= my + reach; dy++)
    for (let dx = mx - reach; dx <= mx + reach; dx++) {
      const off: number[] = [];
      for (const i of cells) {
        const [x, y] = [(i % width) + dx, Math.floor(i / width) + dy];
        const j = y * width + x;
        if (x < 0 || x >= width || y < 0 || y >= height || !there.has(j)) continue;
        off.push(Math.abs(level[i]! - level[j]!));
      }
      const shared = off.length * every;
      if (shared < SAME_SHAPE * (small.cells.length + large.cells.length - shared)) continue;
      if (quantile(off, MOST_CELLS) <= limit) return true;
    }
  return false;
}
