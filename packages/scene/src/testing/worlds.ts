// Small worlds and cameras of known geometry for tests.
import { CORRECTED, type Lens } from '../optics/lens';
import { rotationOf, type Vec3 } from '../optics/pose';
import type { View } from '../optics/view';
import type { Stage } from '../render/stage';
import type { Shot } from '../render/takeFrame';
import { coverage, facing, type Layer } from '../world/layer';

export const FOCAL_PX = 400;
export const SIZE = { width: 160, height: 120 };

/** A view along the axis from a position, yaw in radians. */
export function view(positionMm: Vec3 = [0, 0, 0], yawRad = 0, focalPx = FOCAL_PX): View {
  return {
    projection: 'flat',
    ...SIZE,
    focalPx,
    principal: [SIZE.width / 2, SIZE.height / 2],
    rotation: rotationOf(yawRad, 0, 0),
    positionMm,
    distortion: 0,
    halfDiagonalPx: 100,
  };
}

/** A lens with plenty of blur. */
export const LENS: Lens = { ...CORRECTED, focalLengthMm: 16, fNumber: 2, pixelPitchMm: 0.01 };

/** Everything sharp, no noise. */
export function shot(over: Partial<Shot> = {}): Shot {
  return {
    view: view(),
    lens: LENS,
    focusMm: null,
    startS: 0,
    shutterS: 0,
    shakePx: [0, 0],
    sensor: { photonNoise: 0, readNoise: 0, dust: [] },
    gain: 1,
    whiteBalance: [1, 1, 1],
    amplification: 1,
    noiseSeed: 7,
    ...over,
  };
}

/** A stage in tangents whose layers stand from far to near. */
export function stage(...layers: Layer[]): Stage {
  const world = { name: 'test', seed: 1, layers, centre: [0, 0] as const, nearMm: 100, farMm: 1000 };
  return { world, tangentPerUnit: 1, grainUnits: 1 / FOCAL_PX };
}

const EVERYWHERE = { x0: -9, y0: -9, x1: 9, y1: 9 };

/** An even wall. */
export function wall(light: number, depthMm: number): Layer {
  return {
    name: 'wall',
    plane: facing(depthMm),
    box: EVERYWHERE,
    shade(_x, _y, _pixel, out) {
      out.r = out.g = out.b = light;
    },
  };
}

/** A disc of radius radiusPx about a scene position; moves along x at speedPx a second. */
export function disc(xPx: number, yPx: number, radiusPx: number, depthMm: number, light = 1, speedPx = 0): Layer {
  return {
    name: 'disc',
    plane: facing(depthMm),
    box: EVERYWHERE,
    ...(speedPx !== 0 && { motion: { kind: 'object' as const, unitsPerS: speedPx / FOCAL_PX } }),
    shade(x, y, pixel, out, timeS) {
      const d = Math.hypot(x * FOCAL_PX - xPx - speedPx * timeS, y * FOCAL_PX - yPx) - radiusPx;
      out.a = coverage(d / FOCAL_PX, pixel);
      out.r = out.g = out.b = light;
    },
  };
}

/** Sum, centre and variance of a plane's light over its region, px. */
export function moments(
  data: Float32Array,
  region: { x: number; y: number; width: number; height: number },
): { sum: number; x: number; y: number; varianceX: number; varianceY: number } {
  let [sum, sx, sy, sxx, syy] = [0, 0, 0, 0, 0];
  for (let j = 0; j < region.height; j++) {
    for (let i = 0; i < region.width; i++) {
      const v = data[j * region.width + i]!;
      const [x, y] = [region.x + i + 0.5, region.y + j + 0.5];
      sum += v;
      sx += v * x;
      sy += v * y;
      sxx += v * x * x;
      syy += v * y * y;
    }
  }
  const [x, y] = [sx / sum, sy / sum];
  return { sum, x, y, varianceX: sxx / sum - x * x, varianceY: syy / sum - y * y };
}
