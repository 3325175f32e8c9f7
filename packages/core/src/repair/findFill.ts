// Filling a place from the picture around it: from how far away, so that what surrounds the place fits there, too.
import { badParameter } from '../checks';

/** A picture, and which of it may be taken; row by row, of one size. */
export interface FillGround {
  readonly width: number;
  readonly height: number;
  /** R, G, B, encoded 0..1. */
  readonly planes: readonly Float32Array[];
  /** 1 where a px may be taken from: picture, and not to be filled itself. */
  readonly usable: Uint8Array;
}

/** Surroundings are compared over so many px around the mask. */
const RING_PX = 3;
/** What is far away is seldom lit alike: squared difference that a px of distance weighs. */
const NEARNESS = 2e-7;

/**
 * Finds the displacement from which a place is filled: where the surroundings of the place, moved there, differ least from what is there,
 * but for one difference of tone.
 * Source: the matching step of A. Criminisi, P. Pérez and K. Toyama, "Region filling and object removal by exemplar-based image
 * inpainting", IEEE TIP 13(9), 2004, for one patch.
 * @param mask 1 where the place is to be filled
 * @param reach farthest displacement along each axis, px
 * @returns dx, dy: the place is filled with what lies so far from it; null where nothing usable lies within reach
 * @throws ParameterError for a mask of another size
 * Cost: (2 · reach)² displacements, each of up to 400 px of surroundings.
 */
export function findFill(
  { width, height, planes, usable }: FillGround,
  mask: Uint8Array,
  reach: number,
): readonly [number, number] | null {
  if (mask.length !== width * height)
    throw badParameter('findFill.mask.length', `${width * height} values`, mask.length);
  const inside: number[] = [];
  mask.forEach((v, i) => v && inside.push(i));
  if (inside.length === 0) return null;
  const ring = thinned(ringOf(mask, usable, width, height), 400);
  const own = thinned(inside, 200);
  let best: readonly [number, number] | null = null;
  let least = Infinity;
  for (let dy = -reach; dy <= reach; dy++) {
    for (let dx = -reach; dx <= reach; dx++) {
      if (dx === 0 && dy === 0) continue;
      const cost = costOf(dx, dy);
      if (cost < least) [least, best] = [cost, [dx, dy]];
    }
  }
  return best;

  function costOf(dx: number, dy: number): number {
    const near = NEARNESS * (dx * dx + dy * dy);
    if (near >= least) return Infinity;
    const isUsable = (i: number): boolean => {
      const [x, y] = [(i % width) + dx, Math.floor(i / width) + dy];
      return x >= 0 && y >= 0 && x < width && y < height && usable[i + dy * width + dx] === 1;
    };
    if (!own.every(isUsable) || !ring.every(isUsable)) return Infinity;
    if (ring.length === 0) return near;
    const step = dy * width + dx;
    let cost = near;
    for (const plane of planes) {
      let [sum, squares] = [0, 0];
      for (const i of ring) {
        const d = plane[i + step]! - plane[i]!;
        sum += d;
        squares += d * d;
      }
      const mean = sum / ring.length;
      // Another tone is evened out afterwards, and is worth a little of what another structure is.
      cost += squares / ring.length - 0.9 * mean * mean;
      if (cost >= least) return Infinity;
    }
    return cost;
  }
}

/** Usable px around a mask. */
function ringOf(mask: Uint8Array, usable: Uint8Array, width: number, height: number): number[] {
  const ring = new Set<number>();
  mask.forEach((v, i) => {
    if (!v) return;
    const [x, y] = [i % width, Math.floor(i / width)];
    for (let dy = -RING_PX; dy <= RING_PX; dy++)
      for (let dx = -RING_PX; dx <= RING_PX; dx++) {
        const [u, w] = [x + dx, y + dy];
        if (u < 0 || w < 0 || u >= width || w >= height) continue;
        const j = w * width + u;
        if (!mask[j] && usable[j]) ring.add(j);
      }
  });
  return [...ring];
}

function thinned(list: readonly number[], most: number): number[] {
  const every = Math.max(1, list.length / most);
  return Array.from({ length: Math.min(list.length, most) }, (_, k) => list[Math.floor(k * every)]!);
}
