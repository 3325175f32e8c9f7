// Sky, water, grass, rock, brick and weathered paint. All colours are linear, white paper in the sun is about 0.9.
import { mix, smooth, type Shade } from './layer';
import { octavesFor } from './metalAndGlass';
import { fractalNoise, hash2, valueNoise } from './random';

/** A day's light: where the sun stands and how much cloud there is. */
export interface Weather {
  /** Bearing of the sun as seen from the viewpoint, rad to the right. */
  readonly sunRad: number;
  readonly cloud: number;
  readonly seed: number;
}

/**
 * Sky with drifting clouds.
 * @param bearing, rise direction: rad to the right, tangent upwards
 */
export function sky(bearing: number, rise: number, pixel: number, weather: Weather, timeS: number, out: Shade): void {
  const high = Math.max(0, rise);
  const sun = Math.exp(-(((bearing - weather.sunRad) / 0.7) ** 2) - ((rise - 0.25) / 0.5) ** 2);
  const t = smooth(0, 0.9, high);
  out.r = mix(0.48, 0.07, t) + 0.24 * sun;
  out.g = mix(0.58, 0.2, t) + 0.2 * sun;
  out.b = mix(0.7, 0.5, t) + 0.12 * sun;
  // Cloud sheets lie on a ceiling: they get finer and denser towards the horizon.
  const ceiling = 1 / (high + 0.22);
  const u = bearing * ceiling * 1.4 + timeS * 0.0012;
  const v = ceiling * 1.6;
  const size = pixel * ceiling * 2.2;
  const body = fractalNoise(u, v, weather.seed, 1.1, octavesFor(1.1, size), 0.56);
  const cover = smooth(0.34 - weather.cloud, 0.95 - weather.cloud, body);
  const lit = fractalNoise(u + 0.05, v - 0.06, weather.seed, 1.1, Math.min(5, octavesFor(1.1, size)), 0.56);
  const shade = Math.max(0.3, 0.76 - 0.32 * smooth(-0.1, 0.8, lit) + 0.3 * sun);
  out.r = mix(out.r, shade * 1.02, cover);
  out.g = mix(out.g, shade, cover);
  out.b = mix(out.b, shade * 1.01, cover);
}

/**
 * Sea at a ground position; waves travel towards the viewer and glitter under the sun.
 * @param x, z metres to the right and ahead
 * @param grazing tangent below the horizon
 */
export function water(
  x: number,
  z: number,
  grazing: number,
  pixelM: number,
  weather: Weather,
  timeS: number,
  out: Shade,
): void {
  // Depth is foreshortened: waves are drawn in apparent rows, long across and short in depth.
  const swell = valueNoise(x * 0.05 + 3, (z + timeS * 2.2) * 0.11, weather.seed + 11);
  const chop = waves(x, z + timeS * 1.5, pixelM, weather.seed + 17);
  const sparkle = waves(x + timeS * 0.4, z + timeS * 0.9, pixelM, weather.seed + 23);
  const fresnel = 1 - smooth(0, 0.35, grazing);
  const bearing = Math.atan2(x, z);
  const sun = Math.exp(-(((bearing - weather.sunRad) / 0.35) ** 2));
  const tone = 0.075 + 0.3 * fresnel ** 2 + 0.05 * swell + 0.1 * chop;
  const glint = smooth(0.35 + 0.25 * (1 - sun), 0.8, chop + 0.5 * sparkle) * (0.15 + 0.75 * sun);
  const foam = smooth(0.62, 0.85, swell + 0.45 * chop) * 0.3;
  const v = Math.max(0.02, tone);
  out.r = 0.5 * v + glint + foam;
  out.g = 0.86 * v + glint + foam;
  out.b = 1.02 * v + glint * 0.95 + foam;
}

/** Chop in −1..1: octaves from 4 m down to what the pixel resolves, fading instead of breaking into noise. */
function waves(x: number, z: number, pixelM: number, seed: number): number {
  let sum = 0;
  let size = 4;
  let amplitude = 0.55;
  for (let o = 0; o < 5; o++) {
    const visible = smooth(0.35, 1.2, size / pixelM / 2);
    if (visible === 0) break;
    sum += visible * amplitude * valueNoise(x / size, z / (size * 0.45), seed + o);
    size *= 0.5;
    amplitude *= 0.72;
  }
  return sum;
}

/** Rough grass at a ground position in metres, with tufts, bare earth and small flowers. */
export function grass(x: number, z: number, pixelM: number, seed: number, out: Shade): void {
  const blade = Math.max(0.012, pixelM * 2);
  const fine = smooth(0.0, 0.05, 0.1 / pixelM - 0.4);
  const tuft = fractalNoise(x, z, seed, 0.7, 4, 0.6);
  const blades =
    valueNoise(x / blade, z / (blade * 5), seed + 1) +
    0.7 * valueNoise(x / (blade * 2.4) + tuft, z / (blade * 9), seed + 2);
  const earth = smooth(0.45, 0.8, fractalNoise(x, z, seed + 8, 0.25, 3, 0.5));
  const v = Math.max(0.012, 0.15 * (1 + 0.5 * tuft + (0.25 + 0.35 * fine) * blades));
  out.r = mix(v * 0.78, v * 1.35, earth);
  out.g = mix(v * 1.0, v * 1.05, earth);
  out.b = mix(v * 0.3, v * 0.65, earth);
  const flower = Math.max(0.05, pixelM * 3);
  if (hash2(Math.floor(x / flower), Math.floor(z / flower), seed + 5) > 0.9955 && earth < 0.4) {
    out.r = 0.75;
    out.g = 0.66;
    out.b = 0.2;
  }
}

/** Weathered rock: cracks and lichen. Coordinates in metres. */
export function rock(x: number, y: number, pixelM: number, seed: number, out: Shade): void {
  const octaves = Math.max(1, Math.min(8, Math.floor(Math.log2(1 / (pixelM * 0.6)))));
  const body = fractalNoise(x, y * 1.6, seed, 0.5, octaves, 0.62);
  const crack = 1 - smooth(0.0, 0.08, Math.abs(fractalNoise(x, y * 0.6, seed + 9, 0.35, Math.min(5, octaves), 0.55)));
  const lichen = smooth(0.35, 0.6, fractalNoise(x, y, seed + 13, 0.9, Math.min(5, octaves), 0.6));
  const v = Math.max(0.02, 0.24 * (1 + 0.55 * body) * (1 - 0.55 * crack));
  out.r = mix(v, 0.42, lichen * 0.6);
  out.g = mix(v * 0.93, 0.36, lichen * 0.6);
  out.b = mix(v * 0.84, 0.12, lichen * 0.6);
}

/** Brickwork; coordinates in metres, courses of 75 mm, half bond. */
export function brick(x: number, y: number, pixelM: number, seed: number, out: Shade): void {
  const course = Math.floor(y / 0.075);
  const inCourse = y / 0.075 - course;
  const along = x / 0.225 + (course % 2 === 0 ? 0 : 0.5);
  const number = Math.floor(along);
  const inBrick = along - number;
  const joint = Math.max(0.005, pixelM * 0.6);
  const fromJoint = Math.min(inCourse * 0.075, (1 - inCourse) * 0.075, inBrick * 0.225, (1 - inBrick) * 0.225);
  // Where a pixel spans a course, bricks and joints melt into their mean.
  const resolved = smooth(0.4, 1.4, 0.075 / pixelM / 2);
  const mortar = (1 - smooth(joint * 0.7, joint * 1.3, fromJoint)) * resolved + 0.18 * (1 - resolved);
  const tone = 0.75 + (0.5 * hash2(number, course, seed) - 0.1) * resolved;
  const grain = fractalNoise(x, y, seed + 3, 6, Math.max(1, Math.min(6, Math.floor(Math.log2(0.08 / pixelM)))), 0.6);
  const soot = fractalNoise(x, y, seed + 7, 0.3, 4, 0.55);
  const v = Math.max(0.03, tone * (1 + 0.22 * grain) * (1 - 0.25 * smooth(0.1, 0.8, soot)));
  out.r = mix(0.36 * v, 0.42, mortar);
  out.g = mix(0.135 * v, 0.38, mortar);
  out.b = mix(0.085 * v, 0.32, mortar);
}

/** Gloss paint on metal or wood that has seen weather: brush marks, chips and rust runs. */
export function weatheredPaint(
  along: number,
  across: number,
  pixelM: number,
  seed: number,
  colour: readonly [number, number, number],
  out: Shade,
): void {
  const octaves = Math.max(1, Math.min(6, Math.floor(Math.log2(0.05 / pixelM))));
  const brush = valueNoise(across / Math.max(0.002, pixelM * 2), along / 0.08, seed);
  const stain = fractalNoise(along, across, seed + 2, 4, octaves, 0.6);
  const chip = smooth(0.62, 0.7, fractalNoise(along, across, seed + 5, 9, octaves, 0.6));
  const rust = smooth(0.35, 0.8, fractalNoise(along * 0.4, across, seed + 8, 5, octaves, 0.6));
  const v = 1 + 0.09 * brush + 0.14 * stain;
  out.r = mix(mix(colour[0] * v, 0.3, rust * 0.5), 0.16, chip);
  out.g = mix(mix(colour[1] * v, 0.13, rust * 0.5), 0.07, chip);
  out.b = mix(mix(colour[2] * v, 0.05, rust * 0.5), 0.045, chip);
}
