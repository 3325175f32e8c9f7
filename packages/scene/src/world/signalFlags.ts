// The flag locker: enamelled signal flags, a brass tally and a rope splice on combed felt. Plain, low in texture.
import { laidRope, smoothEnamel, smoothFelt } from './cloth';
import { textDistance, textWidth } from './glyphs';
import { boxDistance, coverage, depthAt, dim, leaning, smooth, type Layer, type Shade, type World } from './layer';
import { turnedBrass } from './metalAndGlass';
import { between, makeRandom, valueNoise, type Random } from './random';

const NEAR_MM = 300;
const FAR_MM = 348;

interface Plate {
  readonly x: number;
  readonly y: number;
  readonly halfWidth: number;
  readonly halfHeight: number;
  readonly turn: number;
  readonly depthMm: number;
}

type Colour = readonly [number, number, number];

const COLOURS: readonly Colour[] = [
  [0.62, 0.6, 0.54],
  [0.42, 0.03, 0.025],
  [0.035, 0.075, 0.27],
  [0.66, 0.44, 0.03],
  [0.025, 0.025, 0.027],
  [0.03, 0.2, 0.1],
];

/**
 * Lays the locker out: felt, four or five enamel flags at different heights, a tally, one or two ropes, now and then a moth.
 * @param seed any whole number
 * @param aspect height / width of the picture, 0.3 to 2
 */
export function signalFlags(seed: number, aspect: number): World {
  const random = makeRandom(seed * 6389 + 29);
  const plates = placePlates(random, aspect);
  const things: Layer[] = [
    feltCloth(seed, aspect, plates),
    ...plates.map((p, i) => flag(seed + 10 + i, random, p, plates)),
    tally(seed + 40, random, aspect),
    rope(seed + 50, random, aspect, between(random, 303, 307)),
  ];
  if (random() < 0.6) things.push(rope(seed + 60, random, aspect, between(random, 312, 322)));
  const moves = random() < 0.5;
  if (moves) things.push(moth(seed + 70, random, aspect));
  things.sort((a, b) => depthAt(b, b.plane.y0) - depthAt(a, a.plane.y0));
  return {
    name: 'Signal flags and rope splice',
    seed,
    layers: things,
    centre: [0.5, aspect / 2],
    nearMm: NEAR_MM,
    farMm: FAR_MM,
  };
}

function placePlates(random: Random, aspect: number): Plate[] {
  const count = 4 + Math.floor(random() * 2);
  return Array.from({ length: count }, (_, i) => ({
    x: 0.14 + ((i * 0.37 + random() * 0.16) % 0.74),
    y: aspect * (0.16 + ((i * 0.53 + random() * 0.2) % 0.68)),
    halfWidth: between(random, 0.1, 0.15),
    halfHeight: between(random, 0.075, 0.11),
    turn: between(random, -0.35, 0.35),
    depthMm: 314 + ((i + random() * 0.5) / count) * 26,
  }));
}

function inPlate(p: Plate, x: number, y: number): [number, number] {
  const c = Math.cos(p.turn);
  const s = Math.sin(p.turn);
  return [c * (x - p.x) + s * (y - p.y), -s * (x - p.x) + c * (y - p.y)];
}

/** Soft shadows that higher plates throw to the lower left. */
function shadowAt(x: number, y: number, depthMm: number, plates: readonly Plate[]): number {
  let light = 1;
  for (const p of plates) {
    const height = depthMm - p.depthMm;
    if (height < 1) continue;
    const reach = height * 0.0012 + 0.002;
    const [u, v] = inPlate(p, x + reach, y - reach);
    const d = boxDistance(u, v, p.halfWidth, p.halfHeight, 0.01);
    if (d < reach) light *= 1 - 0.6 * (1 - smooth(-reach, reach, d));
  }
  return light;
}

function feltCloth(seed: number, aspect: number, plates: readonly Plate[]): Layer {
  return {
    name: 'felt',
    plane: leaning(344.5, -6 / aspect, aspect / 2),
    box: { x0: -0.25, y0: -0.25, x1: 1.25, y1: aspect + 0.25 },
    shade(x, y, pixel, out) {
      smoothFelt(x, y, pixel, seed, out);
      dim(out, shadowAt(x, y, 344, plates));
    },
  };
}

/** Which of the flag's two colours a point shows. u, v in −1..1. */
type Pattern = (u: number, v: number) => number;
const PATTERNS: readonly Pattern[] = [
  (u, v) => (u < 0 === v < 0 ? 0 : 1),
  (u, v) => (Math.abs(u) < 0.24 || Math.abs(v) < 0.3 ? 1 : 0),
  (u, v) => (Math.abs(Math.abs(u) - Math.abs(v)) < 0.3 ? 1 : 0),
  (u, v) => (u < 0.5 - 1.2 * Math.abs(v) ? 1 : 0),
  (_u, v) => (Math.abs(v) < 0.36 ? 1 : 0),
  (u, v) => (Math.max(Math.abs(u), Math.abs(v)) < 0.45 ? 1 : 0),
  (u, v) => (u * u + v * v < 0.3 ? 1 : 0),
  (u, v) => (Math.floor((u + v + 2) * 1.6) % 2 === 0 ? 0 : 1),
];

function flag(seed: number, random: Random, plate: Plate, plates: readonly Plate[]): Layer {
  const pattern = PATTERNS[Math.floor(random() * PATTERNS.length)]!;
  const first = Math.floor(random() * COLOURS.length);
  const colours = [0, 1].map((k) => COLOURS[(first + k * 2) % COLOURS.length]!);
  const reach = Math.hypot(plate.halfWidth, plate.halfHeight) + 0.004;
  return {
    name: 'enamelled flag',
    plane: leaning(plate.depthMm, between(random, -26, 26), plate.y),
    box: { x0: plate.x - reach, y0: plate.y - reach, x1: plate.x + reach, y1: plate.y + reach },
    shade(x, y, pixel, out) {
      const [u, v] = inPlate(plate, x, y);
      const d = boxDistance(u, v, plate.halfWidth, plate.halfHeight, 0.008);
      out.a = coverage(d, pixel);
      if (out.a === 0) return;
      const hole = Math.hypot(Math.abs(u) - plate.halfWidth + 0.012, v);
      if (d > -0.005) {
        turnedBrass(d * 0.4, u * 3, x, y, pixel, seed, out);
        if (d > -0.0012) dim(out, 0.6);
      } else if (hole < 0.005) {
        turnedBrass(hole, v * 200, x, y, pixel, seed + 2, out);
        if (hole < 0.0028) dim(out, 0.25);
      } else {
        // Four points within the pixel soften the borders between colours.
        const colour: [number, number, number] = [0, 0, 0];
        for (const [du, dv] of [
          [-1, -1],
          [1, -1],
          [-1, 1],
          [1, 1],
        ] as const) {
          const at = pattern(
            ((u + (du * pixel) / 4) / plate.halfWidth) * 1.06,
            ((v + (dv * pixel) / 4) / plate.halfHeight) * 1.06,
          );
          for (let c = 0; c < 3; c++) colour[c] = colour[c]! + colours[at]![c]! / 4;
        }
        smoothEnamel(x, y, pixel, seed + 5, colour, out);
        dim(out, 1 + 0.18 * (-u - v) + 0.25 * (1 - smooth(0, 0.006, -d - 0.005)));
      }
      dim(out, shadowAt(x, y, plate.depthMm, plates));
    },
  };
}

function tally(seed: number, random: Random, aspect: number): Layer {
  const text = `FLAG LOCKER ${1 + Math.floor(random() * 40)}`;
  const cap = 0.021;
  const halfWidth = (textWidth(text) * cap) / 2 + 0.02;
  const x0 = between(random, 0.3, 0.7);
  const y0 = aspect * between(random, 0.1, 0.9);
  return {
    name: 'brass tally',
    plane: leaning(between(random, 308, 334), between(random, -30, 30), y0),
    box: { x0: x0 - halfWidth, y0: y0 - 0.03, x1: x0 + halfWidth, y1: y0 + 0.03 },
    shade(x, y, pixel, out) {
      const d = boxDistance(x - x0, y - y0, halfWidth, 0.028, 0.012);
      out.a = coverage(d, pixel);
      if (out.a === 0) return;
      turnedBrass(y, x * 2, x, y, pixel, seed, out);
      const letter = textDistance(text, (x - x0 + halfWidth - 0.02) / cap, (y - y0 + cap / 2) / cap) * cap;
      dim(out, 1 - 0.85 * coverage(letter - cap * 0.075, pixel));
      if (d > -0.004) dim(out, 1.3 - 0.6 * smooth(-0.004, 0, d));
    },
  };
}

/** A rope laid across in a slack curve, thicker where it is spliced. */
function rope(seed: number, random: Random, aspect: number, depthMm: number): Layer {
  const level = aspect * between(random, 0.2, 0.8);
  const sway = between(random, 0.04, 0.12);
  const rate = between(random, 2.5, 4.5);
  const phase = random() * 6;
  const tilt = between(random, -0.3, 0.3);
  const splice = between(random, 0.25, 0.75);
  const half = between(random, 0.017, 0.023);
  const middle = (x: number): number => level + sway * Math.sin(rate * x + phase) + tilt * (x - 0.5);
  const reach = sway + Math.abs(tilt) * 0.7 + half * 2;
  return {
    name: 'rope',
    plane: leaning(depthMm, 0, level),
    box: { x0: -0.2, y0: level - reach, x1: 1.2, y1: level + reach },
    shade(x, y, pixel, out) {
      const slope = rate * sway * Math.cos(rate * x + phase) + tilt;
      const across = (y - middle(x)) / Math.hypot(1, slope);
      const inSplice = smooth(0.12, 0.06, Math.abs(x - splice));
      const width =
        half * (1 + 0.38 * inSplice + 0.06 * inSplice * Math.sin(x * 180)) * (1 + 0.04 * valueNoise(x * 60, 3, seed));
      out.a = coverage(Math.abs(across) - width, pixel);
      if (out.a === 0) return;
      laidRope((x * Math.hypot(1, slope)) / width, across / width, pixel / width, seed, out);
      if (inSplice > 0.5) dim(out, 0.85 + 0.3 * valueNoise(x * 90, across / width, seed + 4));
    },
  };
}

/** A small moth that walks a little between frames: what makes a ghost in a stack. */
function moth(seed: number, random: Random, aspect: number): Layer {
  const x0 = between(random, 0.25, 0.7);
  const y0 = aspect * between(random, 0.3, 0.7);
  const heading = random() * 2 * Math.PI;
  const speed = between(random, 0.001, 0.003);
  const size = 0.016;
  const span = speed * 90 + size * 2;
  const at = (t: number): [number, number] => [
    x0 + Math.cos(heading) * speed * t,
    y0 + Math.sin(heading + 0.3 * Math.sin(t / 9)) * speed * t,
  ];
  return {
    name: 'moth',
    plane: leaning(310, 0, y0),
    box: { x0: x0 - span, y0: y0 - span, x1: x0 + span, y1: y0 + span },
    boxAt(t) {
      const [x, y] = at(t);
      return { x0: x - size * 1.6, y0: y - size * 1.6, x1: x + size * 1.6, y1: y + size * 1.6 };
    },
    motion: { kind: 'object', unitsPerS: speed },
    shade(x, y, pixel, out, timeS) {
      const [mx, my] = at(timeS);
      const c = Math.cos(heading);
      const s = Math.sin(heading);
      const u = (c * (x - mx) + s * (y - my)) / size;
      const v = (-s * (x - mx) + c * (y - my)) / size;
      drawMoth(u, v, pixel / size, seed, out);
    },
  };
}

function drawMoth(u: number, v: number, pixel: number, seed: number, out: Shade): void {
  const side = Math.abs(v);
  const body = Math.hypot(u / 0.75, side / 0.16) - 1;
  const wing = Math.max(
    Math.hypot((u + 0.25) / 0.75, (side - 0.5) / 0.62) - 1,
    -u - 0.75 + side * 0.3,
    u - 0.55 + side * 0.35,
  );
  out.a = coverage(Math.min(body * 0.16, wing * 0.6), pixel);
  if (out.a === 0) return;
  const band = valueNoise(u * 5, side * 4, seed) + 0.6 * Math.sin(9 * Math.hypot(u - 0.6, side));
  const v0 = body < 0 ? 0.07 + 0.05 * valueNoise(u * 14, v * 14, seed + 2) : 0.3 + 0.12 * band;
  out.r = v0;
  out.g = v0 * 0.8;
  out.b = v0 * 0.58;
}
