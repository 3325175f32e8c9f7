// The sensor: what the light of a region becomes in the file.
import { linearToSrgb } from '@blendrak/core/image';
import { vignetteAt, type Lens } from '../optics/lens';
import type { View } from '../optics/view';
import { makeRandom, normalPair } from '../world/random';
import type { Light } from './stage';

/** A speck on the sensor: a soft dark disc at the same place of every frame. */
export interface DustSpot {
  readonly xPx: number;
  readonly yPx: number;
  readonly radiusPx: number;
  /** Share of light it takes away in the middle. */
  readonly depth: number;
}

export interface Sensor {
  /** Standard deviation of photon noise at full brightness and base ISO, as a share of full scale, linear. */
  readonly photonNoise: number;
  readonly readNoise: number;
  readonly dust: readonly DustSpot[];
}

/** How one frame is recorded. */
export interface Recording {
  readonly lens: Lens;
  readonly sensor: Sensor;
  /** Exposure against the nominal one, flicker and drift included. */
  readonly gain: number;
  readonly whiteBalance: readonly [number, number, number];
  /** ISO over base ISO: amplification that leaves the picture's brightness and raises its noise. */
  readonly amplification: number;
  readonly noiseSeed: number;
}

/** Share of light that dust leaves at a sensor position; the rim falls off over half its radius. */
export function dustAt(spots: readonly DustSpot[], x: number, y: number): number {
  let light = 1;
  for (const s of spots) {
    const r = Math.hypot(x - s.xPx, y - s.yPx) / s.radiusPx;
    if (r >= 1.25) continue;
    const t = Math.min(1, Math.max(0, (1.25 - r) / 0.5));
    light *= 1 - s.depth * t * t * (3 - 2 * t);
  }
  return light;
}

const NOISE_TABLE = 1 << 16;
const NOISE = ((): Float32Array => {
  const random = makeRandom(77);
  const table = new Float32Array(NOISE_TABLE);
  for (let i = 0; i < NOISE_TABLE; i += 2) {
    const [a, b] = normalPair(random);
    table[i] = a;
    table[i + 1] = b;
  }
  return table;
})();

/**
 * Exposes, adds photon and read noise (variance = read² + photon² · light · amplification), clips, encodes as sRGB integers.
 * Noise belongs to the pixel, so that a picture does not depend on its regions.
 * @param bits 8 or 16
 * @returns interleaved RGB of light.region
 */
export function record(light: Light, view: View, recording: Recording, bits: 8 | 16): Uint8Array | Uint16Array {
  const { region } = light;
  const { lens, sensor, gain, whiteBalance, amplification, noiseSeed } = recording;
  const n = region.width * region.height;
  const out = bits === 8 ? new Uint8Array(n * 3) : new Uint16Array(n * 3);
  const top = bits === 8 ? 255 : 65535;
  const half = view.halfDiagonalPx;
  const readVariance = sensor.readNoise ** 2 * amplification ** 2;
  const photonVariance = sensor.photonNoise ** 2 * amplification;
  const near = sensor.dust.filter((s) => {
    const reach = s.radiusPx * 1.3;
    return (
      s.xPx + reach > region.x &&
      s.xPx - reach < region.x + region.width &&
      s.yPx + reach > region.y &&
      s.yPx - reach < region.y + region.height
    );
  });
  const planes = [light.r, light.g, light.b];
  for (let y = 0; y < region.height; y++) {
    for (let x = 0; x < region.width; x++) {
      const px = region.x + x + 0.5;
      const py = region.y + y + 0.5;
      let scale = gain;
      if (lens.vignetting !== 0) {
        scale *= vignetteAt(lens.vignetting, Math.hypot(px - view.principal[0], py - view.principal[1]) / half);
      }
      if (near.length > 0) scale *= dustAt(near, px, py);
      const i = y * region.width + x;
      let h = Math.imul(region.x + x, 0x27d4eb2d) ^ Math.imul(region.y + y, 0x165667b1) ^ noiseSeed;
      h = Math.imul(h ^ (h >>> 15), 0x85ebca6b);
      h ^= h >>> 13;
      for (let c = 0; c < 3; c++) {
        const v = planes[c]![i]! * scale * whiteBalance[c]!;
        h = Math.imul(h ^ (h >>> 16), 0xc2b2ae35) + 0x9e3779b9;
        const noise =
          NOISE[(h >>> 12) & (NOISE_TABLE - 1)]! * Math.sqrt(readVariance + photonVariance * Math.min(1, v));
        out[3 * i + c] = encodeLight(v + noise) * top + 0.5;
      }
    }
  }
  return out;
}

const ENCODE_STEPS = 16384;
const ENCODE = Float32Array.from({ length: ENCODE_STEPS + 2 }, (_, i) => linearToSrgb((i / ENCODE_STEPS) ** 2));

/** sRGB encoding by table over the square root of light, which spreads the shadows; clips at 0 and 1. */
export function encodeLight(v: number): number {
  if (v <= 0) return 0;
  if (v >= 1) return 1;
  const t = Math.sqrt(v) * ENCODE_STEPS;
  const k = Math.floor(t);
  return ENCODE[k]! + (t - k) * (ENCODE[k + 1]! - ENCODE[k]!);
}
