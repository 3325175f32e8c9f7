// The lamp room: tall bright windows with the sea outside, dark machinery inside, a pendulum that swings, a curtain that moves.
import { curtain, pendulum } from './curtainAndPendulum';
import { textDistance, textWidth } from './glyphs';
import {
  boxDistance,
  coverage,
  dim,
  facing,
  levelGround,
  smooth,
  tint,
  type Layer,
  type Shade,
  type World,
} from './layer';
import { prismGlass, turnedBrass } from './metalAndGlass';
import { brick, rock, sky, water, weatheredPaint, type Weather } from './outdoors';
import { between, fractalNoise, makeRandom, valueNoise, type Random } from './random';
import { EYE_M, FLOOR_Y, roomLight, WALL_M, type Window } from './windowLight';

export interface LampRoomOptions {
  /** 1 is a fresh breeze through the window, 0 is calm. */
  readonly wind: number;
}

/**
 * Lays the lamp room out. Scene units are tangents; the horizon is y = 0. At the nominal exposure the room is dark (0.01 to
 * 0.2 of white) and the outside far too bright (1 to 12): a range of some ten exposure steps.
 * @param seed any whole number
 */
export function lampRoom(seed: number, { wind }: LampRoomOptions): World {
  const random = makeRandom(seed * 4211 + 13);
  const weather: Weather = { sunRad: between(random, -0.35, 0.35), cloud: between(random, 0.1, 0.4), seed: seed + 700 };
  const bright = between(random, 9, 14);
  const windows = placeWindows(random);
  const layers: Layer[] = [
    outsideSky(weather, bright),
    outsideSea(weather, bright, wind),
    outsideIsle(seed + 5, random, bright),
    floor(seed + 10, windows),
    wall(seed + 20, windows),
    curtain(seed + 30, random, windows, wind),
    apparatus(seed + 40, random, windows),
    pendulum(seed + 50, random, windows),
    chest(seed + 60, random),
  ];
  return { name: 'The lamp room at Kestrel Point', seed, layers, centre: [0, 0], nearMm: 1900, farMm: Infinity };
}

function placeWindows(random: Random): Window[] {
  const count = random() < 0.5 ? 2 : 3;
  const gap = count === 2 ? 0.52 : 0.36;
  const shift = between(random, -0.06, 0.06);
  return Array.from({ length: count }, (_, i) => ({
    x: shift + (i - (count - 1) / 2) * gap,
    halfWidth: between(random, 0.085, 0.115),
    top: -between(random, 0.26, 0.31),
    sill: between(random, 0.07, 0.12),
  }));
}

function brighten(out: Shade, by: number): void {
  dim(out, by);
  out.a = 1;
}

function outsideSky(weather: Weather, bright: number): Layer {
  return {
    name: 'sky outside',
    plane: facing(1e10),
    box: { x0: -2, y0: -2, x1: 2, y1: 0.01 },
    shade(x, y, pixel, out, timeS) {
      sky(Math.atan(x), -y, pixel, weather, timeS, out);
      // The sun's own disc burns out in every exposure.
      const sun = Math.hypot(x - Math.tan(weather.sunRad), y + 0.16);
      brighten(out, bright);
      const glare = 60 * smooth(0.017, 0.012, sun) + 6 * Math.exp(-((sun / 0.035) ** 2));
      out.r += bright * glare;
      out.g += bright * glare * 0.96;
      out.b += bright * glare * 0.85;
    },
  };
}

function outsideSea(weather: Weather, bright: number, wind: number): Layer {
  const below = 21;
  return {
    name: 'sea outside',
    plane: levelGround(below * 1000),
    box: { x0: -2, y0: 0, x1: 2, y1: 0.5 },
    motion: { kind: 'texture', unitsPerS: 0.006 * wind },
    shade(x, y, pixel, out, timeS) {
      const down = Math.max(y, 2e-4);
      const z = below / down;
      water(x * z, z, down, (pixel * z) / Math.sqrt(Math.min(1, down * 6)), weather, timeS * wind, out);
      brighten(out, bright);
      out.a = coverage(-y, pixel);
    },
  };
}

/** A rock with a beacon, out at sea: the outside detail that a clipped window loses. */
function outsideIsle(seed: number, random: Random, bright: number): Layer {
  const x0 = between(random, -0.3, 0.3);
  const half = between(random, 0.1, 0.2);
  const d = 300;
  const top = (x: number): number =>
    0.006 - 0.06 * Math.max(0, 1 - ((x - x0) / half) ** 2) * (0.7 + 0.5 * fractalNoise(x, 1, seed, 18, 5, 0.55));
  return {
    name: 'isle outside',
    plane: facing(d * 1000),
    box: { x0: x0 - half, y0: -0.17, x1: x0 + half, y1: 0.02 },
    shade(x, y, pixel, out) {
      const beacon = Math.max(Math.abs(x - x0) - 0.006, -0.12 - y, y);
      const cage = Math.max(Math.abs(x - x0) - 0.011, -0.136 - y, y + 0.12);
      const stone = Math.max(top(x) - y, y - 0.012);
      out.a = coverage(Math.min(beacon, cage, stone), pixel);
      if (out.a === 0) return;
      if (stone < 0 && Math.min(beacon, cage) > 0) rock(x * d, y * d, pixel * d, seed, out);
      else
        weatheredPaint(
          y * 40,
          x * 40,
          pixel * 40,
          seed + 1,
          Math.floor((y + 1) * 30) % 2 ? [0.5, 0.05, 0.04] : [0.7, 0.68, 0.64],
          out,
        );
      dim(out, bright * 0.8);
    },
  };
}

function floor(seed: number, windows: readonly Window[]): Layer {
  return {
    name: 'floor',
    plane: levelGround(EYE_M * 1000),
    box: { x0: -3, y0: FLOOR_Y - 0.01, x1: 3, y1: 2 },
    shade(x, y, pixel, out) {
      const z = EYE_M / Math.max(0.05, y);
      const u = x * z;
      const plank = Math.floor(u / 0.16);
      const inPlank = u / 0.16 - plank;
      const grain = valueNoise(u * 60, z * 2.4 + plank * 7, seed) + 0.6 * valueNoise(u * 160, z * 5, seed + plank);
      const tone = 0.3 * (1 + 0.16 * grain) * (0.8 + 0.4 * valueNoise(plank * 3.7, 1, seed + 2));
      const seam = Math.min(inPlank, 1 - inPlank) * 0.16 < 0.004 + pixel ? 0.35 : 1;
      out.r = tone * seam;
      out.g = tone * 0.66 * seam;
      out.b = tone * 0.4 * seam;
      // Patches of window light stretch over the boards towards the viewer.
      let patch = 0;
      for (const w of windows) {
        const spread = w.halfWidth * (1 + (y - FLOOR_Y) * 1.2);
        const across = Math.abs(x - w.x * (1 + (y - FLOOR_Y) * 1.4));
        const bar = Math.abs(across) < 0.008 ? 0.3 : 1;
        patch += smooth(spread, spread - 0.03, across) * smooth(0.7, 0.45, y) * bar;
      }
      dim(out, roomLight(x, y, windows) * 0.9 + 0.75 * patch);
    },
  };
}

function wall(seed: number, windows: readonly Window[]): Layer {
  return {
    name: 'wall',
    plane: facing(WALL_M * 1000),
    box: { x0: -3, y0: -2, x1: 3, y1: FLOOR_Y + 0.005 },
    shade(x, y, pixel, out) {
      let opening = Infinity;
      let frame = Infinity;
      let bars = Infinity;
      for (const w of windows) {
        const middle = (w.top + w.sill) / 2;
        const tall = (w.sill - w.top) / 2;
        const hole = boxDistance(x - w.x, y - middle, w.halfWidth, tall, 0.01);
        opening = Math.min(opening, hole);
        frame = Math.min(frame, Math.abs(hole) - 0.012);
        if (hole < 0) {
          const across = Math.abs(x - w.x);
          const up = ((y - w.top) / (w.sill - w.top)) * 4;
          const cross = (Math.abs(up - Math.round(up)) * (w.sill - w.top)) / 4;
          bars = Math.min(across, cross) - 0.0042;
        }
      }
      const solid = Math.min(-opening, frame, bars);
      out.a = coverage(solid, pixel);
      if (out.a === 0) return;
      const m = WALL_M;
      if (Math.min(frame, bars) < 0) {
        weatheredPaint(y * m, x * m, pixel * m, seed + 2, [0.5, 0.48, 0.42], out);
        if (bars < 0 && frame > 0) dim(out, 0.35);
      } else if (y > 0.2) {
        weatheredPaint(x * m, y * m, pixel * m, seed + 3, [0.09, 0.2, 0.17], out);
        const panel = Math.abs((((x + 4) / 0.13) % 1) - 0.5) * 0.13;
        if (panel < 0.004 || Math.abs(y - 0.215) < 0.006) dim(out, 0.5);
      } else {
        brick(x * m + 30, y * m + 30, pixel * m, seed, out);
        tint(out, 0.5, 0.47, 0.4, 0.55);
      }
      dim(out, roomLight(x, y, windows));
    },
  };
}

/** The lamp on its pedestal: iron column, brass works, a ring of prisms. */
function apparatus(seed: number, random: Random, windows: readonly Window[]): Layer {
  const x0 = between(random, -0.16, 0.16);
  const lensY = -0.05;
  const radius = between(random, 0.1, 0.125);
  const foot = EYE_M / 3;
  return {
    name: 'lamp',
    plane: facing(3000),
    box: { x0: x0 - 0.22, y0: lensY - radius - 0.09, x1: x0 + 0.22, y1: foot + 0.01 },
    shade(x, y, pixel, out) {
      const u = x - x0;
      const r = Math.hypot(u, y - lensY);
      const ring = r - radius;
      const cap = Math.max(Math.abs(u) - 0.05, lensY - radius - 0.07 - y, y - lensY + radius - 0.01);
      const column = Math.max(Math.abs(u) - 0.035 - 0.02 * smooth(0.3, 0.5, y), lensY - y, y - foot);
      const table = boxDistance(u, y - 0.14, 0.15, 0.016, 0.006);
      const gear =
        Math.hypot(u - 0.07, y - 0.21) - 0.055 - 0.004 * Math.sign(Math.sin(Math.atan2(y - 0.21, u - 0.07) * 28));
      const plinth = boxDistance(u, y - foot + 0.02, 0.15, 0.03, 0.006);
      out.a = coverage(Math.min(ring, cap, column, table, gear, plinth), pixel);
      if (out.a === 0) return;
      const angle = Math.atan2(y - lensY, u);
      if (gear < 0) turnedBrass(gear + 0.055, Math.atan2(y - 0.21, u - 0.07), x, y, pixel, seed, out);
      else if (ring < 0 && r > radius * 0.88) turnedBrass(r, angle, x, y, pixel, seed + 1, out);
      else if (ring < 0) prismGlass(r / (radius * 0.88), angle, x, y, pixel, seed + 2, out);
      else {
        weatheredPaint(y * 3, u * 3, pixel * 3, seed + 3, [0.03, 0.085, 0.06], out);
        dim(out, 0.5 + 0.7 * Math.sqrt(Math.max(0, 1 - (u / 0.06 + 0.3) ** 2 * 0.5)));
      }
      if (table < 0) turnedBrass(y, u * 4, x, y, pixel, seed + 4, out);
      const inside = ring < 0 && r < radius * 0.88;
      dim(out, roomLight(x, y, windows) * (inside ? 2.6 : 1.25));
    },
  };
}

/** A sea chest in the foreground with its owner's name. */
function chest(seed: number, random: Random): Layer {
  const x0 = between(random, -0.45, 0.45);
  const d = 2;
  const top = 0.37;
  const text = `SIGNALS ${1 + Math.floor(random() * 9)}`;
  return {
    name: 'chest',
    plane: facing(d * 1000),
    box: { x0: x0 - 0.24, y0: top - 0.01, x1: x0 + 0.24, y1: EYE_M / d + 0.02 },
    shade(x, y, pixel, out) {
      const body = boxDistance(x - x0, y - top - 0.15, 0.22, 0.15, 0.012);
      out.a = coverage(body, pixel);
      if (out.a === 0) return;
      weatheredPaint((x - x0) * d, (y - top) * d, pixel * d, seed, [0.13, 0.16, 0.2], out);
      const band = Math.abs(Math.abs(x - x0) - 0.17) < 0.014 || Math.abs(y - top - 0.07) < 0.005;
      if (band) turnedBrass(y, x * 3, x, y, pixel, seed + 1, out);
      const cap = 0.034;
      const letter = textDistance(text, (x - x0) / cap + textWidth(text) / 2, (y - top - 0.12) / cap) * cap;
      tint(out, 0.6, 0.56, 0.44, coverage(letter - cap * 0.08, pixel));
      dim(out, 0.085 + 0.05 * smooth(0.02, 0, y - top));
    },
  };
}
