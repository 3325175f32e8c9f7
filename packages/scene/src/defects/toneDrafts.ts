// Drafts that show the wrong tone: steps along a line, glow around a bright window, clipped patches.
import { smooth } from '../world/layer';
import { between } from '../world/random';
import { forNear, type CellGrid } from './cells';
import { CLIPPED_SHARE } from './cleanLabels';
import { claim, covering, tryBlobs, type Draft, type Scout } from './draft';
import { MIN_CELLS } from './fault';
import { shotOf } from './placeFrame';
import type { Recipe } from './recipe';

/** A step of exposure or colour along a mask's edge, or along the border between two frames of a panorama. */
export function seamDraft(scout: Scout): Draft | null {
  const { random, strength } = scout;
  const size = strength >= 1 ? between(random, 0.12, 0.22) : between(random, 0.06, 0.09);
  const sign = random() < 0.5 ? -1 : 1;
  // A third of the steps is one of colour: warmer or cooler, hardly lighter.
  const tint = random() < 0.33 ? ([1, 0.2, -1] as const) : ([1, 1, 1] as const);
  const gains = tint.map((t) => 1 + sign * size * t);
  return scout.survey.plan.kind === 'panorama' ? borderSeam(scout, gains) : patchSeam(scout, gains);
}

function patchSeam(scout: Scout, gains: readonly number[]): Draft | null {
  const { survey, clean } = scout;
  return tryBlobs(scout, [0.07, 0.13], (cells) => {
    const inside = new Set(cells);
    const rim = rimOf(survey.grid, inside, 3);
    if (rim.length < MIN_CELLS) return null;
    return {
      defect: 'seam',
      cells: rim,
      shown: [...new Set(rim.map((c) => clean[c]!))],
      donors: 'covering',
      donorOptional: true,
      apply: (recipe) => scale(recipe, cells, () => 1, gains),
    };
  });
}

/** Cells inside a set that lie within `reach` cells of its outside. */
function rimOf(grid: CellGrid, inside: ReadonlySet<number>, reach: number): number[] {
  return [...inside].filter((c) => {
    let edge = false;
    forNear(grid, c, reach, (near) => (edge ||= !inside.has(near)));
    return edge;
  });
}

/** Light of cells multiplied by gains, in full or by a share. */
function scale(
  recipe: Recipe,
  cells: Iterable<number>,
  share: (cell: number) => number,
  gains: readonly number[],
): void {
  for (const c of cells) for (let k = 0; k < 3; k++) recipe.gain[k]![c] = 1 + (gains[k]! - 1) * share(c);
}

const SEAM_TRIES = 60;

/** One frame too bright along its border with a neighbour; the error fades away from the border, as drift does. */
function borderSeam(scout: Scout, gains: readonly number[]): Draft | null {
  const { survey, clean, random, taken } = scout;
  const { grid } = survey;
  const border: number[] = [];
  for (let c = 0; c < clean.length; c++) {
    if (c % grid.width < grid.width - 1 && clean[c] !== clean[c + 1]) border.push(c);
    else if (c + grid.width < clean.length && clean[c] !== clean[c + grid.width]) border.push(c);
  }
  const onBorder = new Set(border);
  const reach = Math.round(Math.min(grid.width, grid.height) * between(random, 0.1, 0.2));
  for (let t = 0; t < SEAM_TRIES && border.length > 0; t++) {
    const start = border[Math.floor(random() * border.length)]!;
    const frame = clean[start]!;
    const near: number[] = [];
    forNear(grid, start, reach, (c) => near.push(c));
    const edge = near.filter((c) => onBorder.has(c) || onBorder.has(c - 1) || onBorder.has(c - grid.width));
    const cells = edge.filter((c) => !taken[c]);
    if (cells.length < MIN_CELLS || !claim(scout, cells)) continue;
    const distance = distances(grid, edge, reach);
    return {
      defect: 'seam',
      cells: near.filter((c) => (distance.get(c) ?? 99) <= 3 && clean[c] === frame),
      shown: [...new Set(cells.map((c) => clean[c]!))],
      donors: 'covering',
      donorOptional: true,
      apply(recipe) {
        const own = near.filter((c) => clean[c] === frame && distance.has(c));
        const away = (c: number): number =>
          Math.hypot(
            (c % grid.width) - (start % grid.width),
            Math.floor(c / grid.width) - Math.floor(start / grid.width),
          );
        const along = (c: number): number => smooth(reach, 0.5 * reach, away(c));
        scale(recipe, own, (c) => Math.max(0, 1 - distance.get(c)! / reach) * along(c), gains);
      },
    };
  }
  return null;
}

/** Steps from the nearest of the starting cells, breadth first, up to a reach. */
function distances(grid: CellGrid, from: readonly number[], reach: number): Map<number, number> {
  const out = new Map(from.map((c) => [c, 0]));
  let front = [...from];
  for (let d = 1; d <= reach; d++) {
    const next: number[] = [];
    for (const c of front) {
      forNear(grid, c, 1, (near) => {
        if (out.has(near)) return;
        out.set(near, d);
        next.push(near);
      });
    }
    front = next;
  }
  return out;
}

/** Tone overshoot of a bracket's blend: light or dark that bleeds from a bright opening into the room around it. */
export function overshootDraft(scout: Scout): Draft | null {
  const { survey, clean, random, strength } = scout;
  const { plan, grid, clipped } = survey;
  if (plan.kind !== 'bracket') return null;
  // Bright is what the middle exposure burns: the openings, not the patches of light on the floor.
  const middle = middleExposure(scout);
  const lift = strength >= 1 ? between(random, 0.9, 1.6) : between(random, 0.35, 0.6);
  const reach = Math.round(Math.min(grid.width, grid.height) * between(random, 0.04, 0.07));
  return tryBlobs(scout, [0.1, 0.18], (cells) => {
    const bright = cells.filter((c) => clipped[middle]![c]! > 0.5);
    const room = cells.filter((c) => clipped[middle]![c]! <= CLIPPED_SHARE);
    if (bright.length < MIN_CELLS * 2 || room.length < MIN_CELLS * 4) return null;
    const distance = distances(grid, bright, reach);
    const glow = room.filter((c) => distance.has(c));
    if (glow.length < MIN_CELLS * 2) return null;
    return {
      defect: 'halo',
      cells: glow,
      shown: [...new Set(glow.map((c) => clean[c]!))],
      donors: 'covering',
      donorOptional: true,
      apply: (recipe) =>
        scale(recipe, glow, (c) => Math.exp((-2.5 * distance.get(c)!) / reach), [1 + lift, 1 + lift, 1 + lift]),
    };
  });
}

function middleExposure({ survey: { plan } }: Scout): number {
  const order = plan.frames.map((_, k) => k).sort((a, b) => shotOf(plan, a).gain - shotOf(plan, b).gain);
  return order[order.length >> 1]!;
}

/** A patch of a bright window from an exposure that is clipped there, although a shorter one has the detail. */
export function clippedDraft(scout: Scout): Draft | null {
  const { survey, clean } = scout;
  const { clipped, plan } = survey;
  if (plan.kind !== 'bracket') return null;
  return tryBlobs(scout, [0.03, 0.07], (cells) => {
    if (cells.some((c) => clipped[clean[c]!]![c]! > CLIPPED_SHARE)) return null;
    // The next longer exposure is the likeliest mistake.
    const shown = covering(survey, cells)
      .filter((k) => cells.filter((c) => clipped[k]![c]! > 0.5).length > cells.length * 0.6)
      .sort((a, b) => shotOf(plan, a).gain - shotOf(plan, b).gain)[0];
    if (shown === undefined) return null;
    return {
      defect: 'clipping',
      cells,
      shown: [shown],
      donors: 'best',
      donorOptional: false,
      apply(recipe) {
        for (const c of cells) recipe.labels[c] = shown;
      },
    };
  });
}
