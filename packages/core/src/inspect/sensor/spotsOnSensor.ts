// Dark spots that all frames have at one place of the sensor while the picture moves on it.
import type { WorkingPx } from '../../cells';
import { frameToMerge, type FrameGeometry } from '../../frame';
import { median, type Plane } from '../../image';
import type { SizedGeometry } from '../layers/layer';
import { STEPS, type DipMap, type FrameDips } from './dipMaps';
import { stayingAt, type PlacedDips, type Staying } from './staysPut';

/** A spot on the sensor, and where each frame brings it in the merge. */
export interface SensorSpot {
  /** Its middle on the sensor, full-size px of a frame. */
  readonly sensor: readonly [number, number];
  /** Radius in the merge, working px. */
  readonly radiusPx: number;
  /** Share of light it takes away in its middle. */
  readonly depth: number;
  /** Place in the merge per frame, working px; null where the merge does not show it. */
  readonly places: readonly (readonly [number, number] | null)[];
}

/** A place may be a speck where the frames' dips together stand so many deviations of what is about them above nothing. */
const PERHAPS = 1.5;
/** By so many they are one, if nothing of the scene was seen twice; textures have long tails. */
const SURELY = 8;
/** Two frames are more often dark at one place by chance. */
const SURELY_OF_TWO = 11;
const SURELY_EACH = 4;
const ALIKE = 0.5;
/** What stays while the scene moves stands so many deviations above nothing. */
const STAYS = 7;
/** Less is not looked into, as neighbouring frames tell it. */
const MAY_STAY = 3;
/** Missing light of what stays, as a share: below it textures that move by their own width look like it. */
const LEAST_STAYING = 0.08;
/** A scene's own dot: less than this share of how dark it is stays, by so many deviations. */
const OWN_SHARE = 0.5;
const OWN_DEVIATIONS = 3;
/** No surroundings are smoother than this, as a share of light: two steps of 8 bits. */
const SMOOTHEST = 0.018;
const LEAST_DEPTH = 0.045;
/** What takes more light away is a thing: specks lie some way before the sensor. */
const MOST_DEPTH = 0.75;
/** Twice its radius away a spot has faded to this share; a line, on which places stay dark while the picture moves along it, has not. */
const FADED = 0.5;
const FADED_CELLS = 4;
/** Frames that must show it, each by half of what they show together. */
const SHOWN_BY = 0.8;
const LEAST_FRAMES = 2;
const LEAST_SHOWING = 3;
/** Small dots of a dense texture take each other's places when the picture moves by less than this beyond their size. */
const LEAST_MOVED_PX = 6;
const MOST_SPOTS = 60;
/** Places looked into per radius, the darkest first. */
const MOST_PLACES = 4000;

/**
 * Spots that all frames have at one place of the sensor, although the picture moved on it: a scene's own dark dot moves with the scene. Where frames
 * show one place of the scene twice, what stays is told from what moves (`stayingAt`), be the move ever so small and the ground ever so rough;
 * where they do not, a spot must stand out in all of them.
 * @param looks one per frame; null for frames that were not looked at
 */
export function spotsOnSensor(
  looks: readonly unknown[],
  frames: readonly SizedGeometry[],
  working: WorkingPx,
): SensorSpot[] {
  // Frames of another size, or held upright, do not show the sensor at the same px.
  const isAlike = ({ width, height }: SizedGeometry): boolean =>
    width === frames[0]!.width && height === frames[0]!.height;
  const seen = frames.flatMap((frame, k) =>
    looks[k] && isAlike(frame) ? [{ geometry: frame.geometry, dips: looks[k] as FrameDips }] : [],
  );
  if (seen.length < LEAST_FRAMES) return [];
  const { unitPx, maps } = seen[0]!.dips;
  const found = maps.flatMap((_, r) =>
    spotsAtRadius({ maps: seen.map(({ dips }) => dips.maps[r]!), geometries: seen.map((s) => s.geometry), unitPx }),
  );
  // One spot shows at several radii: the surest stands for it.
  found.sort((a, b) => b.sure - a.sure);
  const kept: typeof found = [];
  for (const spot of found) {
    const near = (o: (typeof found)[number]): boolean =>
      Math.hypot(o.x - spot.x, o.y - spot.y) < 1.5 * Math.max(o.radiusPx, spot.radiusPx);
    if (kept.length < MOST_SPOTS && !kept.some(near)) kept.push(spot);
  }
  return kept.map(({ x, y, radiusPx, depth }): SensorSpot => {
    const places = frames.map((f) => (isAlike(f) ? inWorkingPx(frameToMerge(f.geometry, x, y), working) : null));
    const beside = inWorkingPx(frameToMerge(frames[0]!.geometry, x + 1, y), working);
    const scale =
      beside && places[0] ? Math.hypot(beside[0] - places[0][0], beside[1] - places[0][1]) : 1 / working.unitPx;
    return { sensor: [x, y], radiusPx: radiusPx * scale, depth, places };
  });
}

function inWorkingPx(place: readonly [number, number] | null, { unitPx }: WorkingPx): [number, number] | null {
  return place && [place[0] / unitPx, place[1] / unitPx];
}

/** How far the places lie apart that half of the frames bring a spot of the sensor to, px of the merge. */
function movedBy(geometries: readonly FrameGeometry[], x: number, y: number): number {
  const places = geometries.map((g) => frameToMerge(g, x, y)).filter((p) => p !== null);
  if (places.length < LEAST_FRAMES) return 0;
  const middle = [median(places.map((p) => p[0])), median(places.map((p) => p[1]))] as const;
  return 2 * median(places.map((p) => Math.hypot(p[0] - middle[0], p[1] - middle[1])));
}

interface FoundSpot {
  readonly x: number;
  readonly y: number;
  readonly radiusPx: number;
  readonly depth: number;
  /** Deviations by which it stands out. */
  readonly sure: number;
}

/** Specks of one radius. */
function spotsAtRadius(placed: PlacedDips): FoundSpot[] {
  const { maps, unitPx } = placed;
  const { width, height, everyPx, radiusPx } = maps[0]!;
  const { depths, sure } = commonDips(maps);
  const peaks: number[] = [];
  for (let y = 2; y < height - 2; y++)
    for (let x = 2; x < width - 2; x++) {
      const i = y * width + x;
      if (depths[i]! >= LEAST_DEPTH && depths[i]! <= MOST_DEPTH && sure.data[i]! >= PERHAPS && isPeak(sure, x, y))
        peaks.push(i);
    }
  peaks.sort((a, b) => sure.data[b]! - sure.data[a]!);
  return peaks.slice(0, MOST_PLACES).flatMap((i): FoundSpot[] => {
    const [cx, cy] = [i % width, Math.floor(i / width)];
    const [x, y] = [cx, cy].map((cell) => (cell * everyPx + 0.5) * unitPx) as [number, number];
    const spot = { x, y, radiusPx: radiusPx * unitPx };
    const { depth, deviation } = stayingOf(placed, x, y);
    if (depth >= LEAST_STAYING && depth >= STAYS * deviation) return [{ ...spot, depth, sure: depth / deviation }];
    const isOfScene = depth + OWN_DEVIATIONS * deviation < OWN_SHARE * depths[i]!;
    const stands = !isOfScene && isLone(depths, width, height, cx, cy) && standsOut(maps, i, depths[i]!, sure.data[i]!);
    const moved = stands ? movedBy(placed.geometries, x, y) : 0;
    return moved > Math.max(2 * spot.radiusPx, spot.radiusPx + LEAST_MOVED_PX)
      ? [{ ...spot, depth: depths[i]!, sure: sure.data[i]! }]
      : [];
  });
}

/** What stays at a place: neighbouring frames are asked first, and all only where these do not say no. */
function stayingOf(placed: PlacedDips, x: number, y: number): Staying {
  const first = stayingAt(placed, x, y, true);
  return first.depth < MAY_STAY * first.deviation && Number.isFinite(first.deviation) ? first : stayingAt(placed, x, y);
}

/** How dark all frames together are at each place of the sensor, and by how many deviations of what is about it. */
function commonDips(maps: readonly DipMap[]): { readonly depths: Float32Array; readonly sure: Plane } {
  const { width, height } = maps[0]!;
  const sure: Plane = { width, height, data: new Float32Array(width * height) };
  const depths = new Float32Array(width * height);
  for (let i = 0; i < depths.length; i++) {
    let [sum, weight] = [0, 0];
    for (const { dips, scatter } of maps) {
      const deviation = Math.max(SMOOTHEST * STEPS, scatter[i]!);
      const w = 1 / (deviation * deviation);
      sum += w * dips[i]!;
      weight += w;
    }
    depths[i] = sum / weight / STEPS;
    sure.data[i] = sum / Math.sqrt(weight);
  }
  return { depths, sure };
}

/** Whether a place is beyond doubt dark in the frames, one by one and together. */
function standsOut(maps: readonly DipMap[], i: number, depth: number, sure: number): boolean {
  if (sure < (maps.length > 2 ? SURELY : SURELY_OF_TWO)) return false;
  if (maps.length === 2 && !areAlike(maps, i)) return false;
  const showing = maps.filter((m) => m.dips[i]! > (depth * STEPS) / 2).length;
  return showing >= Math.min(maps.length, Math.max(LEAST_SHOWING, SHOWN_BY * maps.length));
}

/** Whether a dip is a spot, and no part of a line or an edge. */
function isLone(depths: Float32Array, width: number, height: number, x: number, y: number): boolean {
  const limit = FADED * depths[y * width + x]!;
  for (const dy of [-1, 0, 1])
    for (const dx of [-1, 0, 1]) {
      const [u, v] = [x + FADED_CELLS * dx, y + FADED_CELLS * dy];
      if ((dx !== 0 || dy !== 0) && u >= 0 && v >= 0 && u < width && v < height && depths[v * width + u]! > limit)
        return false;
    }
  return true;
}

/** Whether two frames both show a spot beyond doubt, of about one depth: a scene's own dots meet by chance, and differ. */
function areAlike(maps: readonly DipMap[], i: number): boolean {
  const depths = maps.map(({ dips }) => dips[i]!);
  const sure = maps.every(({ dips, scatter }) => dips[i]! >= SURELY_EACH * Math.max(SMOOTHEST * STEPS, scatter[i]!));
  return sure && Math.min(...depths) >= ALIKE * Math.max(...depths);
}

function isPeak({ width, data }: Plane, x: number, y: number): boolean {
  const v = data[y * width + x]!;
  for (let dy = -2; dy <= 2; dy++) {
    for (let dx = -2; dx <= 2; dx++) {
      const o = data[(y + dy) * width + x + dx]!;
      if (o > v || (o === v && (dy < 0 || (dy === 0 && dx < 0)))) return false;
    }
  }
  return true;
}
