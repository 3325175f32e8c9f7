// The signal mast with its stays, cable and flag.
import { EYE_M } from './coveGround';
import { coverage, dim, facing, tint, type Layer } from './layer';
import { weatheredPaint } from './outdoors';
import { between, valueNoise, type Random } from './random';
import { standing } from './standing';

/** Distance to a line from (x0, y0) to (x1, y1), metres. */
function lineDistance(u: number, v: number, x0: number, y0: number, x1: number, y1: number): number {
  const dx = x1 - x0;
  const dy = y1 - y0;
  const t = Math.min(1, Math.max(0, ((u - x0) * dx + (v - y0) * dy) / (dx * dx + dy * dy)));
  return Math.hypot(u - x0 - t * dx, v - y0 - t * dy);
}

const MAST_M = { distance: 21, height: 12.5 };
const STAYS = [
  [-4.4, 1.6, 0, -10.4],
  [-3.2, 1.6, 0, -7],
  [4.2, 1.6, 0, -10.4],
  [3, 1.6, 0, -7],
  [-2.6, -7.4, 0, -10.2],
  [2.6, -7.4, 0, -10.2],
] as const;

/** A white signal mast with yard, stays, halyards and a slack cable to the tower's side. */
export function mast(seed: number, x0: number): Layer {
  const board = standing(x0, MAST_M.distance);
  const top = EYE_M - MAST_M.height;
  return {
    name: 'mast',
    plane: facing(MAST_M.distance * 1000),
    box: {
      x0: x0 - 9 * board.perMetreX,
      y0: (top - 0.3) * board.perMetreY,
      x1: x0 + 9 * board.perMetreX,
      y1: (EYE_M + 0.2) * board.perMetreY,
    },
    shade(x, y, pixel, out) {
      const [u, v] = board.toLocal(x, y);
      const p = pixel * MAST_M.distance;
      const width = 0.13 - 0.05 * ((EYE_M - v) / MAST_M.height);
      const pole = Math.max(Math.abs(u) - width, top - v, v - EYE_M - 0.1);
      const yard = lineDistance(u, v, -2.8, -7.4, 2.8, -7.4) - 0.055;
      const ball = Math.hypot(u, v - top) - 0.2;
      let stay = Infinity;
      for (const [ax, ay, bx, by] of STAYS) stay = Math.min(stay, lineDistance(u, v, ax, ay, bx, by) - 0.009);
      const sag = -4.6 - 0.021 * u * u - 0.2 * u;
      const cable = Math.abs(u) < 8.8 ? Math.abs(v - sag) / Math.hypot(1, 0.042 * u + 0.2) - 0.012 : Infinity;
      const halyard = v > -7.4 && v < 0.6 ? Math.abs(Math.abs(u) - 1.9 - 0.05 * Math.sin(v)) - 0.006 : Infinity;
      const solid = coverage(Math.min(pole, yard, ball), p);
      // Wires thinner than a pixel cover their share of it.
      const wire = Math.max(thin(stay, 0.009, p), thin(cable, 0.012, p), thin(halyard, 0.006, p));
      out.a = Math.max(solid, wire);
      if (out.a === 0) return;
      if (solid >= wire) {
        weatheredPaint(v, u, p, seed, [0.66, 0.65, 0.62], out);
        if (pole < 0) dim(out, 0.45 + 0.65 * Math.sqrt(Math.max(0, 1 - (u / width + 0.3) ** 2 * 0.6)));
        if (ball < 0) tint(out, 0.6, 0.42, 0.08, 0.9);
      } else {
        const steel = 0.055 + 0.03 * valueNoise(u * 9, v * 9, seed + 1);
        out.r = out.g = out.b = steel;
      }
    },
  };
}

function thin(distance: number, half: number, pixel: number): number {
  return coverage(distance, pixel) * Math.min(1, (2 * half) / pixel + 0.25);
}

/** The station's flag at the yard arm; it flies and flaps with the wind. */
export function ensign(seed: number, x0: number, random: Random, wind: number): Layer {
  const board = standing(x0, MAST_M.distance);
  const rate = between(random, 5, 8);
  const side = random() < 0.5 ? -1 : 1;
  const long = 2.6;
  const tall = 1.6;
  const hoistX = 0.12 * side;
  const hoistY = -10.4;
  return {
    name: 'ensign',
    plane: facing(MAST_M.distance * 1000 - 300),
    box: {
      x0: x0 + (side > 0 ? -0.2 : -long - 0.5) * board.perMetreX,
      y0: (hoistY - 0.9) * board.perMetreY,
      x1: x0 + (side > 0 ? long + 0.5 : 0.2) * board.perMetreX,
      y1: (hoistY + tall + 1.6) * board.perMetreY,
    },
    motion: { kind: 'object', unitsPerS: 1.6 * wind * board.perMetreY },
    shade(x, y, pixel, out, timeS) {
      const [px, py] = board.toLocal(x, y);
      const along = (px - hoistX) * side;
      const free = Math.max(0, along / long);
      const phase = along * 2.6 - timeS * rate * wind + seed;
      const wave = free * (0.26 * Math.sin(phase) + 0.1 * Math.sin(phase * 2.3 + 1));
      const droop = free * (0.25 + 0.9 * Math.max(0, 1 - wind));
      const v = py - hoistY - wave - droop;
      const fluttering = long * (0.94 + 0.04 * Math.sin(timeS * rate * 0.7 * wind));
      out.a = coverage(Math.max(-along, along - fluttering, -v, v - tall), pixel * MAST_M.distance);
      if (out.a === 0) return;
      // A green field with a white hoist and a white lamp in it.
      const white = along < 0.5 || Math.hypot(along - 1.5, v - tall / 2) < 0.42;
      const fold = 1 + 0.4 * free * Math.cos(phase) + 0.05 * valueNoise(along * 30, v * 30, seed + 1);
      out.r = (white ? 0.74 : 0.02) * fold;
      out.g = (white ? 0.73 : 0.15) * fold;
      out.b = (white ? 0.7 : 0.09) * fold;
    },
  };
}
