// The gear train and prism lens of the signal lamp at the Kestrel Point Signal Station, laid out from a seed.
import { textDistance, textWidth } from './glyphs';
import { boxDistance, coverage, depthAt, dim, leaning, smooth, type Layer, type Shade, type World } from './layer';
import { brushedSteel, felt, hammeredEnamel, prismGlass, turnedBrass } from './metalAndGlass';
import { between, makeRandom, type Random } from './random';

interface Disc {
  readonly x: number;
  readonly y: number;
  readonly radius: number;
  readonly depthMm: number;
}

const NEAR_MM = 300;
const FAR_MM = 348;

/**
 * Lays the lamp's works out: felt bench, enamelled plate, name plate, four to six wheels, the prism ring, a steel arbor.
 * @param seed any whole number; layout, texture, engraving and depth follow from it
 * @param aspect height / width of the picture, 0.3 to 2
 */
export function gearTrain(seed: number, aspect: number): World {
  const random = makeRandom(seed * 7919 + 17);
  const wheels = placeWheels(random, aspect);
  const prism: Disc = {
    x: between(random, 0.68, 0.78),
    y: aspect * between(random, 0.25, 0.4),
    radius: between(random, 0.15, 0.2),
    depthMm: between(random, 311, 321),
  };
  const shadows = [...wheels, prism];
  const things: Layer[] = [
    bench(seed, aspect, shadows),
    enamelPlate(seed + 1, random, aspect, shadows),
    namePlate(seed + 2, random, aspect, shadows),
    ...wheels.map((w, i) => wheel(seed + 10 + i, random, w, shadows)),
    prismRing(seed + 30, prism, shadows),
    arbor(seed + 40, random, aspect),
  ];
  const middle = (layer: Layer): number => depthAt(layer, layer.plane.y0);
  things.sort((a, b) => middle(b) - middle(a));
  return {
    name: 'Signal lamp gear train',
    seed,
    layers: things,
    centre: [0.5, aspect / 2],
    nearMm: NEAR_MM,
    farMm: FAR_MM,
  };
}

function placeWheels(random: Random, aspect: number): Disc[] {
  const count = 4 + Math.floor(random() * 3);
  return Array.from({ length: count }, (_, i) => ({
    x: between(random, 0.08, 0.72) + (i % 2 ? 0.14 : 0),
    y: aspect * between(random, 0.12, 0.9),
    radius: between(random, 0.09, 0.2),
    depthMm: 304 + ((i + random() * 0.6) / count) * 32,
  }));
}

/** Darkening by nearer discs: a soft shadow thrown to the lower right, wider the higher the disc stands. */
function shadowAt(x: number, y: number, depthMm: number, discs: readonly Disc[]): number {
  let light = 1;
  for (const d of discs) {
    const height = depthMm - d.depthMm;
    if (height < 1) continue;
    const reach = height * 0.0011;
    const dx = x - d.x - reach;
    const dy = y - d.y - reach;
    const outside = d.radius + reach * 0.7 + 0.004;
    if (dx * dx + dy * dy >= outside * outside) continue;
    const distance = Math.hypot(dx, dy) - d.radius;
    light *= 1 - 0.55 * (1 - smooth(-reach * 0.7 - 0.004, reach * 0.7 + 0.004, distance));
  }
  return light;
}

function bench(seed: number, aspect: number, discs: readonly Disc[]): Layer {
  return {
    name: 'felt bench',
    plane: leaning(344, -7 / aspect, aspect / 2),
    box: { x0: -0.2, y0: -0.2, x1: 1.2, y1: aspect + 0.2 },
    shade(x, y, pixel, out) {
      felt(x, y, pixel, seed, out);
      dim(out, shadowAt(x, y, 343, discs));
      out.a = 1;
    },
  };
}

function enamelPlate(seed: number, random: Random, aspect: number, discs: readonly Disc[]): Layer {
  const cx = between(random, 0.3, 0.7);
  const cy = aspect * between(random, 0.35, 0.65);
  const hw = between(random, 0.22, 0.34);
  const hh = between(random, 0.16, 0.26) * aspect * 1.3;
  return {
    name: 'enamelled plate',
    plane: leaning(338, 0, cy),
    box: { x0: cx - hw, y0: cy - hh, x1: cx + hw, y1: cy + hh },
    shade(x, y, pixel, out) {
      const d = boxDistance(x - cx, y - cy, hw, hh, 0.02);
      out.a = coverage(d, pixel);
      if (out.a === 0) return;
      hammeredEnamel(x, y, pixel, seed, out);
      const ux = hw - 0.03 - Math.abs(x - cx);
      const uy = hh - 0.03 - Math.abs(y - cy);
      const rivet = Math.hypot(ux, uy);
      if (rivet < 0.014) turnedBrass(rivet, Math.atan2(uy, ux), x, y, pixel, seed + 3, out);
      else if (d > -0.008) dim(out, 1.9 - 1.2 * smooth(-0.008, 0, d));
      dim(out, shadowAt(x, y, 337, discs));
    },
  };
}

function namePlate(seed: number, random: Random, aspect: number, discs: readonly Disc[]): Layer {
  const lines = ['KESTREL POINT', 'SIGNAL STATION', `LAMP NO ${1 + Math.floor(random() * 98)}`];
  const hw = between(random, 0.16, 0.22);
  const hh = 0.075;
  const cx = between(random, 0.25, 0.75);
  const cy = aspect * between(random, 0.72, 0.86);
  const cap = (2 * hw * 0.82) / Math.max(...lines.map(textWidth));
  return {
    name: 'name plate',
    plane: leaning(between(random, 325, 332), -40, cy),
    box: { x0: cx - hw, y0: cy - hh, x1: cx + hw, y1: cy + hh },
    shade(x, y, pixel, out) {
      const d = boxDistance(x - cx, y - cy, hw, hh, 0.008);
      out.a = coverage(d, pixel);
      if (out.a === 0) return;
      brushedSteel(x, y, pixel, seed, out);
      out.r *= 1.15;
      out.b *= 0.62;
      const row = Math.floor((y - cy + hh) / (hh * 0.62) - 0.12);
      const text = lines[row];
      if (text) {
        const top = cy - hh + (row + 0.3) * hh * 0.62;
        const left = cx - (textWidth(text) * cap) / 2;
        engrave(textDistance(text, (x - left) / cap, (y - top) / cap) * cap, cap * 0.07, pixel, out);
      }
      if (d > -0.006) dim(out, 1.5 - 0.9 * smooth(-0.004, 0, d));
      dim(out, shadowAt(x, y, 329, discs));
    },
  };
}

function engrave(distance: number, halfWidth: number, pixel: number, out: Shade): void {
  const cut = coverage(distance - halfWidth, pixel);
  if (cut > 0) dim(out, 1 - 0.86 * cut);
  else dim(out, 1 + 0.35 * (1 - smooth(halfWidth, halfWidth * 1.9, distance)));
}

function wheel(seed: number, random: Random, disc: Disc, discs: readonly Disc[]): Layer {
  const teeth = Math.round(disc.radius * between(random, 190, 300));
  const spokes = 3 + Math.floor(random() * 4);
  const turn = random() * Math.PI * 2;
  const depthOfTooth = (disc.radius * 2.4) / teeth + 0.004;
  const hub = disc.radius * between(random, 0.2, 0.28);
  const rim = disc.radius * between(random, 0.7, 0.78);
  const solid = random() < 0.3;
  const spokeHalf = disc.radius * 0.07;
  const matt = random() < 0.25;
  return {
    name: `wheel of ${teeth} teeth`,
    plane: leaning(disc.depthMm, between(random, -14, 14), disc.y),
    box: around(disc, disc.radius + 0.002),
    shade(x, y, pixel, out) {
      const dx = x - disc.x;
      const dy = y - disc.y;
      const r = Math.hypot(dx, dy);
      const angle = Math.atan2(dy, dx) + turn;
      const saw = Math.abs((((((angle * teeth) / (2 * Math.PI)) % 1) + 1) % 1) - 0.5) * 2;
      const outer = disc.radius - depthOfTooth * smooth(0.3, 0.7, saw);
      let d = r - outer;
      if (!solid) {
        const sector = (2 * Math.PI) / spokes;
        const spokeAngle = (((angle % sector) + sector) % sector) - sector / 2;
        const toSpoke = Math.abs(Math.sin(spokeAngle) * r) - spokeHalf * (1 + 0.5 * smooth(rim * 0.75, rim, r));
        d = Math.max(d, Math.min(rim - r, toSpoke, r - hub));
      }
      d = Math.max(d, disc.radius * 0.055 - r);
      out.a = coverage(d, pixel);
      if (out.a === 0) return;
      if (matt) hammeredEnamel(x, y, pixel, seed, out);
      else turnedBrass(r, angle, x, y, pixel, seed, out);
      markScale(r, angle, disc, rim, pixel, out);
      if (d > -0.003) dim(out, d > -0.0012 ? 0.55 : 1.35);
      dim(out, shadowAt(x, y, disc.depthMm, discs));
    },
  };
}

/** Division marks and figures engraved round the rim. */
function markScale(r: number, angle: number, disc: Disc, rim: number, pixel: number, out: Shade): void {
  const marks = 72;
  const step = (2 * Math.PI) / marks;
  const k = Math.round(angle / step);
  const across = Math.abs(angle - k * step) * r;
  const long = k % 6 === 0;
  const inner = rim + disc.radius * 0.035;
  const outer = inner + disc.radius * (long ? 0.085 : 0.05);
  if (r > inner && r < outer) engrave(across, disc.radius * 0.0035 + pixel * 0.4, pixel, out);
  if (disc.radius > 0.12 && r > disc.radius * 0.12 && r < disc.radius * 0.2) {
    const cap = disc.radius * 0.06;
    const text = String(Math.round(disc.radius * 1000));
    const run = ((angle + Math.PI) / (2 * Math.PI)) * 2 * Math.PI * disc.radius * 0.16;
    engrave(textDistance(text, run / cap - 2, (disc.radius * 0.19 - r) / cap) * cap, cap * 0.08, pixel, out);
  }
}

function prismRing(seed: number, disc: Disc, discs: readonly Disc[]): Layer {
  const bezel = disc.radius * 0.9;
  const core = disc.radius * 0.24;
  return {
    name: 'prism lens',
    plane: leaning(disc.depthMm, 0, disc.y),
    box: around(disc, disc.radius + 0.002),
    shade(x, y, pixel, out) {
      const dx = x - disc.x;
      const dy = y - disc.y;
      const r = Math.hypot(dx, dy);
      const angle = Math.atan2(dy, dx);
      out.a = coverage(r - disc.radius, pixel);
      if (out.a === 0) return;
      if (r > bezel) {
        turnedBrass(r, angle, x, y, pixel, seed, out);
        if (r < bezel + 0.003) dim(out, 0.4);
      } else if (r > core) {
        prismGlass((r - core) / (bezel - core), angle, x, y, pixel, seed, out);
      } else {
        prismGlass(0.3 + (0.3 * r) / core, angle * 0.5 + 2, x, y, pixel, seed + 5, out);
      }
      dim(out, shadowAt(x, y, disc.depthMm, discs));
    },
  };
}

function arbor(seed: number, random: Random, aspect: number): Layer {
  const half = between(random, 0.012, 0.02);
  const y0 = aspect * between(random, 0.3, 0.75);
  const slope = between(random, -0.35, 0.35);
  const length = Math.hypot(1, slope);
  const ticks = 0.02;
  return {
    name: 'steel arbor',
    plane: leaning(NEAR_MM + 1, 0, y0),
    box: { x0: -0.1, y0: y0 - Math.abs(slope) * 0.6 - 0.05, x1: 1.1, y1: y0 + Math.abs(slope) * 0.6 + 0.05 },
    shade(x, y, pixel, out) {
      const across = (y - y0 - slope * (x - 0.5)) / length;
      const along = (x + slope * (y - y0)) / length;
      const d = Math.abs(across) - half;
      out.a = coverage(d, pixel);
      if (out.a === 0) return;
      brushedSteel(along, across, pixel, seed, out);
      const round = across / half;
      dim(out, 0.35 + 1.5 * Math.exp(-((round + 0.35) ** 2) * 9) + 0.5 * (1 - round * round));
      const k = Math.abs(((((along / ticks) % 1) + 1) % 1) - 0.5) * ticks;
      if (round > 0.1) engrave(Math.abs(k - ticks * 0.25), ticks * 0.035, pixel, out);
    },
  };
}

function around(disc: Disc, reach: number): Layer['box'] {
  return { x0: disc.x - reach, y0: disc.y - reach, x1: disc.x + reach, y1: disc.y + reach };
}
