// One region of one frame, from the world to the file's integers: light, lens faults, shake, sensor.
import { sampleBilinear, type Region } from '@blendrak/core/image';
import { leastBlurPx, type Lens } from '../optics/lens';
import type { View } from '../optics/view';
import { discBlur } from './discBlur';
import { renderLight } from './renderLight';
import type { Exposure, Light, Stage } from './stage';
import { record, type Recording } from './sensor';

/** One exposure of a series. */
export interface Shot extends Recording {
  readonly view: View;
  readonly focusMm: number | null;
  readonly startS: number;
  readonly shutterS: number;
  /** How far the camera moved while the shutter was open, px. */
  readonly shakePx: readonly [number, number];
}

/**
 * Renders a region of a frame.
 * @param region within the frame
 * @param bits depth of the integers
 * @returns interleaved RGB
 */
export function takeFrame(stage: Stage, shot: Shot, region: Region, bits: 8 | 16): Uint8Array | Uint16Array {
  return record(lightOf(stage, shot, region), shot.view, shot, bits);
}

/** Light of a region with the faults of lens and hand. */
export function lightOf(stage: Stage, shot: Shot, region: Region): Light {
  const { lens, view, shakePx } = shot;
  const half = view.halfDiagonalPx;
  const sigma = leastBlurPx(lens, shot.focusMm ?? nominalFocusMm(stage));
  const reach = Math.ceil(2.6 * sigma);
  const margin = Math.ceil(
    Math.abs(lens.lateralColour) * half * 1.1 +
      lens.cornerBlurPx +
      Math.hypot(...shakePx) / 2 +
      reach +
      (isPlain(shot) ? 0 : 2),
  );
  const exposure: Exposure = shot;
  let light = renderLight(stage, exposure, grown(region, margin));
  light = spread(light, sigma, reach);
  if (lens.cornerBlurPx > 0) light = softenCorners(light, view, lens);
  if (lens.lateralColour !== 0) light = spreadColours(light, view, lens);
  if (Math.hypot(...shakePx) > 0) light = shake(light, shakePx);
  return cutOut(light, region);
}

/** A region with its margin, which may reach beyond the frame: the world goes on there. */
function grown({ x, y, width, height }: Region, margin: number): Region {
  return { x: x - margin, y: y - margin, width: width + 2 * margin, height: height + 2 * margin };
}

function isPlain({ lens, shakePx }: Shot): boolean {
  return lens.lateralColour === 0 && lens.cornerBlurPx === 0 && shakePx[0] === 0 && shakePx[1] === 0;
}

/** Focus distance of a picture that is sharp throughout, for what diffraction does to it. */
function nominalFocusMm({ world: { nearMm, farMm } }: Stage): number {
  return 2 / (1 / nearMm + 1 / farMm);
}

/** Gaussian blur, rows then columns; the rim of the region is of no use afterwards. */
function spread(light: Light, sigma: number, reach: number): Light {
  const taps = Array.from({ length: reach + 1 }, (_, k) => Math.exp(-(k * k) / (2 * sigma * sigma)));
  const total = taps.reduce((s, w, k) => s + (k === 0 ? w : 2 * w), 0);
  const { width, height } = light.region;
  const along = (data: Float32Array, step: number): Float32Array => {
    const out = new Float32Array(data.length);
    const last = data.length - reach * step;
    for (let i = reach * step; i < last; i++) {
      let sum = taps[0]! * data[i]!;
      for (let k = 1; k <= reach; k++) sum += taps[k]! * (data[i - k * step]! + data[i + k * step]!);
      out[i] = sum / total;
    }
    return out;
  };
  const blur = (data: Float32Array): Float32Array => (height > 2 * reach ? along(along(data, 1), width) : data);
  return { ...light, r: blur(light.r), g: blur(light.g), b: blur(light.b) };
}

/** Blur that grows with the fourth power of the radius: the sharp light mixed with light blurred as in the very corner. */
function softenCorners(light: Light, view: View, lens: Lens): Light {
  const { region } = light;
  const half = view.halfDiagonalPx;
  const soften = (data: Float32Array): Float32Array => {
    const soft = discBlur({ width: region.width, height: region.height, data }, () => lens.cornerBlurPx);
    for (let y = 0; y < region.height; y++) {
      for (let x = 0; x < region.width; x++) {
        const i = y * region.width + x;
        const r = Math.hypot(region.x + x + 0.5 - view.principal[0], region.y + y + 0.5 - view.principal[1]) / half;
        const t = Math.min(1, r ** 4);
        soft[i] = data[i]! + t * (soft[i]! - data[i]!);
      }
    }
    return soft;
  };
  return { ...light, r: soften(light.r), g: soften(light.g), b: soften(light.b) };
}

/** Red drawn larger and blue smaller about the axis: lateral colour. */
function spreadColours(light: Light, view: View, lens: Lens): Light {
  const scaled = (data: Float32Array, scale: number): Float32Array =>
    resample(light.region, data, (x, y) => [
      view.principal[0] + (x - view.principal[0]) / scale,
      view.principal[1] + (y - view.principal[1]) / scale,
    ]);
  return { ...light, r: scaled(light.r, 1 + lens.lateralColour), b: scaled(light.b, 1 - lens.lateralColour) };
}

function shake(light: Light, [dx, dy]: readonly [number, number]): Light {
  const taps = Math.max(2, Math.ceil(Math.hypot(dx, dy) * 1.5));
  const blur = (data: Float32Array): Float32Array => {
    const sum = new Float32Array(data.length);
    for (let k = 0; k < taps; k++) {
      const t = (k + 0.5) / taps - 0.5;
      const moved = resample(light.region, data, (x, y) => [x + t * dx, y + t * dy]);
      for (let i = 0; i < sum.length; i++) sum[i] = sum[i]! + moved[i]! / taps;
    }
    return sum;
  };
  return { ...light, r: blur(light.r), g: blur(light.g), b: blur(light.b) };
}

/** Bilinear resampling within a region; outside it the rim continues. */
function resample(
  region: Region,
  data: Float32Array,
  from: (x: number, y: number) => readonly [number, number],
): Float32Array {
  const { width, height } = region;
  const plane = { width, height, data };
  const out = new Float32Array(data.length);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const [px, py] = from(region.x + x + 0.5, region.y + y + 0.5);
      out[y * width + x] = sampleBilinear(plane, px - region.x, py - region.y);
    }
  }
  return out;
}

function cutOut(light: Light, region: Region): Light {
  const cut = <T extends Float32Array | Uint8Array>(data: T, out: T): T => {
    for (let y = 0; y < region.height; y++) {
      const at = (region.y - light.region.y + y) * light.region.width + region.x - light.region.x;
      out.set(data.subarray(at, at + region.width), y * region.width);
    }
    return out;
  };
  const n = region.width * region.height;
  const floats = (data: Float32Array): Float32Array => cut(data, new Float32Array(n));
  return {
    region,
    r: floats(light.r),
    g: floats(light.g),
    b: floats(light.b),
    depthMm: floats(light.depthMm),
    layer: cut(light.layer, new Uint8Array(n)),
  };
}
