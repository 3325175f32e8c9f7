// How brass, steel, enamel, glass and felt reflect the lamp-room light. All colours are linear.
import { mix, smooth, type Shade } from './layer';
import { fractalNoise, hash2, valueNoise } from './random';

/** Octaves that reach from `coarse` cells per unit down to about two pixels. */
export function octavesFor(coarse: number, pixel: number): number {
  return Math.max(1, Math.min(9, Math.floor(Math.log2(0.5 / (pixel * coarse)))));
}

/**
 * Turned brass: lathe lines along the circumference, a highlight in two lobes, tarnish and pits.
 * @param radius, angle polar position about the turning axis (picture widths, radians)
 */
export function turnedBrass(
  radius: number,
  angle: number,
  x: number,
  y: number,
  pixel: number,
  seed: number,
  out: Shade,
): void {
  const lines = 1 / (pixel * 5);
  const lathe =
    valueNoise(radius * lines, angle * 3, seed) + 0.8 * valueNoise(radius * lines * 0.37, angle * 2, seed + 1);
  const lobe = Math.abs(Math.cos(angle - 0.7 + 0.25 * Math.sin(radius * 60)));
  const light = 0.2 + 0.75 * lobe ** 6 + 0.16 * (1 - lobe);
  const tarnish = fractalNoise(x, y, seed + 7, 14, octavesFor(14, pixel), 0.62);
  const pits = pit(x, y, pixel, seed + 11);
  const v = Math.max(0.015, light * (1 + 0.26 * lathe + 0.22 * tarnish) * pits);
  const warm = 0.5 + 0.3 * tarnish;
  out.r = 0.8 * v;
  out.g = (0.56 + 0.04 * warm) * v;
  out.b = (0.2 + 0.08 * warm) * v;
}

/** Brushed steel: streaks along x, cool. */
export function brushedSteel(along: number, across: number, pixel: number, seed: number, out: Shade): void {
  const streak =
    valueNoise(across / (pixel * 2.4), along / (pixel * 60), seed) +
    0.6 * valueNoise(across / (pixel * 6), along / (pixel * 200), seed + 3);
  const stain = fractalNoise(along, across, seed + 5, 20, octavesFor(20, pixel), 0.55);
  const v = Math.max(0.02, 0.34 * (1 + 0.3 * streak + 0.25 * stain));
  out.r = v * 0.94;
  out.g = v;
  out.b = v * 1.05;
}

/** Hammered green enamel, matt, with chips that show the metal. */
export function hammeredEnamel(x: number, y: number, pixel: number, seed: number, out: Shade): void {
  const bumps = fractalNoise(x, y, seed, 70, octavesFor(70, pixel), 0.7);
  const chip = smooth(0.5, 0.56, fractalNoise(x, y, seed + 31, 9, 4, 0.6));
  const v = Math.max(0.01, 0.1 * (1 + 0.75 * bumps));
  out.r = mix(v * 0.45, 0.3, chip);
  out.g = mix(v * 1.05, 0.29, chip);
  out.b = mix(v * 0.72, 0.27, chip);
}

/** Felt on the bench: fibres in all directions. */
export function felt(x: number, y: number, pixel: number, seed: number, out: Shade): void {
  const fibre =
    valueNoise(x / (pixel * 3) + 3 * valueNoise(y / (pixel * 40), x / (pixel * 40), seed), y / (pixel * 14), seed + 1) +
    valueNoise(
      y / (pixel * 3) + 3 * valueNoise(x / (pixel * 37), y / (pixel * 37), seed + 2),
      x / (pixel * 14),
      seed + 3,
    );
  const cloud = fractalNoise(x, y, seed + 4, 5, 4, 0.6);
  const v = Math.max(0.006, 0.075 * (1 + 0.42 * fibre + 0.4 * cloud));
  out.r = v * 1.05;
  out.g = v * 0.62;
  out.b = v * 0.5;
}

/**
 * A ring of prism glass seen from the front: facets that each mirror another part of the room.
 * @param t position across the ring 0..1
 */
export function prismGlass(
  t: number,
  angle: number,
  x: number,
  y: number,
  pixel: number,
  seed: number,
  out: Shade,
): void {
  const facet = Math.floor(t * 7);
  const inFacet = t * 7 - facet;
  const room = 0.5 + 0.5 * Math.sin(angle * (2 + (facet % 3)) + facet * 1.7);
  const window = smooth(0.72, 0.76, room) * (1 - smooth(0.1, 0.16, Math.abs(inFacet - 0.5)));
  const edge = 1 - smooth(0, 0.06, Math.min(inFacet, 1 - inFacet));
  const dust = fractalNoise(x, y, seed, 60, octavesFor(60, pixel), 0.75);
  const speck = hash2(Math.floor(x / (pixel * 3)), Math.floor(y / (pixel * 3)), seed + 9) > 0.985 ? 0.22 : 0;
  const v = Math.max(0.01, 0.06 + 0.16 * room + 0.7 * window + 0.3 * edge + 0.035 * dust + speck);
  out.r = v * 0.86;
  out.g = v * 0.97;
  out.b = v;
}

function pit(x: number, y: number, pixel: number, seed: number): number {
  const cell = pixel * 9;
  const cx = Math.floor(x / cell);
  const cy = Math.floor(y / cell);
  if (hash2(cx, cy, seed) < 0.86) return 1;
  const dx = x / cell - cx - 0.3 - 0.4 * hash2(cx, cy, seed + 1);
  const dy = y / cell - cy - 0.3 - 0.4 * hash2(cx, cy, seed + 2);
  return mix(0.45, 1, smooth(0.08, 0.2, Math.hypot(dx, dy)));
}
