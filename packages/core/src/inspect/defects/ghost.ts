// ghost: something moved between the frames, and the merge shows it see-through, in pieces, or twice.
import { dilate, findComponents, median, type Component } from '../../image';
import { CELL_PX } from '../../kernels';
import { confidenceOf, JUST_VISIBLE, placeComponent, type Detection } from '../detection';
import type { Detector, Evidence } from '../detector';
import { agreement } from '../layers/agreement';
import { fading } from '../layers/fading';
import { MERGE_KINDS } from '../layers/layer';
import { hasMoment, moments } from '../layers/moments';
import { movement, SHOWN } from '../layers/movement';
import { DISAGREE, findStrangers } from '../strangers';

/** Things are smaller than this share of the picture; water, leaves and clouds are not things. */
const LARGEST_THING = 0.06;
/** Share of a thing that was found as a mixture already. */
const SAME_THING = 0.3;
/** Share of a mixture that lies within a thing which is cut. */
const MOSTLY = 0.5;

function findGhosts(evidence: Evidence): Detection[] {
  if (evidence.facts.kind === 'focus-stack') return findPieces(evidence);
  const mixed = findStrangers(evidence)
    .filter((s) => !s.framesAgree)
    .map((s): Detection => ({ defect: 'ghost', ...s.detection }));
  const faint = findFaint(evidence).filter((d) => !mixed.some((m) => shareOf(d, m) >= SAME_THING));
  return joinParts(findCuts(evidence), [...mixed, ...faint]);
}

/** Share of one detection's cells that another has. */
function shareOf({ cells }: Detection, { cells: others }: Detection): number {
  const known = new Set(others);
  return cells.filter((i) => known.has(i)).length / cells.length;
}

/** A mixture within a thing that is cut is a part of it; a thing much of which is a mixture is mixed, not cut besides. */
function joinParts(cuts: readonly Detection[], mixed: readonly Detection[]): Detection[] {
  const isPart = (m: Detection): boolean => cuts.some((cut) => shareOf(m, cut) >= MOSTLY);
  const apart = mixed.filter((m) => !isPart(m));
  const things = cuts.filter((cut) => apart.every((m) => shareOf(cut, m) < SAME_THING));
  return [...apart, ...things];
}

/** A cell of a thing is missing where the merge is farther from it than this share of what it stands out by. */
const MISSING = 0.6 * 255;
/** A thing is in pieces where this share of it is shown, and as much is not or only half, in so many cells each. */
const [LEAST_SHARE, LEAST_PIECE] = [0.2, 5];
/** So few cells are no thing: a speck on the sensor, a glint. */
const LEAST_THING = 14;
/** So many of its cells stand out plainly, encoded luma: edges that lie a px elsewhere in one frame do not. */
const [PLAIN_CELLS, PLAIN] = [6, 0.085];
/** Cells of one thing lie so near each other, and those of one that two frames show in two places. */
const [GAP, BESIDE] = [1, 2];

/**
 * Things that moved through a stack, of which the merge shows a part. A thing that is shown whole, or not at all, is none: one moment was
 * chosen.
 */
function findPieces(evidence: Evidence): Detection[] {
  const { width, height } = evidence;
  const { thing, missing, contrast } = evidence.of(movement);
  const torn = new Uint8Array(width * height);
  for (const frame of new Set(thing)) {
    if (frame === 0) continue;
    const own = Uint8Array.from(thing, (k) => (k === frame ? 1 : 0));
    for (const { cells } of findComponents(dilate({ width, height, data: own }, GAP)))
      if (isInPieces(evidence, cells.filter((i) => own[i]))) cells.forEach((i) => (torn[i] = 1)); // prettier-ignore
  }
  // What two frames show of one thing, side by side, is one ghost.
  const joined = dilate(dilate({ width, height, data: torn }, BESIDE), -BESIDE);
  return findComponents(joined).flatMap((component): Detection[] => {
    const cells = component.cells.filter((i) => torn[i] && thing[i]);
    const rms = Math.sqrt(meanOf(cells, (i) => (contrast[i]! * (missing[i]! / 255)) ** 2));
    const confidence = confidenceOf(rms, JUST_VISIBLE);
    if (confidence < 0.5) return [];
    return [
      {
        defect: 'ghost',
        cells: component.cells,
        ...placeComponent(component, width),
        confidence,
        measurements: {
          shownPart: { value: meanOf(cells, (i) => (missing[i]! < SHOWN ? 1 : 0)), unit: '1' },
          framesApart: { value: 100 * Math.sqrt(meanOf(cells, (i) => contrast[i]! ** 2)), unit: '% of full scale' },
        },
        rms,
      },
    ];
  });
}

/** Whether of one thing in one frame the merge shows a part, or all of it half. */
function isInPieces(evidence: Evidence, cells: readonly number[]): boolean {
  const { picture } = evidence;
  if (cells.length < LEAST_THING || cells.length > LARGEST_THING * picture.width * picture.height) return false;
  const { missing, contrast } = evidence.of(movement);
  if (cells.filter((i) => contrast[i]! > PLAIN).length < PLAIN_CELLS) return false;
  const shown = cells.filter((i) => missing[i]! < SHOWN).length;
  const gone = cells.filter((i) => missing[i]! > MISSING).length;
  const half = cells.length - shown - gone;
  const least = Math.max(LEAST_PIECE, LEAST_SHARE * cells.length);
  return (shown >= least && gone >= least) || half >= Math.max(LEAST_PIECE, 2 * LEAST_SHARE * cells.length);
}

/** Forms are faint that keep less than this share of what is usual; a thing is a mixture where half of it keeps less than the other. */
const [FAINT, HALF_OF_IT] = [0.7, 0.55];
/** A mixture of two moments has so many cells … */
const LEAST_FAINT = 24;
/** … and lacks so much of what it would stand out by. */
const LACKING = 1.5 * JUST_VISIBLE;

/** Things that are shown whole but fainter than their frame has them, on ground that the frames do not agree on: mixed with another moment. */
function findFaint(evidence: Evidence): Detection[] {
  const { width, height, facts } = evidence;
  // A bracket is toned from place to place: there less of a form is nothing by itself.
  const { usual } = facts.kind === 'panorama' ? evidence.yardstick(fading) : { usual: null };
  if (!usual) return [];
  const { gain, form } = evidence.of(fading);
  const { apart, apartOverNoise } = evidence.of(agreement);
  const lacking = (i: number): number => (usual.gain - gain[i]!) * form[i]!;
  const faint = Uint8Array.from(gain, (g, i) =>
    g > 0 &&
    g < FAINT * usual.gain &&
    lacking(i) > JUST_VISIBLE &&
    apart[i]! > JUST_VISIBLE &&
    apartOverNoise[i]! > DISAGREE
      ? 1
      : 0,
  );
  const closed = dilate(dilate({ width, height, data: faint }, 1), -1);
  return findComponents(closed).flatMap((component): Detection[] => {
    const cells = component.cells.filter((i) => faint[i]);
    if (cells.length < LEAST_FAINT) return [];
    const kept = median(cells.map((i) => gain[i]! / usual.gain));
    const rms = median(cells.map(lacking));
    const confidence = Math.min(confidenceOf(1 - kept, 1 - HALF_OF_IT), confidenceOf(rms, LACKING));
    if (confidence < 0.5) return [];
    return [
      {
        defect: 'ghost',
        cells: component.cells,
        ...placeComponent(component, width),
        confidence,
        measurements: {
          shownStrength: { value: kept, unit: '1' },
          framesApart: { value: 100 * median(cells.map((i) => apart[i]!)), unit: '% of full scale' },
        },
        rms,
      },
    ];
  });
}

function meanOf(cells: readonly number[], value: (cell: number) => number): number {
  return cells.reduce((sum, i) => sum + value(i), 0) / Math.max(1, cells.length);
}

/** Both sides of a tear lie within so many cells of each other … */
const TEAR_REACH = 4;
/** … or farther apart, if nothing is told between them … */
const FAR_TEAR = 7;
/** … in so many cells at least. */
const LEAST_TEAR = 6;

/**
 * Places where the merge surely shows one frame and not another, right beside places where it shows the other and not the one. Tones are
 * equalised place by place: exposures differ by more than what moves does.
 */
function findCuts(evidence: Evidence): Detection[] {
  const { width, height, picture } = evidence;
  const tear = markTears(evidence);
  const { apart, apartOverNoise } = evidence.of(agreement);
  const moves = Uint8Array.from(apart, (v, i) =>
    tear[i] || (v > JUST_VISIBLE && apartOverNoise[i]! > DISAGREE) ? 1 : 0,
  );
  const closed = dilate(dilate({ width, height, data: moves }, 1), -1);
  const things = findComponents(closed).flatMap((thing) =>
    thing.cells.length <= LARGEST_THING * picture.width * picture.height
      ? aroundTears(thing, tear, width, height)
      : longTears(thing, tear, width, height),
  );
  return things.flatMap((thing): Detection[] => {
    const torn = thing.cells.filter((i) => tear[i]);
    if (torn.length < LEAST_TEAR) return [];
    const plain = Math.sqrt(torn.reduce((s, i) => s + apart[i]! ** 2, 0) / torn.length);
    const confidence = confidenceOf(plain, JUST_VISIBLE);
    if (confidence < 0.5) return [];
    return [
      {
        defect: 'ghost',
        cells: thing.cells,
        ...placeComponent(thing, width),
        confidence,
        measurements: {
          cutLength: { value: CELL_PX * extentOf(torn, width), unit: 'px' },
          framesApart: { value: 100 * plain, unit: '% of full scale' },
        },
        rms: plain,
      },
    ];
  });
}

/** A tear through something large runs at least so many cells on … */
const LONG_TEAR = 20;
/** … and is looked for over gaps of so many; what is beside it by so much belongs to it. */
const [TEAR_GAP, BESIDE_TEAR] = [2, 5];

/** A tear through a thing is this share of its extent at least, or a long one: all else are single torn cells, here and there. */
const THROUGH = 0.2;
/** What is torn reaches as far around its tear as that is long, or so many cells: no tear stands for all that differs from there on. */
const LEAST_AROUND = 8;

/** What of a thing lies around its tears. */
function aroundTears(thing: Component, tear: Uint8Array, width: number, height: number): Component[] {
  const own = tearsOf(thing, tear, width, height);
  const whole = extentOf(thing.cells, width);
  const near = new Uint8Array(width * height);
  for (const torn of own) {
    const extent = extentOf(torn, width);
    if (torn.length < LEAST_TEAR || extent < Math.min(LONG_TEAR, THROUGH * whole)) continue;
    const reach = Math.max(LEAST_AROUND, extent);
    const [xs, ys] = [torn.map((i) => i % width), torn.map((i) => Math.floor(i / width))];
    const [left, right] = [least(xs) - reach, most(xs) + reach];
    const [top, bottom] = [least(ys) - reach, most(ys) + reach];
    for (const i of thing.cells) {
      const [x, y] = [i % width, Math.floor(i / width)];
      if (x >= left && x <= right && y >= top && y <= bottom) near[i] = 1;
    }
  }
  return findComponents({ width, height, data: near });
}

/** The tears of a thing: torn cells that belong together. */
function tearsOf({ cells }: Component, tear: Uint8Array, width: number, height: number): number[][] {
  const data = new Uint8Array(width * height);
  for (const i of cells) data[i] = tear[i]!;
  return findComponents(dilate({ width, height, data }, TEAR_GAP)).map((c) => c.cells.filter((i) => data[i]));
}

const least = (values: readonly number[]): number => values.reduce((a, b) => Math.min(a, b));
const most = (values: readonly number[]): number => values.reduce((a, b) => Math.max(a, b));

/**
 * Long tears through something large, as regions around them: what moves all over the place (a curtain, the light of a sky) is cut where two
 * exposures meet, while leaves and water are torn here and there, nowhere for long.
 */
function longTears(thing: Component, tear: Uint8Array, width: number, height: number): Component[] {
  const own = new Set(thing.cells);
  return tearsOf(thing, tear, width, height)
    .filter((torn) => extentOf(torn, width) >= LONG_TEAR)
    .flatMap((torn) => {
      const around = new Uint8Array(width * height);
      for (const i of torn) around[i] = 1;
      const beside = dilate({ width, height, data: around }, BESIDE_TEAR).data.map((v, i) => (v && own.has(i) ? 1 : 0));
      return findComponents({ width, height, data: beside });
    });
}

/** Cells of both sides of tears. */
function markTears(evidence: Evidence): Uint8Array {
  const { width, height, facts } = evidence;
  const { shown, not } = evidence.of(moments);
  // Views of a panorama differ by parallax beside every cut that is not told: there only what is near is believed.
  const reach = facts.kind === 'bracket' ? FAR_TEAR : TEAR_REACH;
  const tear = new Uint8Array(shown.length);
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
        if (isNear || isUntold(shown, i, dx, dy, width)) tear[i] = tear[j] = 1;
      }
    }
  }
  return tear;
}

/** Whether between two cells nothing is told: where a cut is sharp, no window beside it shows one frame. */
function isUntold(shown: Uint8Array, from: number, dx: number, dy: number, width: number): boolean {
  const steps = Math.max(Math.abs(dx), dy);
  for (let n = 1; n < steps; n++)
    if (shown[from + Math.round((n * dy) / steps) * width + Math.round((n * dx) / steps)]) return false;
  return true;
}

/** The longer side of the box around cells, cells; 0 for none. */
function extentOf(cells: readonly number[], width: number): number {
  if (cells.length === 0) return 0;
  const spread = (values: readonly number[]): number => most(values) - least(values) + 1;
  return Math.max(spread(cells.map((i) => i % width)), spread(cells.map((i) => Math.floor(i / width))));
}

export const ghost: Detector = {
  defect: 'ghost',
  kinds: MERGE_KINDS,
  layers: [agreement, fading, moments, movement],
  find: findGhosts,
  donorBy: 'moment',
  cause: ({ measurements, shown, donor }) => {
    const moved = 'Something moved between the frames, and the merge';
    if (measurements['shownPart'])
      return `${moved} shows a part of it, most of that from ${shown}; the rest is from another moment. ${donor} has one moment of it.`;
    if (measurements['cutLength'])
      return `${moved} cuts through it: one part is from ${shown}, the rest from another frame. ${donor} has it whole.`;
    return `${moved} mixes them: no frame shows it like this. ${donor} has one moment of it.`;
  },
  advice: 'Paint the whole thing from one frame, with a border where the frames agree.',
};
