// The railing at the cliff's edge, close to the viewer.
import { EYE_M, WIDE } from './coveGround';
import { textDistance, textWidth } from './glyphs';
import { boxDistance, coverage, dim, facing, smooth, tint, type Layer, type Shade } from './layer';
import { weatheredPaint } from './outdoors';
import { between, hash2, type Random } from './random';

export const RAIL_MM = 2300;

/** The railing in front of the viewer: painted posts, two rails, three wires and an enamel sign. */
export function railing(seed: number, random: Random): Layer {
  const d = RAIL_MM / 1000;
  const spacing = between(random, 1.25, 1.6);
  const offset = random() * spacing;
  const signAt = between(random, -0.9, 0.9);
  const green = random() < 0.5;
  const colour: readonly [number, number, number] = green ? [0.04, 0.16, 0.12] : [0.55, 0.54, 0.5];
  const topM = EYE_M - 1.1;
  return {
    name: 'railing',
    plane: facing(RAIL_MM),
    box: { x0: -WIDE, y0: (topM - 0.06) / d, x1: WIDE, y1: (EYE_M + 0.05) / d },
    shade(x, y, pixel, out) {
      const u = x * d;
      const v = y * d;
      const p = pixel * d;
      const k = Math.round((u - offset) / spacing);
      const post = Math.max(Math.abs(u - offset - k * spacing) - 0.026, topM - 0.03 - v);
      const rail = Math.min(Math.abs(v - topM) - 0.024, Math.abs(v - topM - 0.52) - 0.018);
      let wire = Infinity;
      for (const h of [0.17, 0.34, 0.75]) wire = Math.min(wire, Math.abs(v - topM - h) - 0.0035);
      const sign = boxDistance(u - signAt, v - topM - 0.26, 0.3, 0.13, 0.02);
      out.a = coverage(Math.min(post, rail, wire, sign), p);
      if (out.a === 0) return;
      if (sign < 0) {
        shadeSign(u - signAt, v - topM - 0.26, p, seed + 2, sign, out);
        return;
      }
      if (wire < Math.min(post, rail)) {
        const strand = 0.3 + 0.2 * Math.sin(u * 900) * smooth(0.006, 0.001, p);
        out.r = out.g = out.b = strand;
        return;
      }
      const upright = post < rail;
      weatheredPaint(upright ? v : u, upright ? u : v, p, seed + (upright ? k : 0), colour, out);
      const across = upright
        ? (u - offset - k * spacing) / 0.026
        : (Math.abs(v - topM) < 0.03 ? v - topM : v - topM - 0.52) / 0.024;
      dim(out, 0.4 + 0.75 * Math.sqrt(Math.max(0, 1 - (across + 0.3) ** 2 * 0.55)));
    },
  };
}

function shadeSign(u: number, v: number, p: number, seed: number, edge: number, out: Shade): void {
  weatheredPaint(u, v, p, seed, [0.66, 0.63, 0.55], out);
  const lines = ['KESTREL POINT', 'MIND THE EDGE'];
  lines.forEach((text, i) => {
    const cap = 0.043;
    const letter = textDistance(text, u / cap + textWidth(text) / 2, (v + 0.065 - i * 0.085) / cap) * cap;
    tint(out, 0.02, 0.05, 0.16, coverage(letter - cap * 0.09, p));
  });
  if (edge > -0.012) tint(out, 0.02, 0.05, 0.16, 0.9);
  const rivet = Math.hypot(Math.abs(u) - 0.275, Math.abs(v) - 0.105);
  if (rivet < 0.009) dim(out, 0.4 + 0.5 * hash2(1, 1, seed));
}
