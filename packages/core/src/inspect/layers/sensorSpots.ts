// Layer: dark spots that stay on the sensor while the picture moves, and where the merge shows them.
import type { CellFrame, CellPicture } from '../../cells';
import { LUMA_WEIGHTS, median, robustDeviation, type Region } from '../../image';
import { CELL_PX } from '../../kernels';
import { explanation } from './explanation';
import { MERGE_KINDS, type Layer, type RegionView } from './layer';
import { lookForDips } from '../sensor/dipMaps';
import { spotsOnSensor, type SensorSpot } from '../sensor/spotsOnSensor';

export interface SpotMaps extends Readonly<Record<string, Uint8Array | Float32Array>> {
  /** Frame whose spot the merge shows, plus 1; 0 for none. */
  readonly frame: Uint8Array;
  /** What is missing there against what other frames show, as a share of the encoded value. */
  readonly dip: Float32Array;
}

export const sensorSpots: Layer<SpotMaps, null, null, readonly SensorSpot[]> = {
  name: 'sensorSpots',
  kinds: MERGE_KINDS,
  needs: [explanation],
  empty: (cells) => ({ frame: new Uint8Array(cells), dip: new Float32Array(cells) }),
  measure(view) {
    const { stack } = view;
    const maps = this.empty(stack.width * stack.height);
    for (const spot of view.survey(sensorSpots) ?? []) {
      spot.places.forEach((place, k) => {
        if (place) markSpot(view, spot, place, k, maps);
      });
      if (view.facts.kind === 'focus-stack') markPieces(view, spot, maps);
    }
    return { maps, samples: null };
  },
  calibrate: () => null,
  survey: { look: lookForDips, join: spotsOnSensor },
};

/** Least that is missing and shows, encoded: twice a just noticeable step in an even sky. */
const LEAST_DIP = 0.012;
/** The merge's dip is at least this share of the frames'. */
const LEAST_SHARE = 0.4;
/** What the scene may have too much of light at a speck, as a share of what the speck takes, where one frame at most tells the scene. */
const LONE_DOUBT = 0.25;
/** Cells of its disc that must show the frame. */
const SHOWN_SHARE = 0.5;
/** So many radii apart a frame's own spot does not reach a place. */
const APART = 2.5;
/** Share of an encoded value that is missing per share of light: light to the power of 0.45, over a disc with a soft rim. */
const ENCODED_PER_LIGHT = 0.4;

function markSpot(
  view: RegionView,
  spot: SensorSpot,
  [x, y]: readonly [number, number],
  k: number,
  maps: SpotMaps,
): void {
  const { stack } = view;
  const { region, width, height } = stack;
  const [cx, cy] = [(x - region.x) / CELL_PX - 0.5, (y - region.y) / CELL_PX - 0.5];
  const inner = Math.max(0.75, spot.radiusPx / CELL_PX);
  const outer = inner + 3;
  if (cx < -outer || cy < -outer || cx > width + outer || cy > height + outer) return;
  const disc: number[] = [];
  const ring: number[] = [];
  for (let j = Math.max(0, Math.ceil(cy - outer)); j <= Math.min(height - 1, cy + outer); j++) {
    for (let i = Math.max(0, Math.ceil(cx - outer)); i <= Math.min(width - 1, cx + outer); i++) {
      const r = Math.hypot(i - cx, j - cy);
      if (r <= inner) disc.push(j * width + i);
      else if (r > inner + 1) ring.push(j * width + i);
    }
  }
  if (disc.length === 0 || ring.length < 8) return;
  const { closest } = view.of(explanation);
  // Frames that hardly moved bring the speck to one place: which of them is shown is all one.
  const isShown = (c: number): boolean => !isApart(spot, closest[c]!, x, y, 1);
  const shown = disc.filter(isShown);
  if (shown.length < SHOWN_SHARE * disc.length) return;
  const expected = dipOf(stack.frames[k]!, disc, ring);
  const here = dipOf(stack.merge!, disc, ring);
  // What frames show here whose own spots lie elsewhere: the scene as it is.
  const others = stack.frames.flatMap((frame, l) =>
    l !== k && isWhole(frame, disc) && isWhole(frame, ring) && isApart(spot, l, x, y, APART)
      ? [dipOf(frame, disc, ring)]
      : [],
  );
  const own = ENCODED_PER_LIGHT * spot.depth;
  const scene = others.length > 0 ? median(others) : expected - own;
  // One frame may show something bright there by itself, and with none the scene is a guess: the merge must be darker there to be seen.
  const missing = Math.min(here - scene, others.length < 2 ? here + LONE_DOUBT * own : Infinity);
  if (missing < LEAST_DIP || missing < LEAST_SHARE * Math.max(own, expected - scene)) return;
  for (const c of shown) {
    maps.frame[c] = k + 1;
    maps.dip[c] = missing;
  }
}

/** Around a speck the frames must agree: between so many radii of it, and deviations of a mean by which it stands out from them. */
const [RING_FROM, RING_TO] = [1.5, 3];
const STANDS_OUT = 3;
const FEWEST_PIECES = 2;
const FEWEST_AROUND = 8;

/**
 * What a stack shows of a speck in pieces, as it takes neighbouring cells from frames that moved: cells that lie on the speck of the very frame they show,
 * held against the nearest frame in focus that has its own speck elsewhere.
 */
function markPieces(view: RegionView, spot: SensorSpot, maps: SpotMaps): void {
  const { region, width, height, frames, merge } = view.stack;
  const { closest } = view.of(explanation);
  const reach = RING_TO * spot.radiusPx;
  const near = cellsWithin(spot, reach, region, width, height);
  const on: { readonly cell: number; readonly missing: number }[] = [];
  const around: number[] = [];
  for (const cell of near) {
    const [x, y] = [region.x + ((cell % width) + 0.5) * CELL_PX, region.y + (Math.floor(cell / width) + 0.5) * CELL_PX];
    const shown = closest[cell]!;
    const place = spot.places[shown];
    const radii = place ? Math.hypot(place[0] - x, place[1] - y) / spot.radiusPx : Infinity;
    if (radii > RING_TO || (radii > 1 && radii < RING_FROM)) continue;
    const clean = frames
      .map((_, l) => l)
      .filter((l) => l !== shown && frames[l]!.valid[cell] && isApart(spot, l, x, y, RING_FROM))
      .sort((a, b) => Math.abs(a - shown) - Math.abs(b - shown))[0];
    const should = clean === undefined ? 0 : lumaOf(frames[clean]!, cell);
    if (should < DARKEST) continue;
    const missing = 1 - lumaOf(merge!, cell) / should;
    if (radii <= 1) on.push({ cell, missing });
    else around.push(missing);
  }
  if (on.length < FEWEST_PIECES || around.length < FEWEST_AROUND) return;
  const usual = median(around);
  const missing = median(on.map((o) => o.missing)) - usual;
  const deviation = robustDeviation(around) / Math.sqrt(on.length);
  const own = ENCODED_PER_LIGHT * spot.depth;
  if (missing < Math.max(LEAST_DIP, LEAST_SHARE * own, STANDS_OUT * deviation)) return;
  for (const o of on)
    if (o.missing - usual >= LEAST_SHARE * own) {
      maps.frame[o.cell] = closest[o.cell]! + 1;
      maps.dip[o.cell] = missing;
    }
}

/** Cells of a region that lie so near any of a speck's places. */
function cellsWithin(spot: SensorSpot, reach: number, region: Region, width: number, height: number): Set<number> {
  const cells = new Set<number>();
  for (const place of spot.places) {
    if (!place) continue;
    const [cx, cy] = [(place[0] - region.x) / CELL_PX - 0.5, (place[1] - region.y) / CELL_PX - 0.5];
    const r = reach / CELL_PX;
    for (let y = Math.max(0, Math.ceil(cy - r)); y <= Math.min(height - 1, cy + r); y++)
      for (let x = Math.max(0, Math.ceil(cx - r)); x <= Math.min(width - 1, cx + r); x++) cells.add(y * width + x);
  }
  return cells;
}

function lumaOf({ mean }: CellPicture, cell: number): number {
  return LUMA_WEIGHTS.reduce((sum, weight, c) => sum + weight * mean[c]![cell]!, 0);
}

function isWhole(frame: CellFrame, cells: readonly number[]): boolean {
  return cells.every((c) => frame.valid[c]);
}

/** Whether a frame has the same spot so many radii away, or not at all. */
function isApart(spot: SensorSpot, frame: number, x: number, y: number, radii: number): boolean {
  const place = spot.places[frame];
  return !place || Math.hypot(place[0] - x, place[1] - y) > radii * spot.radiusPx;
}

/** Darker surroundings than this, encoded, tell nothing. */
const DARKEST = 0.02;

/** How much darker a picture is in a disc than around it, as a share. */
function dipOf(picture: CellPicture, disc: readonly number[], ring: readonly number[]): number {
  const level = (cells: readonly number[]): number => cells.reduce((s, c) => s + lumaOf(picture, c), 0) / cells.length;
  const around = level(ring);
  return around > DARKEST ? 1 - level(disc) / around : 0;
}
