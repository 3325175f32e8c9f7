// Pictures built in code: seeded texture, blur, and the pieces of a small focus stack.
import type { Plane } from '../image';
import type { PixelBlock } from '../kernels';

// Taken out of the global object once: a look-up of `Math` inside a hot loop is slow in a test sandbox.
const { ceil, cos, exp, floor, imul, log, max, min, PI, round, sin, sqrt } = Math;

/** Seeded numbers 0..1. */
export function makeRandom(seed: number): () => number {
  let s = seed >>> 0;
  return () => {
    s = (imul(s, 1664525) + 1013904223) >>> 0;
    return s / 4294967296;
  };
}

/** A continuous texture: a sum of seeded waves, so it can be sampled anywhere exactly. Values 0.2..0.8. */
export function waveTexture(seed: number, waves = 40): (x: number, y: number) => number {
  const random = makeRandom(seed);
  const parts = Array.from({ length: waves }, () => {
    const length = 4 + 40 * random();
    const angle = 2 * PI * random();
    return { kx: (2 * PI * cos(angle)) / length, ky: (2 * PI * sin(angle)) / length, p: 6.28 * random() };
  });
  const gain = 0.3 / sqrt(waves / 2) / 1.6;
  return (x, y) => min(0.8, max(0.2, 0.5 + gain * parts.reduce((s, w) => s + sin(w.kx * x + w.ky * y + w.p), 0)));
}

/** Samples a function at pixel centres. */
export function samplePlane(width: number, height: number, value: (x: number, y: number) => number): Plane {
  const data = new Float32Array(width * height);
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) data[y * width + x] = value(x + 0.5, y + 0.5);
  return { width, height, data };
}

/** Gaussian blur by direct convolution; edges repeated. */
export function gaussianBlur(plane: Plane, sigma: number): Plane {
  if (sigma <= 0) return plane;
  const { width: w, height: h } = plane;
  const r = ceil(4 * sigma);
  const kernel = Array.from({ length: 2 * r + 1 }, (_, i) => exp(-((i - r) ** 2) / (2 * sigma * sigma)));
  const total = kernel.reduce((a, b) => a + b, 0);
  const pass = (src: Float32Array, dx: number, dy: number): Float32Array => {
    const out = new Float32Array(src.length);
    for (let y = 0; y < h; y++) {
      for (let x = 0; x < w; x++) {
        let sum = 0;
        for (let k = -r; k <= r; k++) {
          const xx = min(w - 1, max(0, x + k * dx));
          const yy = min(h - 1, max(0, y + k * dy));
          sum += kernel[k + r]! * src[yy * w + xx]!;
        }
        out[y * w + x] = sum / total;
      }
    }
    return out;
  };
  return { ...plane, data: pass(pass(plane.data, 1, 0), 0, 1) };
}

/** White noise of a standard deviation, added in place of nothing: a copy is returned. */
export function addNoise(plane: Plane, deviation: number, seed: number): Plane {
  const random = makeRandom(seed);
  const data = plane.data.map((v) => {
    const r = sqrt(-2 * log(max(1e-9, random())));
    return v + deviation * r * cos(2 * PI * random());
  });
  return { ...plane, data };
}

/** A plane as grey RGB pixels. */
export function greyPixels(plane: Plane, bits: 8 | 16 = 16): PixelBlock {
  const top = bits === 16 ? 65535 : 255;
  const n = plane.data.length;
  const data = bits === 16 ? new Uint16Array(3 * n) : new Uint8Array(3 * n);
  for (let i = 0; i < n; i++) data.fill(round(min(1, max(0, plane.data[i]!)) * top), 3 * i, 3 * i + 3);
  return { width: plane.width, height: plane.height, data };
}

/** Planes of R, G and B as pixels of 16 bits. */
export function colourPixels(planes: readonly [Plane, Plane, Plane]): PixelBlock {
  const [{ width, height }] = planes;
  const data = new Uint16Array(3 * width * height);
  planes.forEach((plane, c) => plane.data.forEach((v, i) => (data[3 * i + c] = round(min(1, max(0, v)) * 65535))));
  return { width, height, data };
}

/** Fine, hard-edged detail at pixel scale: seeded blocks of two sizes. */
export function blockTexture(width: number, height: number, seed: number): Plane {
  const random = makeRandom(seed);
  const coarse = Float32Array.from({ length: 4096 }, () => random());
  const at = (x: number, y: number, cell: number): number =>
    coarse[(floor(x / cell) * 67 + floor(y / cell) * 131 + cell * 17) & 4095]!;
  return samplePlane(width, height, (x, y) => 0.15 + 0.4 * at(x, y, 5) + 0.3 * at(x, y, 11));
}
