// Cloth, rope and smooth enamel: the plain and the fibrous things of the flag locker. All colours are linear.
import { mix, smooth, type Shade } from './layer';
import { octavesFor } from './metalAndGlass';
import { fractalNoise, hash2, valueNoise } from './random';

/** Smooth felt, combed in one direction: almost plain, with a faint nap and a few lint specks. */
export function smoothFelt(x: number, y: number, pixel: number, seed: number, out: Shade): void {
  const nap =
    valueNoise(x / (pixel * 4), y / (pixel * 26), seed) +
    0.5 * valueNoise(x / (pixel * 2.2), y / (pixel * 9), seed + 1);
  const cloud = fractalNoise(x, y, seed + 4, 3, 3, 0.6);
  const lint = hash2(Math.floor(x / (pixel * 4)), Math.floor(y / (pixel * 3)), seed + 9) > 0.9985 ? 0.12 : 0;
  const v = 0.16 * (1 + 0.035 * nap + 0.22 * cloud) + lint;
  out.r = v * 0.36;
  out.g = v * 0.5;
  out.b = v * 0.62;
}

/** Vitreous enamel: a plain colour with a soft sheen, pinholes and hairline crazing here and there. */
export function smoothEnamel(
  x: number,
  y: number,
  pixel: number,
  seed: number,
  colour: readonly [number, number, number],
  out: Shade,
): void {
  const sheen = 1 + 0.16 * fractalNoise(x, y, seed, 4, 3, 0.5);
  const worn = smooth(0.1, 0.75, fractalNoise(x, y, seed + 3, 3, 3, 0.6));
  // Crazing: thin lines where a smooth field crosses zero, only on the worn part.
  const field = fractalNoise(x, y, seed + 5, 26, Math.min(4, octavesFor(26, pixel)), 0.5);
  const crack = worn * (1 - smooth(0.012, 0.03, Math.abs(field)));
  const hole = hash2(Math.floor(x / (pixel * 5)), Math.floor(y / (pixel * 5)), seed + 7) > 0.9992 ? 0.5 : 0;
  const v = sheen * (1 - 0.5 * crack) * (1 - hole);
  out.r = colour[0] * v;
  out.g = colour[1] * v;
  out.b = colour[2] * v;
}

/**
 * Laid rope: three strands that wind round each other, each of many yarns.
 * @param along, across position on the rope in units of its half width (across −1..1)
 */
export function laidRope(along: number, across: number, pixel: number, seed: number, out: Shade): void {
  const bend = Math.asin(Math.max(-1, Math.min(1, across)));
  const turn = along / 3.4 - bend / 2.2;
  const strand = turn - Math.floor(turn);
  const round = Math.sin(strand * Math.PI);
  const yarn = valueNoise(strand * 16, along * 0.9, seed + Math.floor(turn) * 13);
  const fuzz = valueNoise(along / (pixel * 2.5), across / (pixel * 2.5), seed + 5);
  const light = 0.3 + 0.7 * round ** 0.7;
  const body = Math.sqrt(Math.max(0, 1 - across * across)) * 0.75 + 0.25;
  const v = Math.max(0.01, 0.5 * light * body * (1 + 0.3 * yarn + 0.14 * fuzz));
  out.r = v;
  out.g = v * mix(0.72, 0.8, light);
  out.b = v * 0.48;
}
