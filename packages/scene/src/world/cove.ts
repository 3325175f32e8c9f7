// The cove below the signal station: sky, headland, sea, boat, brick tower, mast with stays and flag, gulls, near railing.
import { EYE_M, SEA_BELOW_M, WIDE } from './coveGround';
import { coverage, dim, facing, levelGround, mix, smooth, tint, type Layer, type World } from './layer';
import { ensign, mast } from './mast';
import { grass, rock, sky, water, type Weather } from './outdoors';
import { RAIL_MM, railing } from './railing';
import { between, fractalNoise, makeRandom, valueNoise, type Random } from './random';
import { boat, gull } from './seaLife';
import { tower } from './tower';

/** What a picture of the cove is made for. */
export interface CoveOptions {
  /** 1 is a fresh breeze, 0 is calm. */
  readonly wind: number;
}

/**
 * Lays the cove out around a viewpoint on the cliff top. Scene units are tangents; the horizon is y = 0.
 * @param seed any whole number
 */
export function cove(seed: number, { wind }: CoveOptions): World {
  const random = makeRandom(seed * 5413 + 41);
  const weather: Weather = { sunRad: between(random, -1.1, 1.1), cloud: between(random, 0.05, 0.4), seed: seed + 900 };
  // Tower on one side, mast on the other, both well inside a wide view.
  const side = random() < 0.5 ? -1 : 1;
  const towerX = side * between(random, 0.35, 0.7);
  const mastX = -side * between(random, 0.2, 0.6);
  const edge = cliffEdge(random, seed + 7, towerX, mastX);
  const layers: Layer[] = [
    skyLayer(weather, wind),
    farHeadland(seed + 20, random),
    sea(weather, wind),
    boat(seed + 30, random, wind),
    headland(seed + 40, random),
    ...Array.from({ length: 4 + Math.floor(random() * 3) }, (_, i) => gull(seed + 50 + i, random, wind)),
    cliffTop(seed + 60, edge),
    tower(seed + 70, towerX),
    mast(seed + 80, mastX),
    ensign(seed + 90, mastX, random, wind),
    railing(seed + 100, random),
  ];
  return { name: 'The cove at Kestrel Point', seed, layers, centre: [0, 0], nearMm: RAIL_MM, farMm: Infinity };
}

/** Where the tower and the mast stand, for views that aim at them: tangent to the right. */
export function coveLandmarks(seed: number): { readonly towerX: number; readonly mastX: number } {
  const layers = cove(seed, { wind: 0 }).layers;
  const at = (name: string): number => {
    const { box } = layers.find((l) => l.name === name)!;
    return (box.x0 + box.x1) / 2;
  };
  return { towerX: at('brick tower'), mastX: at('mast') };
}

function skyLayer(weather: Weather, wind: number): Layer {
  return {
    name: 'sky',
    plane: facing(1e10),
    box: { x0: -WIDE, y0: -WIDE, x1: WIDE, y1: 0.01 },
    motion: { kind: 'texture', unitsPerS: 0.002 * wind },
    shade(x, y, pixel, out, timeS) {
      sky(Math.atan(x), -y / Math.sqrt(1 + x * x), pixel, weather, timeS * wind, out);
      out.a = 1;
    },
  };
}

/** Hills on the far side of the bay, in haze. */
function farHeadland(seed: number, random: Random): Layer {
  const shift = random() * 50;
  const top = (b: number): number => -0.012 - 0.03 * Math.max(0, fractalNoise(b + shift, 1, seed, 1.5, 6, 0.5) + 0.15);
  return {
    name: 'far headland',
    plane: facing(6e6),
    box: { x0: -WIDE, y0: -0.09 * WIDE, x1: WIDE, y1: 0.001 },
    shade(x, y, pixel, out) {
      const bearing = Math.atan(x);
      const rise = y / Math.sqrt(1 + x * x);
      out.a = coverage(top(bearing) - rise, pixel);
      if (out.a === 0) return;
      const fields = fractalNoise(bearing * 6, rise * 60, seed + 3, 8, 5, 0.55);
      out.r = 0.3 + 0.04 * fields;
      out.g = 0.36 + 0.05 * fields;
      out.b = 0.42 + 0.03 * fields;
    },
  };
}

function sea(weather: Weather, wind: number): Layer {
  return {
    name: 'sea',
    plane: levelGround(SEA_BELOW_M * 1000),
    box: { x0: -WIDE, y0: 0, x1: WIDE, y1: 1.2 },
    motion: { kind: 'texture', unitsPerS: 0.01 * wind },
    shade(x, y, pixel, out, timeS) {
      // A hair below the horizon the sea is one tone.
      const below = Math.max(y, 2e-4);
      const z = SEA_BELOW_M / below;
      const pixelM = (pixel * z) / Math.sqrt(Math.min(1, below * 6));
      water(x * z, z, below, pixelM, weather, timeS * wind, out);
      const haze = smooth(0.03, 0, below);
      tint(out, 0.5, 0.56, 0.62, haze * 0.75);
      out.a = coverage(-y, pixel);
    },
  };
}

/** The cove's own headland: a rock face with a grass crown that comes down to the water on one side. */
function headland(seed: number, random: Random): Layer {
  const distanceM = 90;
  const side = random() < 0.5 ? -1 : 1;
  const shift = random() * 40;
  const foot = SEA_BELOW_M / distanceM;
  const crown = (x: number): number => {
    const climb = smooth(0.15, 1.3, side * x);
    return (
      foot -
      climb * 0.33 -
      0.035 * climb * fractalNoise(x, shift, seed, 3, 6, 0.5) -
      0.02 * smooth(0, 0.3, side * x - 0.05)
    );
  };
  const box = side > 0 ? { x0: 0, x1: WIDE } : { x0: -WIDE, x1: 0 };
  return {
    name: 'headland',
    plane: facing(distanceM * 1000),
    box: { ...box, y0: -0.5, y1: foot + 0.02 },
    shade(x, y, pixel, out) {
      const top = crown(x);
      const waterline = foot + 0.004 * valueNoise(x * 60, 2, seed + 3);
      out.a = coverage(top - y, pixel) * coverage(y - waterline, pixel);
      if (out.a === 0 || top > waterline) {
        out.a = 0;
        return;
      }
      const depth = (y - top) * distanceM;
      const turf = 1.6 + 1.2 * valueNoise(x * 22, 5, seed + 6);
      if (depth < turf) grass(x * distanceM, y * distanceM * 2, pixel * distanceM, seed + 1, out);
      else rock(x * distanceM, y * distanceM, pixel * distanceM, seed + 2, out);
      dim(out, 0.8 + 0.25 * valueNoise(x * 9, y * 12, seed + 8));
      if (waterline - y < 0.008) tint(out, 0.7, 0.74, 0.76, 0.6 * valueNoise(x * 160, y * 300, seed + 4));
      tint(out, 0.5, 0.56, 0.62, 0.1);
    },
  };
}

/** Height of the cliff's edge below the horizon, tangent, by tangent to the right. */
function cliffEdge(random: Random, seed: number, towerX: number, mastX: number): (x: number) => number {
  const shift = random() * 30;
  return (x) => {
    const nearTower = Math.exp(-(((x - towerX) / 0.42) ** 2));
    const nearMast = Math.exp(-(((x - mastX) / 0.5) ** 2));
    const far = Math.min(1, nearTower + nearMast);
    return mix(0.21, 0.042, far) + 0.012 * fractalNoise(x, shift, seed, 4, 6, 0.55);
  };
}

function cliffTop(seed: number, edge: (x: number) => number): Layer {
  return {
    name: 'cliff top',
    plane: levelGround(EYE_M * 1000),
    box: { x0: -WIDE, y0: 0.02, x1: WIDE, y1: 3 },
    shade(x, y, pixel, out) {
      out.a = coverage(edge(x) - y, pixel);
      if (out.a === 0) return;
      const z = EYE_M / y;
      const pixelM = (pixel * z) / Math.sqrt(Math.min(1, y * 3));
      grass(x * z, z, pixelM, seed, out);
      const path = Math.abs(x * z - 1.2 * Math.sin(z * 0.21 + seed)) - 0.55;
      const worn = smooth(0.35, -0.15, path + 0.2 * valueNoise(x * z * 3, z * 2, seed + 3));
      const gravel =
        0.32 + 0.13 * valueNoise((x * z) / Math.max(0.02, pixelM * 2), z / Math.max(0.05, pixelM * 5), seed + 4);
      tint(out, gravel, gravel * 0.88, gravel * 0.7, worn * 0.9);
    },
  };
}
