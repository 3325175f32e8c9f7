// What moves over the water: a sailing dinghy and gulls.
import { SEA_BELOW_M, WIDE } from './coveGround';
import { coverage, facing, mix, smooth, type Box, type Layer } from './layer';
import { between, valueNoise, type Random } from './random';

/** A sailing dinghy crossing the bay. */
export function boat(seed: number, random: Random, wind: number): Layer {
  const distanceM = between(random, 130, 240);
  const start = between(random, -0.9, 0.9);
  const speed = (random() < 0.5 ? -1 : 1) * between(random, 1.5, 3) * wind;
  const keel = SEA_BELOW_M / distanceM;
  const at = (t: number): number => start + (speed * t) / distanceM;
  const box = (t: number): Box => ({ x0: at(t) - 0.05, y0: keel - 0.06, x1: at(t) + 0.05, y1: keel + 0.006 });
  return {
    name: 'boat',
    plane: facing(distanceM * 1000),
    box: {
      x0: start - 0.06 - Math.abs(at(120) - start),
      y0: keel - 0.06,
      x1: start + 0.06 + Math.abs(at(120) - start),
      y1: keel + 0.006,
    },
    boxAt: box,
    motion: { kind: 'object', unitsPerS: Math.abs(speed) / distanceM },
    shade(x, y, pixel, out, timeS) {
      const u = (x - at(timeS)) * distanceM * Math.sign(speed || 1);
      const v = (y - keel) * distanceM;
      const p = pixel * distanceM;
      const hull = Math.max(v - 0.3 + 0.04 * u * u, -v - 0.35, Math.abs(u) - 2.4 - v * 0.7);
      const main = Math.max(v + 0.7, -v - 6.2, u + 0.05, -u - 2.3 * ((v + 6.2) / 5.8));
      const jib = Math.max(v + 0.6, -v - 5.2, -u + 0.12, u - 1.9 * ((v + 5.2) / 4.6));
      const sail = Math.min(main, jib);
      out.a = coverage(Math.min(hull, sail), p);
      if (out.a === 0) return;
      if (hull < sail) {
        out.r = 0.05;
        out.g = 0.09;
        out.b = 0.16;
      } else {
        const cloth = 0.72 + 0.08 * valueNoise(u * 3, v * 1.2, seed) + 0.04 * Math.sin(v * 9);
        out.r = cloth;
        out.g = cloth * 0.8;
        out.b = cloth * 0.58;
      }
    },
  };
}

/** A gull that glides and beats its wings. */
export function gull(seed: number, random: Random, wind: number): Layer {
  const distanceM = between(random, 26, 60);
  const start = between(random, -1.3, 1.3);
  const height = -between(random, 0.06, 0.42);
  const speed = (random() < 0.5 ? -1 : 1) * between(random, 1.2, 5) * (0.3 + 0.7 * wind);
  const climb = between(random, -0.5, 0.5);
  const beat = between(random, 4, 9);
  const at = (t: number): [number, number] => [
    start + (speed * t) / distanceM,
    height + (climb * t) / distanceM + 0.012 * Math.sin(t * 0.8 + seed),
  ];
  const span = 0.85 / distanceM;
  const box = (t: number): Box => {
    const [x, y] = at(t);
    return { x0: x - span * 1.3, y0: y - span, x1: x + span * 1.3, y1: y + span };
  };
  return {
    name: 'gull',
    plane: facing(distanceM * 1000),
    box: { x0: -WIDE, y0: -1, x1: WIDE, y1: 0.3 },
    boxAt: box,
    motion: { kind: 'object', unitsPerS: (Math.abs(speed) + beat * 0.2) / distanceM },
    shade(x, y, pixel, out, timeS) {
      const [cx, cy] = at(timeS);
      const u = ((x - cx) / span) * 0.85;
      const v = ((y - cy) / span) * 0.85;
      const flap = 0.32 * Math.sin(timeS * beat + seed);
      const side = Math.abs(u);
      const wingLine = side < 0.4 ? -0.55 * side * (0.6 + flap) : -0.22 * (0.6 + flap) + (side - 0.4) * (0.35 - flap);
      const wing = Math.max(Math.abs(v - wingLine) - 0.075 * (1 - side / 1.05), side - 0.95);
      const body = Math.hypot(u / 0.12, (v - 0.02) / 0.075) - 1;
      out.a = coverage(Math.min(wing, body * 0.08), (pixel / span) * 0.85);
      if (out.a === 0) return;
      const tip = smooth(0.7, 0.85, side);
      const light = body < 0 ? 0.42 : mix(0.3, 0.03, tip);
      out.r = light;
      out.g = light;
      out.b = light * 1.03;
    },
  };
}
