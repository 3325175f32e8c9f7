// What moves in the lamp room.
import { coverage, dim, facing, smooth, type Box, type Layer } from './layer';
import { turnedBrass } from './metalAndGlass';
import { between, valueNoise, type Random } from './random';
import { FLOOR_Y, roomLight, WALL_M, type Window } from './windowLight';

/** A long curtain beside the last window; its free edge sways. */
export function curtain(seed: number, random: Random, windows: readonly Window[], wind: number): Layer {
  const w = random() < 0.5 ? windows[windows.length - 1]! : windows[0]!;
  const side = w === windows[0] ? -1 : 1;
  const hem = FLOOR_Y - 0.05;
  const top = w.top - 0.05;
  const rate = between(random, 1.1, 1.8);
  const sway = between(random, 0.02, 0.035) * wind;
  const outer = w.x + side * (w.halfWidth + 0.11);
  const rest = w.x + side * (w.halfWidth - 0.035);
  return {
    name: 'curtain',
    plane: facing(WALL_M * 1000 - 180),
    box: {
      x0: Math.min(outer, rest) - 0.06,
      y0: top - 0.02,
      x1: Math.max(outer, rest) + 0.06,
      y1: hem + 0.02,
    },
    motion: { kind: 'object', unitsPerS: sway * rate * 1.4 },
    shade(x, y, pixel, out, timeS) {
      const hang = Math.max(0, (y - top) / (hem - top));
      const swing = sway * hang * hang * Math.sin(rate * timeS + 2.2 * hang + seed);
      const edge = rest + swing - 0.02 * side * Math.sin(hang * 3);
      const inside = side > 0 ? Math.min(x - edge, outer - x) : Math.min(edge - x, x - outer);
      out.a = coverage(Math.max(-inside, top - y, y - hem - 0.006 * Math.sin(x * 90 + seed)), pixel);
      if (out.a === 0) return;
      const fold = Math.sin((x - swing * 0.8) * 150 + 2 * valueNoise(x * 9, y * 3, seed)) * 0.5 + 0.5;
      const weave = valueNoise(x / (pixel * 2.2), y / (pixel * 2.2), seed + 1);
      const stripe = Math.abs((((((x - swing * 0.8) * 24) % 1) + 1) % 1) - 0.5) < 0.12;
      const v = 0.4 * (0.45 + 0.55 * fold) * (1 + 0.12 * weave);
      out.r = v * (stripe ? 0.5 : 1);
      out.g = v * (stripe ? 0.3 : 0.86);
      out.b = v * (stripe ? 0.25 : 0.62);
      // Daylight shines through the cloth in front of the glass.
      const lit = smooth(w.halfWidth + 0.02, w.halfWidth - 0.02, Math.abs(x - w.x)) * smooth(w.sill, w.sill - 0.02, y);
      dim(out, roomLight(x, y, windows) * 1.2 + 0.9 * lit);
    },
  };
}

/** A clock pendulum that hangs from above and swings across a window's edge. */
export function pendulum(seed: number, random: Random, windows: readonly Window[]): Layer {
  const w = windows[Math.floor(random() * windows.length)]!;
  const pivot: readonly [number, number] = [w.x + (random() < 0.5 ? -1 : 1) * w.halfWidth, -0.55];
  const length = between(random, 0.46, 0.54);
  const swing = between(random, 0.12, 0.2);
  // Period of a pendulum 1.4 m long: 2π·√(l/g) = 2.4 s.
  const rate = (2 * Math.PI) / 2.4;
  const phase = random() * 6;
  const bob = 0.034;
  const angleAt = (t: number): number => swing * Math.sin(rate * t + phase);
  const box = (t: number): Box => {
    const a = angleAt(t);
    const x = pivot[0] + length * Math.sin(a);
    return {
      x0: Math.min(pivot[0], x) - bob,
      y0: pivot[1] - 0.02,
      x1: Math.max(pivot[0], x) + bob,
      y1: pivot[1] + length + bob,
    };
  };
  return {
    name: 'pendulum',
    plane: facing(2600),
    box: {
      x0: pivot[0] - length * swing - bob,
      y0: pivot[1] - 0.02,
      x1: pivot[0] + length * swing + bob,
      y1: pivot[1] + length + bob,
    },
    boxAt: box,
    motion: { kind: 'object', unitsPerS: length * swing * rate },
    shade(x, y, pixel, out, timeS) {
      const a = angleAt(timeS);
      const u = Math.cos(a) * (x - pivot[0]) - Math.sin(a) * (y - pivot[1]);
      const v = Math.sin(a) * (x - pivot[0]) + Math.cos(a) * (y - pivot[1]);
      const rod = Math.max(Math.abs(u) - 0.0035, -v, v - length);
      const disc = Math.hypot(u, v - length) - bob;
      out.a = coverage(Math.min(rod, disc), pixel);
      if (out.a === 0) return;
      turnedBrass(Math.hypot(u, v - length), Math.atan2(v - length, u), u, v, pixel, seed, out);
      if (disc < 0 && disc > -0.004) dim(out, 0.5);
      dim(out, roomLight(x, y, windows) * 1.6);
    },
  };
}
