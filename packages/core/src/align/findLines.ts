// Long straight edges of a frame: masts, horizons, walls, cables. They tell how much a projection bends.
import { type Plane } from '../image';
import { frameRay, type LensView } from '../frame';

/** Ends of a straight edge: x, y, x, y in px of the full frame. */
export type FrameLine = readonly [number, number, number, number];

/** Edges run on while their direction stays within this. */
const TURN = Math.cos((12 * Math.PI) / 180);
/** Change of the encoded value over an edge that counts. */
const LEAST_STEP = 0.04;
const LEAST_LENGTH = 0.1;
/** Mean distance of an edge's points from its line, px of the luma: more is a curve or a texture. */
const MOST_OFF_PX = 0.6;
const MOST_LINES = 24;

/**
 * Finds long straight edges: crests of the gradient linked to their neighbours while they point the same way, kept where the
 * points lie on a line after the lens's bending is taken out.
 * @param luma encoded, some hundred px long
 * @param unit full-size px per px of the luma
 * @returns up to 24 lines of at least a tenth of the frame's length, the longest first
 * Cost: about 60 ns per px.
 */
export function findLines(luma: Plane, unit: number, lens: LensView): FrameLine[] {
  const { width, height } = luma;
  const crests = findCrests(luma);
  const seen = new Uint8Array(width * height);
  const least = LEAST_LENGTH * Math.max(width, height);
  const lines: { line: FrameLine; length: number }[] = [];
  for (const seed of crests.order) {
    if (seen[seed]) continue;
    const chain = follow(seed, crests, seen, width);
    if (chain.length < least * 0.7) continue;
    const line = lineThrough(chain, width, unit, lens);
    if (line && line.length >= least * unit) lines.push(line);
  }
  return lines
    .sort((a, b) => b.length - a.length)
    .slice(0, MOST_LINES)
    .map((l) => l.line);
}

interface Crests {
  /** Unit gradient per px; 0 where there is no crest. */
  readonly gx: Float32Array;
  readonly gy: Float32Array;
  /** Crest px, the steepest first. */
  readonly order: readonly number[];
}

/** Px whose gradient is the steepest across the edge. */
function findCrests({ width, height, data }: Plane): Crests {
  const n = width * height;
  const dx = new Float32Array(n);
  const dy = new Float32Array(n);
  const steep = new Float32Array(n);
  for (let y = 1; y < height - 1; y++) {
    for (let x = 1; x < width - 1; x++) {
      const i = y * width + x;
      const [a, b, c, d] = [data[i - width - 1]!, data[i - width + 1]!, data[i + width - 1]!, data[i + width + 1]!];
      // Sobel's masks, scaled so that a step gives its height.
      dx[i] = (b + d - a - c + 2 * (data[i + 1]! - data[i - 1]!)) / 4;
      dy[i] = (c + d - a - b + 2 * (data[i + width]! - data[i - width]!)) / 4;
      steep[i] = Math.hypot(dx[i]!, dy[i]!);
    }
  }
  const gx = new Float32Array(n);
  const gy = new Float32Array(n);
  const order: number[] = [];
  for (let y = 2; y < height - 2; y++) {
    for (let x = 2; x < width - 2; x++) {
      const i = y * width + x;
      const s = steep[i]!;
      if (s < LEAST_STEP) continue;
      const [ux, uy] = [dx[i]! / s, dy[i]! / s];
      const across = Math.round(uy) * width + Math.round(ux);
      if (steep[i + across]! > s || steep[i - across]! >= s) continue;
      gx[i] = ux;
      gy[i] = uy;
      order.push(i);
    }
  }
  order.sort((a, b) => steep[b]! - steep[a]!);
  return { gx, gy, order };
}

/** All crest px that hang together with the seed and point its way; a gap of one px is bridged. */
function follow(seed: number, { gx, gy }: Crests, seen: Uint8Array, width: number): number[] {
  const chain = [seed];
  seen[seed] = 1;
  let [mx, my] = [gx[seed]!, gy[seed]!];
  for (const at of chain) {
    const length = Math.hypot(mx, my);
    for (let oy = -2; oy <= 2; oy++) {
      for (let ox = -2; ox <= 2; ox++) {
        const next = at + oy * width + ox;
        if (seen[next] || (gx[next] === 0 && gy[next] === 0)) continue;
        if ((gx[next]! * mx + gy[next]! * my) / length < TURN) continue;
        seen[next] = 1;
        chain.push(next);
        mx += gx[next]!;
        my += gy[next]!;
      }
    }
  }
  return chain;
}

/** The line through a chain's points, as the lens would draw it without bending; null where they do not lie on one. */
function lineThrough(
  chain: readonly number[],
  width: number,
  unit: number,
  lens: LensView,
): { line: FrameLine; length: number } | null {
  const drawn = chain.map((i) => [((i % width) + 0.5) * unit, (Math.floor(i / width) + 0.5) * unit] as const);
  const straight = drawn.map(([x, y]) => frameRay(lens, x, y));
  const n = straight.length;
  const [mx, my] = [0, 1].map((c) => straight.reduce((s, p) => s + p[c]!, 0) / n) as [number, number];
  let [xx, xy, yy] = [0, 0, 0];
  for (const [x, y] of straight) {
    xx += (x - mx) ** 2;
    xy += (x - mx) * (y - my);
    yy += (y - my) ** 2;
  }
  const angle = 0.5 * Math.atan2(2 * xy, xx - yy);
  const [ux, uy] = [Math.cos(angle), Math.sin(angle)];
  let [low, high, first, last, off] = [Infinity, -Infinity, 0, 0, 0];
  straight.forEach(([x, y], k) => {
    const along = (x - mx) * ux + (y - my) * uy;
    off += Math.abs((y - my) * ux - (x - mx) * uy) / n;
    if (along < low) [low, first] = [along, k];
    if (along > high) [high, last] = [along, k];
  });
  if (off > MOST_OFF_PX * unit) return null;
  const [a, b] = [drawn[first]!, drawn[last]!];
  return { line: [a[0], a[1], b[0], b[1]], length: high - low };
}
