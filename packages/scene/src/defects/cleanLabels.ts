// Which frame a careful merge takes where: the sharpest, the nearest in view, or the brightest that is not clipped.
import { castRow, makeRayRow } from '../optics/view';
import { projectRay } from '../optics/view';
import { CELL, groups, majority } from './cells';
import { shotOf } from './placeFrame';
import { blurRadiusPx } from '../shoot/planSet';
import { cellBlurPx, type Survey } from './survey';

// A moving thing is there where it covers more than this of a cell.
const THERE = 0.04;
/** Share of full pixels above which an exposure counts as clipped in a cell. */
export const CLIPPED_SHARE = 0.02;

/** Connected places where something moves, each with the frames that show it whole. */
export interface MotionZone {
  readonly cells: readonly number[];
  /** Delivered frames that cover the whole zone. */
  readonly whole: readonly number[];
}

/** Finds where things are in one frame and not, or differently, in another. */
export function motionZones(survey: Survey): MotionZone[] {
  const { grid, moving, covers } = survey;
  const mask = new Uint8Array(grid.width * grid.height);
  for (const m of moving) for (let i = 0; i < mask.length; i++) if (m[i]! > THERE) mask[i] = 1;
  return groups(mask, grid, 2).map((cells) => ({
    cells,
    whole: covers.flatMap((c, k) => (cells.every((i) => c[i]) ? [k] : [])),
  }));
}

/** Labels of a merge without faults; a zone in which things move comes from one frame if one shows it whole. */
export function cleanLabels(survey: Survey, zones: readonly MotionZone[]): Uint8Array {
  const { plan } = survey;
  const raw =
    plan.kind === 'focus-stack' ? sharpest(survey) : plan.kind === 'bracket' ? brightest(survey) : nearestView(survey);
  const labels = majority(majority(raw, survey.grid), survey.grid);
  if (plan.kind === 'bracket') keepUnburnt(labels, raw, survey);
  for (const zone of zones) {
    if (zone.whole.length === 0) continue;
    const best = zone.whole.reduce((a, b) => (zoneCost(survey, zone, b) < zoneCost(survey, zone, a) ? b : a));
    for (const c of zone.cells) labels[c] = best;
  }
  return labels;
}

/** Squared error that a px of blur makes of a thing, about. */
const BLUR_COST = 3e-4;

/**
 * How badly a frame would do for a zone: its error where nothing moves at that time, what is clipped in it, and how far out of focus the
 * thing itself is.
 */
function zoneCost(survey: Survey, zone: MotionZone, frame: number): number {
  const { plan, errors, moving, clipped, thingMm } = survey;
  let [sum, n] = [0, 1];
  for (const c of zone.cells) {
    sum += clipped[frame]![c]! * 0.2;
    if (thingMm[c]) sum += BLUR_COST * blurRadiusPx(shotOf(plan, frame), thingMm[c]) ** 2;
    if (moving.some((m) => m[c]! > THERE)) continue;
    sum += errors[frame]![c]!;
    n++;
  }
  return sum / n;
}

// The noise of a cell's error lets two equal frames differ by about a tenth; three times that is a difference.
const SURELY_BETTER = 1.35;

/**
 * The frame focused nearest to the depth, unless another is better beyond the noise: beside near edges the frame focused
 * there shows a glow. In plain places noise alone would choose, and crumble the mask.
 */
function sharpest(survey: Survey): Uint8Array {
  const { errors, covers, grid } = survey;
  const labels = new Uint8Array(grid.width * grid.height);
  for (let i = 0; i < labels.length; i++) {
    let least = -1;
    let focused = -1;
    let blur = Infinity;
    for (let k = 0; k < errors.length; k++) {
      if (!covers[k]![i]) continue;
      if (least < 0 || errors[k]![i]! < errors[least]![i]!) least = k;
      const own = cellBlurPx(survey, k, i);
      if (own < blur) [focused, blur] = [k, own];
    }
    if (least < 0) continue;
    labels[i] = errors[focused]![i]! <= errors[least]![i]! * SURELY_BETTER ? focused : least;
  }
  return labels;
}

/** The longest exposure that is clipped neither there nor beside it: labels fade into each other over a cell. */
function brightest(survey: Survey): Uint8Array {
  const { covers, plan, grid } = survey;
  const order = plan.frames.map((_, k) => k).sort((a, b) => shotOf(plan, b).gain - shotOf(plan, a).gain);
  const labels = new Uint8Array(grid.width * grid.height);
  for (let i = 0; i < labels.length; i++)
    labels[i] = order.find((k) => covers[k]![i] && !isBurnt(survey, k, i)) ?? order[order.length - 1]!;
  return labels;
}

/** Smoothing took thin bright things into the label around them, in which they are burnt: they keep their own. */
function keepUnburnt(labels: Uint8Array, raw: Uint8Array, survey: Survey): void {
  for (let i = 0; i < labels.length; i++) if (isBurnt(survey, labels[i]!, i)) labels[i] = raw[i]!;
}

/** Whether a frame is clipped in a cell or one that touches it. */
function isBurnt({ clipped, grid }: Survey, frame: number, cell: number): boolean {
  const [x, y] = [cell % grid.width, Math.floor(cell / grid.width)];
  for (let cy = Math.max(0, y - 1); cy <= Math.min(grid.height - 1, y + 1); cy++)
    for (let cx = Math.max(0, x - 1); cx <= Math.min(grid.width - 1, x + 1); cx++)
      if (clipped[frame]![cy * grid.width + cx]! > CLIPPED_SHARE) return true;
  return false;
}

/** A frame shaken over so many px is only taken where no other covers. */
const SHAKEN_PX = 1.5;
const LAST_RESORT = 1e6;

/** Labels fade into each other over a cell: a frame is taken where it covers what is around a cell, too. */
const RIM_CELLS = 2;

function coversAround(covers: Uint8Array, { width, height }: Survey['grid'], x: number, y: number): boolean {
  for (const dy of [-RIM_CELLS, 0, RIM_CELLS])
    for (const dx of [-RIM_CELLS, 0, RIM_CELLS]) {
      const [u, v] = [Math.min(width - 1, Math.max(0, x + dx)), Math.min(height - 1, Math.max(0, y + dy))];
      if (!covers[v * width + u]) return false;
    }
  return true;
}

/** The frame in whose middle a cell lies: seams run where neighbours are equally far from their rims. */
function nearestView({ covers, plan, grid }: Survey): Uint8Array {
  const labels = new Uint8Array(grid.width * grid.height);
  const rays = makeRayRow(grid.width);
  for (let y = 0; y < grid.height; y++) {
    castRow(plan.canvas, y * CELL + CELL / 2, 0, CELL, grid.width, rays);
    for (let x = 0; x < grid.width; x++) {
      const i = y * grid.width + x;
      let best = -1;
      let room = -Infinity;
      for (let k = 0; k < plan.frames.length; k++) {
        const { view, shakePx } = shotOf(plan, k);
        const at = projectRay(view, rays.x[x]!, rays.y[x]!, rays.z[x]!);
        if (!at) continue;
        // Whoever covers a cell comes before whoever does not, and who was held still before who was shaken.
        const aside =
          (coversAround(covers[k]!, grid, x, y) ? 0 : 2 * LAST_RESORT) +
          (Math.hypot(...shakePx) > SHAKEN_PX ? LAST_RESORT : 0);
        const own = Math.min(at[0], view.width - at[0], at[1], view.height - at[1]) - aside;
        if (own > room) [best, room] = [k, own];
      }
      labels[i] = Math.max(0, best);
    }
  }
  return labels;
}
