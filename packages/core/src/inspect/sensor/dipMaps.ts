// How much darker a frame is at each of its places than around it: what a speck on the sensor would look like.
import { boxMeansAlong, boxSmooth, srgbToLinear, summedArea } from '../../image';
import type { SurveyedFrame } from '../layers/layer';

/** Radii looked for, px of the surveyed frame. */
export const RADII = [2, 3, 5, 8, 12] as const;
/** One part in 160 of the light per step of a byte. */
export const STEPS = 160;
/** Darker surroundings than this share of full light tell nothing. */
const DARKEST = 0.002;

/** Per radius: how much darker each place is than its surroundings, and how much that varies about it, every radius/2 px. */
export interface DipMap {
  readonly radiusPx: number;
  readonly everyPx: number;
  readonly width: number;
  readonly height: number;
  /** Missing light in steps of 1/160; negative where it is brighter. */
  readonly dips: Int8Array;
  /** Root mean square of the dips around, in the same steps. */
  readonly scatter: Uint8Array;
}

/** How dark a frame is at its places, by radius. */
export interface FrameDips {
  readonly unitPx: number;
  readonly maps: readonly DipMap[];
}

/** Half sides of the boxes: what lies in the inner one is held against what lies between the others, px. */
function boxesOf(radius: number): { readonly inner: number; readonly middle: number; readonly wide: number } {
  return { inner: Math.max(1, Math.round(0.7 * radius)), middle: Math.round(1.3 * radius), wide: 2 * radius };
}

/** How much light is missing at each place of a frame against its surroundings: light, as a speck takes the same share of it at any exposure. */
export function lookForDips({ luma, unitPx }: SurveyedFrame): FrameDips {
  const light = lightCurve();
  const table = summedArea({ ...luma, data: luma.data.map((v) => light[Math.round(v * LIGHT_STEPS)]!) });
  const maps = RADII.filter((r) => 6 * r < Math.min(luma.width, luma.height)).map((radius): DipMap => {
    const everyPx = Math.max(1, radius >> 1);
    const boxes = boxesOf(radius);
    const [width, height] = [Math.floor(luma.width / everyPx), Math.floor(luma.height / everyPx)];
    const areaWide = (2 * boxes.wide + 1) ** 2;
    const areaMiddle = (2 * boxes.middle + 1) ** 2;
    const dips = new Int8Array(width * height);
    const squares = new Float32Array(width * height);
    const [wide, middle, inner] = [0, 1, 2].map(() => new Float64Array(width)) as [
      Float64Array,
      Float64Array,
      Float64Array,
    ];
    for (let y = 0; y < height; y++) {
      boxMeansAlong(table, y * everyPx, boxes.wide, everyPx, wide);
      boxMeansAlong(table, y * everyPx, boxes.middle, everyPx, middle);
      boxMeansAlong(table, y * everyPx, boxes.inner, everyPx, inner);
      for (let x = 0, i = y * width; x < width; x++, i++) {
        const around = (wide[x]! * areaWide - middle[x]! * areaMiddle) / (areaWide - areaMiddle);
        const dip = around > DARKEST ? 1 - inner[x]! / around : 0;
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

const LIGHT_STEPS = 4095;
let curve: Float32Array | null = null;

function lightCurve(): Float32Array {
  curve ??= Float32Array.from({ length: LIGHT_STEPS + 1 }, (_, v) => srgbToLinear(v / LIGHT_STEPS));
  return curve;
}

/** Places of a profile per radius, and radii that it reaches. */
const PER_RADIUS = 8;
const PROFILE_RADII = 5;
let profile: Float32Array | null = null;

/**
 * How dark a map of a disc's own radius finds the places about it, `distance` radii from its middle; 1 in the middle, negative where the disc lies in
 * what surrounds a place. The disc's rim is soft, as that of specks some way before the sensor is.
 */
export function dipsOfDisc(distance: number): number {
  profile ??= profileOfDisc();
  const at = distance * PER_RADIUS;
  const i = Math.floor(at);
  return i + 1 < profile.length ? profile[i]! + (at - i) * (profile[i + 1]! - profile[i]!) : 0;
}

/** Measured on a drawn disc, along its row and its diagonal. */
function profileOfDisc(): Float32Array {
  const radius = PER_RADIUS;
  const disc = (x: number, y: number): number =>
    Math.min(1, Math.max(0, (1.25 * radius - Math.hypot(x, y)) / (radius / 2)));
  const sum = (x: number, y: number, half: number): number => {
    let all = 0;
    for (let v = -half; v <= half; v++) for (let u = -half; u <= half; u++) all += disc(x + u, y + v);
    return all;
  };
  const { inner, middle, wide } = boxesOf(radius);
  const area = (half: number): number => (2 * half + 1) ** 2;
  const dip = (x: number, y: number): number =>
    sum(x, y, inner) / area(inner) - (sum(x, y, wide) - sum(x, y, middle)) / (area(wide) - area(middle));
  const all = Float32Array.from({ length: PROFILE_RADII * PER_RADIUS + 1 }, (_, n) => {
    const along = Math.round(n / Math.SQRT2);
    return (dip(n, 0) + dip(along, along)) / 2;
  });
  return all.map((v) => v / all[0]!);
}
