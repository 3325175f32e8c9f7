// The signal station's brick tower.
import { EYE_M } from './coveGround';
import { textDistance, textWidth } from './glyphs';
import { boxDistance, coverage, dim, facing, smooth, tint, type Layer, type Shade } from './layer';
import { brick, weatheredPaint } from './outdoors';
import { valueNoise } from './random';
import { standing } from './standing';

/** A round brick tower with a lantern, a door and its name. */
export function tower(seed: number, x0: number): Layer {
  const distanceM = 33;
  const board = standing(x0, distanceM);
  const heightM = 13.5;
  const base = EYE_M;
  const radius = (v: number): number => 2.1 + 0.35 * ((v - base + heightM) / heightM);
  return {
    name: 'brick tower',
    plane: facing(distanceM * 1000),
    box: {
      x0: x0 - 3.4 * board.perMetreX,
      y0: (base - heightM - 3.4) * board.perMetreY,
      x1: x0 + 3.4 * board.perMetreX,
      y1: (base + 0.15) * board.perMetreY,
    },
    shade(x, y, pixel, out) {
      const [u, v] = board.toLocal(x, y);
      const p = pixel * distanceM;
      const top = base - heightM;
      const shaft = Math.max(Math.abs(u) - radius(v), top - v, v - base - 0.1 - 0.08 * valueNoise(u * 4, 1, seed));
      const gallery = boxDistance(u, v - top, 2.9, 0.16, 0.03);
      const lantern = Math.max(Math.abs(u) - 1.35, top - 2.0 - v, v - top);
      const roof = Math.max(top - 2.9 - v, v - top + 2.0, Math.abs(u) - 1.55 * ((v - top + 2.9) / 0.9));
      const rod = Math.max(Math.abs(u) - 0.035, top - 3.3 - v, v - top + 2.8);
      out.a = coverage(Math.min(shaft, gallery, lantern, roof, rod), p);
      if (out.a === 0) return;
      if (shaft < 0) shadeShaft(u, v, p, seed, radius(v), base, out);
      else if (lantern < 0) shadeLantern(u, v - top, p, seed, out);
      else if (roof < 0 || rod < 0) weatheredPaint(u, v, p, seed + 3, [0.035, 0.09, 0.075], out);
      else weatheredPaint(u, v, p, seed + 4, [0.6, 0.58, 0.53], out);
      if (gallery > -0.3 && gallery < 0 && v > top) dim(out, 0.7);
    },
  };
}

function shadeShaft(u: number, v: number, p: number, seed: number, radius: number, base: number, out: Shade): void {
  const round = Math.max(-0.999, Math.min(0.999, u / radius));
  const along = Math.asin(round) * radius;
  const up = base - v;
  if (up > 5.4 && up < 8.2) weatheredPaint(along, v, p, seed + 5, [0.62, 0.6, 0.56], out);
  else brick(along, v + 40, p, seed, out);
  for (const [height, tall] of [
    [3.7, 0.7],
    [10.4, 0.8],
  ] as const) {
    const pane = boxDistance(along, up - height, 0.42, tall, 0.05);
    if (pane < 0.12 && pane >= 0) weatheredPaint(along, v, p, seed + 6, [0.5, 0.48, 0.44], out);
    if (pane < 0) {
      const bar = Math.min(Math.abs(along), Math.abs(up - height));
      const glass = 0.08 + 0.2 * smooth(-0.4, 0.6, valueNoise(along * 3, up * 2, seed + 9));
      out.r = out.g = out.b = bar < 0.03 ? 0.5 : glass;
      if (bar >= 0.03) out.b *= 1.25;
    }
  }
  const door = boxDistance(along, up - 1.05, 0.5, 1.0, 0.05);
  if (door < 0) weatheredPaint(v, along, p, seed + 7, [0.03, 0.11, 0.16], out);
  const name = 'KESTREL POINT';
  const cap = 0.36;
  const letter = textDistance(name, along / cap + textWidth(name) / 2, (7.0 - up) / cap) * cap;
  const ink = coverage(letter - cap * 0.09, p);
  if (up > 5.4 && up < 8.2) tint(out, 0.05, 0.05, 0.06, ink);
  dim(out, 0.42 + 0.7 * Math.sqrt(Math.max(0, 1 - (round + 0.35) ** 2 * 0.55)));
}

function shadeLantern(u: number, v: number, p: number, seed: number, out: Shade): void {
  const bar = Math.abs((((u + 5) * 1.5) % 1) - 0.5) / 1.5;
  const cross = Math.abs(v + 1.0);
  if (bar < 0.05 || cross < 0.05) {
    weatheredPaint(u, v, p, seed + 3, [0.04, 0.1, 0.08], out);
    return;
  }
  const lens = smooth(0.8, 0.2, Math.abs(u)) * (0.6 + 0.4 * Math.sin(v * 26));
  const reflection = smooth(0.1, 0.7, valueNoise(u * 1.5, v * 0.9, seed + 2));
  out.r = 0.16 + 0.4 * lens + 0.3 * reflection;
  out.g = 0.2 + 0.36 * lens + 0.33 * reflection;
  out.b = 0.24 + 0.2 * lens + 0.36 * reflection;
}
