// Frames for sorting, built in code: a large textured world that frames look at.
import { linearToSrgb, makePlane, sampleBilinear, type Plane } from '../image';
import { summariseFrame, type FrameSettings, type SortFrame } from '../sort';

export const SILENT: FrameSettings = {
  takenS: null,
  camera: null,
  lens: null,
  focalLengthMm: null,
  focalLength35Mm: null,
  fNumber: null,
  exposureS: null,
  iso: null,
  focusMm: null,
  whiteBalance: null,
};

/** Where and how a frame looks at the world. */
export interface Glance {
  /** Corner of the view in the world, px. */
  readonly x?: number;
  readonly y?: number;
  /** Which world. */
  readonly seed?: number;
  /** EV of the exposure. */
  readonly ev?: number;
  /** Contrast about the middle tone: 1 leaves it. */
  readonly contrast?: number;
  /** Box blur along x and along y, px. */
  readonly blurX?: number;
  readonly blurY?: number;
  /** Blurs the left or the right half only: where the focus is not. */
  readonly soft?: 'left' | 'right';
  readonly red?: number;
  /** How much larger red is drawn. */
  readonly lateral?: number;
  /** Light lost in the corner, as a share. */
  readonly vignetting?: number;
  /** Something brown held over a part: x, y, width, height in px. */
  readonly hand?: readonly [number, number, number, number];
  readonly settings?: Partial<FrameSettings>;
  readonly name?: string;
}

export const VIEW = { width: 240, height: 160 } as const;

// A look-up of `Math` inside a hot loop is slow in a test sandbox.
const { floor, imul, min, round } = Math;

const WORLD = { width: 1500, height: 900 } as const;
const worlds = new Map<number, Plane>();

/** Texture at several scales, the same at the same place: EV about the middle tone. Made once for each seed. */
function world(seed: number): Plane {
  const known = worlds.get(seed);
  if (known) return known;
  const { width, height } = WORLD;
  const data = new Float32Array(width * height);
  for (const [scale, weight] of [
    [2, 0.6],
    [6, 0.7],
    [17, 1.1],
    [43, 1.2],
  ] as const) {
    const across = floor(width / scale) + 2;
    const nodes = Float32Array.from(
      { length: across * (floor(height / scale) + 2) },
      (_, n) => hash(n, scale, seed) - 0.5,
    );
    for (let y = 0; y < height; y++) {
      const j = floor(y / scale);
      const v = y / scale - j;
      for (let x = 0; x < width; x++) {
        const i = floor(x / scale);
        const u = x / scale - i;
        const n = j * across + i;
        const top = nodes[n]! * (1 - u) + nodes[n + 1]! * u;
        const bottom = nodes[n + across]! * (1 - u) + nodes[n + across + 1]! * u;
        data[y * width + x] = data[y * width + x]! + weight * (top * (1 - v) + bottom * v);
      }
    }
  }
  const made = { width, height, data };
  worlds.set(seed, made);
  return made;
}

function hash(i: number, j: number, seed: number): number {
  let h = imul(i * 374761393 + j * 668265263 + seed * 2147483647, 1274126177) >>> 0;
  h = imul(h ^ (h >>> 15), 2246822519) >>> 0;
  return ((h ^ (h >>> 13)) >>> 0) / 4294967296;
}

/** A frame of the built world. */
export function glance(how: Glance = {}): SortFrame {
  const {
    x = 400,
    y = 300,
    seed = 1,
    ev = 0,
    contrast = 1,
    blurX = 0,
    blurY = 0,
    soft,
    red = 1,
    hand,
    vignetting = 0,
    lateral = 0,
  } = how;
  const { width, height } = VIEW;
  const sharp = cutOut(world(seed), x, y);
  const blurred = blur(sharp, soft ? 3 : blurX, soft ? 3 : blurY);
  const rgb = new Uint8Array(width * height * 3);
  const gain = 2 ** ev;
  for (let j = 0; j < height; j++) {
    for (let i = 0; i < width; i++) {
      const isSoft = soft === undefined || (soft === 'left') === i < width / 2;
      const r2 = ((i - width / 2) ** 2 + (j - height / 2) ** 2) / ((width * width + height * height) / 4);
      const light =
        (1 - vignetting * r2) * 0.2 * gain * 2 ** (contrast * (isSoft ? blurred : sharp).data[j * width + i]!);
      const held = hand && i >= hand[0] && j >= hand[1] && i < hand[0] + hand[2] && j < hand[1] + hand[3];
      const at = 3 * (j * width + i);
      const redLight = lateral === 0 ? light : 0.2 * gain * 2 ** (contrast * enlarged(sharp, i, j, lateral));
      rgb[at] = code(held ? 0.25 * gain : redLight * red);
      rgb[at + 1] = code(held ? 0.13 * gain : light);
      rgb[at + 2] = code(held ? 0.09 * gain : light);
    }
  }
  return {
    name: how.name ?? 'frame.jpg',
    width: 6000,
    height: 4000,
    bits: 8,
    profile: null,
    settings: { ...SILENT, ...how.settings },
    summary: summariseFrame(rgb, width, height),
  };
}

const CODES = Uint8Array.from({ length: 4097 }, (_, v) => round(255 * linearToSrgb(v / 4096)));

function code(light: number): number {
  return CODES[round(4096 * min(1, light))]!;
}

function cutOut({ data, width }: Plane, x: number, y: number): Plane {
  const out = makePlane(VIEW.width, VIEW.height);
  for (let j = 0; j < VIEW.height; j++)
    out.data.set(data.subarray((y + j) * width + x, (y + j) * width + x + VIEW.width), j * VIEW.width);
  return out;
}

/** Box blur along x, then along y; the rim repeats. */
function blur(plane: Plane, rx: number, ry: number): Plane {
  return blurAlong(blurAlong(plane, rx, 1, plane.width), ry, plane.width, plane.height);
}

function blurAlong(plane: Plane, r: number, step: number, length: number): Plane {
  if (r === 0) return plane;
  const data = plane.data.slice();
  for (let i = 0; i < data.length; i++) {
    const at = step === 1 ? i % plane.width : floor(i / plane.width);
    let sum = 0;
    for (let k = -r; k <= r; k++)
      sum += plane.data[i + step * (at + k < 0 ? -at : at + k >= length ? length - 1 - at : k)]!;
    data[i] = sum / (2 * r + 1);
  }
  return { ...plane, data };
}

/** Value of a plane drawn larger about its middle. */
function enlarged(plane: Plane, i: number, j: number, share: number): number {
  const [cx, cy] = [plane.width / 2, plane.height / 2];
  return sampleBilinear(plane, cx + (i + 0.5 - cx) / (1 + share), cy + (j + 0.5 - cy) / (1 + share));
}
