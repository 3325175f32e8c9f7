// The frame people take of their own hand to mark the end of a set.
import { coverage, facing, mix, type Layer, type World } from './layer';
import { fractalNoise, makeRandom, valueNoise } from './random';

/** Fingers from the wrist up: end points and half widths, in hand lengths about the palm. */
const FINGERS = [
  [-0.16, -0.1, -0.42, -0.36, 0.075],
  [-0.14, -0.2, -0.22, -0.74, 0.064],
  [-0.02, -0.22, -0.03, -0.86, 0.068],
  [0.1, -0.2, 0.16, -0.78, 0.064],
  [0.19, -0.14, 0.33, -0.56, 0.055],
] as const;

/** An arm's comfortable reach in front of the lens. */
const HELD_MM = 350;

/**
 * The same world with a spread hand held close in front of the lens: far out of focus and dark against the light.
 * @param widthUnits width of the picture in scene units
 * @param aim where the camera looks, in scene units
 */
export function withHand(world: World, widthUnits: number, aim: readonly [number, number] = world.centre): World {
  const random = makeRandom(world.seed * 97 + 3);
  const size = widthUnits * (0.5 + 0.1 * random());
  const turn = (random() - 0.5) * 0.8;
  const [cx, cy] = [aim[0] + (random() - 0.5) * 0.2 * widthUnits, aim[1] + 0.1 * widthUnits];
  const hand: Layer = {
    name: 'hand',
    plane: facing(Math.min(HELD_MM, world.nearMm * 0.85)),
    box: { x0: cx - 2 * size, y0: cy - 2 * size, x1: cx + 2 * size, y1: cy + 4 * size },
    shade(x, y, pixel, out) {
      const u = (Math.cos(turn) * (x - cx) + Math.sin(turn) * (y - cy)) / size;
      const v = (-Math.sin(turn) * (x - cx) + Math.cos(turn) * (y - cy)) / size;
      const palm = Math.hypot(u / 0.29, (v - 0.08) / 0.36) - 1;
      let d = Math.min(palm * 0.3, Math.max(Math.abs(u) - 0.19, 0.2 - v));
      for (const [x0, y0, x1, y1, half] of FINGERS) {
        const dx = x1 - x0;
        const dy = y1 - y0;
        const t = Math.min(1, Math.max(0, ((u - x0) * dx + (v - y0) * dy) / (dx * dx + dy * dy)));
        d = Math.min(d, Math.hypot(u - x0 - t * dx, v - y0 - t * dy) - half * mix(1.1, 0.9, t));
      }
      out.a = coverage(d * size, pixel);
      if (out.a === 0) return;
      const crease = valueNoise(u * 9, v * 14, world.seed) + fractalNoise(u, v, world.seed + 1, 12, 4, 0.6);
      const light = 0.2 * (1 + 0.14 * crease) * (0.7 + 0.5 * Math.min(1, -d * 8));
      out.r = light * 1.25;
      out.g = light * 0.72;
      out.b = light * 0.52;
    },
  };
  return { ...world, layers: [...world.layers, hand] };
}
