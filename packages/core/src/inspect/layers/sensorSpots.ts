// Layer: dark spots that stay on the sensor while the picture moves, and where the merge shows them.
import type { CellFrame, CellPicture } from '../../cells';
import { frameToMerge } from '../../frame';
import { boxMeansAlong, boxSmooth, median, type Plane, summedArea } from '../../image';
import { CELL_PX } from '../../kernels';
import { explanation } from './explanation';
import { MERGE_KINDS, type Layer, type RegionView, type SizedGeometry, type SurveyedFrame } from './layer';

/** A spot on the sensor, and where each frame brings it in the merge. */
export interface SensorSpot {
  /** Its middle on the sensor, full-size px of a frame. */
  readonly sensor: readonly [number, number];
  /** Radius in the merge, px. */
  readonly radiusPx: number;
  /** Share of light it takes away in its middle. */
  readonly depth: number;
  /** Place in the merge per frame, px; null where the merge does not show it. */
  readonly places: readonly (readonly [number, number] | null)[];
}

export interface SpotMaps extends Readonly<Record<string, Uint8Array | Float32Array>> {
  /** Frame whose spot the merge shows, plus 1; 0 for none. */
  readonly frame: Uint8Array;
  /** Light that is missing there against what other frames show, as a share. */
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
    }
    return { maps, samples: null };
  },
  calibrate: () => null,
  survey: { look: lookForDips, join: joinDips },
};

/** Least missing light that shows: twice a just noticeable step in an even sky. */
const LEAST_DIP = 0.012;
/** The merge's dip is at least this share of the frames'. */
const LEAST_SHARE = 0.4;
/** Cells of its disc that must show the frame. */
const SHOWN_SHARE = 0.5;

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
  if (disc.filter((c) => closest[c] === k).length < SHOWN_SHARE * disc.length) return;
  const expected = dipOf(stack.frames[k]!, disc, ring);
  const here = dipOf(stack.merge!, disc, ring);
  // What frames show here whose own spots lie elsewhere: the scene as it is.
  const others = stack.frames.flatMap((frame, l) =>
    l !== k && isWhole(frame, disc) && isWhole(frame, ring) && isApart(spot, l, x, y) ? [dipOf(frame, disc, ring)] : [],
  );
  const scene = others.length > 0 ? median(others) : 0;
  const missing = here - scene;
  if (missing < LEAST_DIP || missing < LEAST_SHARE * Math.max(spot.depth / 2, expected - scene)) return;
  for (const c of disc) {
    maps.frame[c] = k + 1;
    maps.dip[c] = missing;
  }
}

function isWhole(frame: CellFrame, cells: readonly number[]): boolean {
  return cells.every((c) => frame.valid[c]);
}

/** Whether another frame has the same spot somewhere else. */
function isApart(spot: SensorSpot, frame: number, x: number, y: number): boolean {
  const place = spot.places[frame];
  return !place || Math.hypot(place[0] - x, place[1] - y) > 2.5 * spot.radiusPx;
}

/** How much darker a picture is in a disc than around it, as a share. */
function dipOf({ mean }: CellPicture, disc: readonly number[], ring: readonly number[]): number {
  const level = (cells: readonly number[]): number =>
    cells.reduce((s, c) => s + 0.2126 * mean[0][c]! + 0.7152 * mean[1][c]! + 0.0722 * mean[2][c]!, 0) / cells.length;
  const around = level(ring);
  return around > 0.02 ? 1 - level(disc) / around : 0;
}

/** Radii looked for, px of the surveyed frame. */
const RADII = [2, 3, 5, 8, 12] as const;
/** One part in 250 of the light per step of a byte. */
const STEPS = 250;

/** Per radius: how much darker each place is than its surroundings, and how much that varies about it, every radius/2 px. */
export interface DipMap {
  readonly radiusPx: number;
  readonly everyPx: number;
  readonly width: number;
  readonly height: number;
  /** Missing light in steps of 1/250; negative where it is brighter. */
  readonly dips: Int8Array;
  /** Root mean square of the dips around, in the same steps. */
  readonly scatter: Uint8Array;
}

interface FrameDips {
  readonly unitPx: number;
  readonly maps: readonly DipMap[];
}

function lookForDips({ luma, unitPx }: SurveyedFrame): FrameDips {
  const table = summedArea(luma);
  const maps = RADII.filter((r) => 6 * r < Math.min(luma.width, luma.height)).map((radius): DipMap => {
    const everyPx = Math.max(1, radius >> 1);
    const innerRadius = Math.max(1, Math.round(0.7 * radius));
    const middleRadius = Math.round(1.3 * radius);
    const [width, height] = [Math.floor(luma.width / everyPx), Math.floor(luma.height / everyPx)];
    const areaWide = (4 * radius + 1) ** 2;
    const areaMiddle = (2 * middleRadius + 1) ** 2;
    const dips = new Int8Array(width * height);
    const squares = new Float32Array(width * height);
    const [wide, middle, inner] = [0, 1, 2].map(() => new Float64Array(width)) as [
      Float64Array,
      Float64Array,
      Float64Array,
    ];
    for (let y = 0; y < height; y++) {
      boxMeansAlong(table, y * everyPx, 2 * radius, everyPx, wide);
      boxMeansAlong(table, y * everyPx, middleRadius, everyPx, middle);
      boxMeansAlong(table, y * everyPx, innerRadius, everyPx, inner);
      for (let x = 0, i = y * width; x < width; x++, i++) {
        const around = (wide[x]! * areaWide - middle[x]! * areaMiddle) / (areaWide - areaMiddle);
        const dip = around > 0.03 ? 1 - inner[x]! / around : 0;
        const steps = Math.max(-127, Math.min(127, Math.round(dip * STEPS)));
        dips[i] = steps;
        squares[i] = steps * steps;
      }
    }
    // A spot by itself is no scatter: what lies about it tells how unusual it is.
    const all = boxSmooth({ width, height, data: squares }, SCATTER_CELLS).data;
    const own = boxSmooth({ width, height, data: squares }, SPOT_CELLS).data;
    const [allPlaces, ownPlaces] = [(2 * SCATTER_CELLS + 1) ** 2, (2 * SPOT_CELLS + 1) ** 2];
    const scatter = new Uint8Array(all.length);
    for (let i = 0; i < scatter.length; i++) {
      const about = Math.max(0, allPlaces * all[i]! - ownPlaces * own[i]!) / (allPlaces - ownPlaces);
      scatter[i] = Math.min(255, Math.round(Math.sqrt(about)));
    }
    return { radiusPx: radius, everyPx, width, height, dips, scatter };
  });
  return { unitPx, maps };
}

/** Over so many places of a map the dips around one are compared, but for so many that one spot reaches. */
const SCATTER_CELLS = 10;
const SPOT_CELLS = 4;
/** The frames' dips together stand so many deviations of what is about them above nothing; textures have long tails. */
const SURELY = 8;
/** Two frames are more often dark at one place by chance. */
const SURELY_OF_TWO = 11;
const SURELY_EACH = 4;
const ALIKE = 0.5;
/** No surroundings are smoother than this, as a share: two steps of 8 bits. */
const SMOOTHEST = 0.008;
const LEAST_DEPTH = 0.02;
/** What takes more light away is a thing: specks lie some way before the sensor. */
const MOST_DEPTH = 0.5;
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

/**
 * Spots that all frames have at one place of the sensor, although the picture moved on it: a scene's own dark dot moves with the scene.
 */
function joinDips(looks: readonly unknown[], frames: readonly SizedGeometry[]): SensorSpot[] {
  const dips = looks as readonly FrameDips[];
  if (dips.length < LEAST_FRAMES) return [];
  const found = dips[0]!.maps.flatMap((map, r) =>
    spotsAtRadius(
      dips.map((d) => d.maps[r]!),
      map,
      dips[0]!.unitPx,
    ),
  );
  // One spot shows at several radii: the surest stands for it.
  found.sort((a, b) => b.sure - a.sure);
  const kept: typeof found = [];
  for (const spot of found) {
    const near = (o: (typeof found)[number]): boolean =>
      Math.hypot(o.x - spot.x, o.y - spot.y) < 1.5 * Math.max(o.radiusPx, spot.radiusPx);
    if (kept.length < MOST_SPOTS && !kept.some(near)) kept.push(spot);
  }
  return kept.flatMap(({ x, y, radiusPx, depth }): SensorSpot[] => {
    const places = frames.map((f) => frameToMerge(f.geometry, x, y));
    const seen = places.filter((p) => p !== null);
    const beside = frameToMerge(frames[0]!.geometry, x + 1, y);
    const scale = beside && places[0] ? Math.hypot(beside[0] - places[0][0], beside[1] - places[0][1]) : 1;
    const radius = radiusPx * scale;
    return movedBy(seen) > Math.max(2 * radius, radius + LEAST_MOVED_PX)
      ? [{ sensor: [x, y], radiusPx: radius, depth, places }]
      : [];
  });
}

/** How far the places lie apart that half of the frames bring a spot of the sensor to, px of the merge. */
function movedBy(places: readonly (readonly [number, number])[]): number {
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

/** Peaks of what all frames lack at one place of the sensor, full-size px of it. */
function spotsAtRadius(
  maps: readonly DipMap[],
  { width, height, everyPx, radiusPx }: DipMap,
  unitPx: number,
): FoundSpot[] {
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
  const surely = maps.length > 2 ? SURELY : SURELY_OF_TWO;
  const out: FoundSpot[] = [];
  for (let y = 2; y < height - 2; y++) {
    for (let x = 2; x < width - 2; x++) {
      const i = y * width + x;
      const depth = depths[i]!;
      if (depth < LEAST_DEPTH || sure.data[i]! < surely || !isPeak(sure, x, y)) continue;
      if (depth > MOST_DEPTH || !isLone(depths, width, height, x, y)) continue;
      if (maps.length === 2 && !areAlike(maps, i)) continue;
      const showing = maps.filter((m) => m.dips[i]! > (depth * STEPS) / 2).length;
      if (showing < Math.min(maps.length, Math.max(LEAST_SHOWING, SHOWN_BY * maps.length))) continue;
      const place = (cell: number): number => (cell * everyPx + 0.5) * unitPx;
      out.push({ x: place(x), y: place(y), radiusPx: radiusPx * unitPx, depth, sure: sure.data[i]! });
    }
  }
  return out;
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
