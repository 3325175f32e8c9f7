// What the sensor would record: layers blurred by depth, composited back to front, then resampled and exposed.
import { invertSimilarity, linearToSrgb, type Raster } from '@blendrak/core/image';
import { blurDiameterPx, type CameraSettings, type Shot } from './camera';
import { discBlur, type Channel } from './discBlur';
import { depthAt } from './layer';
import { UNIT, type Canvas, type PaintedLayer } from './paintScene';
import { makeRandom, normalPair } from './random';

// Above this radius the blur runs at half size, again and again: the result holds nothing finer.
const FULL_SIZE_RADIUS = 5;

/**
 * Light on the canonical canvas for a focus distance; pass Infinity-sharp truth with `focusMm` null.
 * @returns linear R, G, B in units of white, canvas-sized
 */
export function exposeCanvas(
  canvas: Canvas,
  camera: CameraSettings,
  pictureWidth: number,
  focusMm: number | null,
): Raster {
  const n = canvas.width * canvas.height;
  const planes = [new Float32Array(n), new Float32Array(n), new Float32Array(n)] as const;
  for (const painted of canvas.layers) {
    const blurred = focusMm === null ? painted : blurLayer(painted, canvas, camera, pictureWidth, focusMm);
    compositeOver(planes, canvas, blurred);
  }
  return { width: canvas.width, height: canvas.height, encoding: 'linear', planes };
}

function blurLayer(
  painted: PaintedLayer,
  canvas: Canvas,
  camera: CameraSettings,
  pictureWidth: number,
  focusMm: number,
): PaintedLayer {
  const radiusAt = (canvasRow: number): number =>
    blurDiameterPx(camera, depthAt(painted.layer, (canvasRow + 0.5 - canvas.rimPx) / pictureWidth), focusMm) / 2;
  const largest = Math.max(radiusAt(painted.y), radiusAt(painted.y + painted.height), 0);
  if (largest < 0.34) return painted;
  // Room for the blur to spread, cut at the canvas. A layer that fills the canvas keeps its size and is darkened at its
  // very rim only, which the picture never shows.
  const pad = Math.ceil(largest) + 1;
  const grown = padLayer(painted, pad, canvas);
  const channels = grown.channels.map((data) =>
    blurReduced({ width: grown.width, height: grown.height, data }, (row) => radiusAt(grown.y + row)),
  ) as unknown as PaintedLayer['channels'];
  return { ...grown, channels };
}

function padLayer(p: PaintedLayer, pad: number, canvas: Canvas): PaintedLayer {
  const x = Math.max(0, p.x - pad);
  const y = Math.max(0, p.y - pad);
  const width = Math.min(canvas.width, p.x + p.width + pad) - x;
  const height = Math.min(canvas.height, p.y + p.height + pad) - y;
  if (x === p.x && y === p.y && width === p.width && height === p.height) return p;
  const channels = p.channels.map((src) => {
    const dst = new Uint16Array(width * height);
    for (let row = 0; row < p.height; row++) {
      dst.set(src.subarray(row * p.width, (row + 1) * p.width), (p.y - y + row) * width + p.x - x);
    }
    return dst;
  }) as unknown as PaintedLayer['channels'];
  return { ...p, x, y, width, height, channels };
}

/** Disc blur, at half size as long as the smallest radius allows it. */
function blurReduced(channel: Channel, radiusAt: (row: number) => number): Uint16Array {
  if (Math.min(radiusAt(0), radiusAt(channel.height - 1)) <= FULL_SIZE_RADIUS) return discBlur(channel, radiusAt);
  const small = halve(channel);
  const data = blurReduced(small, (row) => radiusAt(2 * row) / 2);
  return double({ ...small, data }, channel.width, channel.height);
}

function halve({ width, height, data }: Channel): Channel {
  const w = (width + 1) >> 1;
  const h = (height + 1) >> 1;
  const out = new Uint16Array(w * h);
  for (let y = 0; y < h; y++) {
    const top = 2 * y * width;
    const bottom = Math.min(height - 1, 2 * y + 1) * width;
    for (let x = 0; x < w; x++) {
      const x0 = 2 * x;
      const x1 = Math.min(width - 1, x0 + 1);
      out[y * w + x] = (data[top + x0]! + data[top + x1]! + data[bottom + x0]! + data[bottom + x1]!) >> 2;
    }
  }
  return { width: w, height: h, data: out };
}

function double({ width: w, height: h, data }: Channel, width: number, height: number): Uint16Array {
  const out = new Uint16Array(width * height);
  const line = new Float32Array(w);
  for (let y = 0; y < height; y++) {
    const j = y >> 1;
    const other = Math.min(h - 1, Math.max(0, y & 1 ? j + 1 : j - 1));
    for (let x = 0; x < w; x++) line[x] = 0.75 * data[j * w + x]! + 0.25 * data[other * w + x]!;
    for (let x = 0; x < width; x++) {
      const i = x >> 1;
      const side = Math.min(w - 1, Math.max(0, x & 1 ? i + 1 : i - 1));
      out[y * width + x] = 0.75 * line[i]! + 0.25 * line[side]! + 0.5;
    }
  }
  return out;
}

function compositeOver(
  planes: readonly [Float32Array, Float32Array, Float32Array],
  canvas: Canvas,
  p: PaintedLayer,
): void {
  const [r, g, b, a] = p.channels;
  const k = 1 / UNIT;
  for (let y = 0; y < p.height; y++) {
    let to = (p.y + y) * canvas.width + p.x;
    let from = y * p.width;
    for (let x = 0; x < p.width; x++, to++, from++) {
      const alpha = a[from]!;
      if (alpha === 0) continue;
      const keep = Math.max(0, 1 - alpha * k);
      planes[0][to] = planes[0][to]! * keep + r[from]! * k;
      planes[1][to] = planes[1][to]! * keep + g[from]! * k;
      planes[2][to] = planes[2][to]! * keep + b[from]! * k;
    }
  }
}

/** Cuts the picture out of the canvas and encodes it as sRGB, without noise: the canonical view. */
export function developCanonical(light: Raster, rimPx: number, width: number, height: number): Raster {
  const planes = light.planes.map((src) => {
    const out = new Float32Array(width * height);
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < width; x++) {
        out[y * width + x] = encode(src[(y + rimPx) * light.width + x + rimPx]!);
      }
    }
    return out;
  });
  return { width, height, encoding: 'encoded', planes };
}

/**
 * One frame as the camera delivers it: the canvas resampled to the frame's pose (Catmull–Rom), times its gain, with photon
 * and read noise, encoded as sRGB integers.
 * @param bits depth of the result
 */
export function exposeFrame(
  light: Raster,
  rimPx: number,
  width: number,
  height: number,
  camera: CameraSettings,
  shot: Shot,
  bits: 8 | 16,
): Uint8Array | Uint16Array {
  const random = makeRandom(shot.noiseSeed);
  const table = new Float32Array(4096);
  for (let i = 0; i < table.length; i += 2) [table[i], table[i + 1]] = normalPair(random) as [number, number];
  const top = bits === 8 ? 255 : 65535;
  const out = bits === 8 ? new Uint8Array(width * height * 3) : new Uint16Array(width * height * 3);
  const inverse = invertSimilarity(shot.toFrame);
  let lcg = shot.noiseSeed >>> 0;
  const readVariance = camera.readNoise ** 2;
  const photonVariance = camera.photonNoise ** 2;
  const [pr, pg, pb] = light.planes as [Float32Array, Float32Array, Float32Array];
  const stride = light.width;
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const sx = inverse.re * (x + 0.5) - inverse.im * (y + 0.5) + inverse.tx + rimPx - 0.5;
      const sy = inverse.im * (x + 0.5) + inverse.re * (y + 0.5) + inverse.ty + rimPx - 0.5;
      const ix = Math.min(light.width - 3, Math.max(1, Math.floor(sx)));
      const iy = Math.min(light.height - 3, Math.max(1, Math.floor(sy)));
      const t = sx - ix;
      const u = sy - iy;
      const w0 = ((-0.5 * t + 1) * t - 0.5) * t;
      const w1 = (1.5 * t - 2.5) * t * t + 1;
      const w3 = (0.5 * t - 0.5) * t * t;
      const w2 = 1 - w0 - w1 - w3;
      const v0 = ((-0.5 * u + 1) * u - 0.5) * u;
      const v1 = (1.5 * u - 2.5) * u * u + 1;
      const v3 = (0.5 * u - 0.5) * u * u;
      const v2 = 1 - v0 - v1 - v3;
      let [r, g, b] = [0, 0, 0];
      let o = (iy - 1) * stride + ix - 1;
      for (let k = 0; k < 4; k++, o += stride) {
        const v = k === 0 ? v0 : k === 1 ? v1 : k === 2 ? v2 : v3;
        r += v * (w0 * pr[o]! + w1 * pr[o + 1]! + w2 * pr[o + 2]! + w3 * pr[o + 3]!);
        g += v * (w0 * pg[o]! + w1 * pg[o + 1]! + w2 * pg[o + 2]! + w3 * pg[o + 3]!);
        b += v * (w0 * pb[o]! + w1 * pb[o + 1]! + w2 * pb[o + 2]! + w3 * pb[o + 3]!);
      }
      const to = (y * width + x) * 3;
      for (let c = 0; c < 3; c++) {
        const v = Math.max(0, c === 0 ? r : c === 1 ? g : b) * shot.gain;
        lcg = (Math.imul(lcg, 1664525) + 1013904223) >>> 0;
        const noise = table[lcg >>> 20]! * Math.sqrt(readVariance + photonVariance * v);
        out[to + c] = encode(v + noise) * top + 0.5;
      }
    }
  }
  return out;
}

const ENCODE_STEPS = 16384;
const ENCODE = Float32Array.from({ length: ENCODE_STEPS + 2 }, (_, i) => linearToSrgb((i / ENCODE_STEPS) ** 2));

/** sRGB encoding by table over the square root of light, which spreads the shadows; clips at 0 and 1. */
function encode(v: number): number {
  if (v <= 0) return 0;
  if (v >= 1) return 1;
  const t = Math.sqrt(v) * ENCODE_STEPS;
  const k = Math.floor(t);
  return ENCODE[k]! + (t - k) * (ENCODE[k + 1]! - ENCODE[k]!);
}
