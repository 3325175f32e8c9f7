// Exposure fusion of a bracket by region: the fine bands tile by tile, the rest (1.6 % of the pixels) as a whole.
import { growRegion, quantile, type Plane, type Region } from '../image';
import {
  allocPlanes,
  collapsePyramid,
  gaussianPyramid,
  laplacianPyramid,
  planeView,
  type KernelPlanes,
  type Kernels,
} from '../kernels';
import { exposureWeights } from './exposureWeights';
import { clearPyramid, cutRegion } from './regionPlanes';
import { type AlignedFrame, warpFrame } from '../frame';

/** Bands blended tile by tile; the base below them is one eighth of the size. */
export const FINE_LEVELS = 3;
const MARGIN_PX = 64;
const SMALLEST_PX = 6;
/** Share of the values that may be lost at each end. */
const RIM_QUANTILE = 0.002;
/** Where the bends begin that bring what overshoots back into range. */
const [SHADOW_KNEE, LIGHT_KNEE] = [0.12, 0.75];

/** A frame of a bracket: where it lies, and its share by cell where things moved. */
export interface ExposureFrame extends AlignedFrame {
  /** Cells over the whole merge; null where nothing moved. */
  readonly share: Plane | null;
}

/** Four planes per frame (R, G, B, weight) of one part of the base, without margin. */
export interface BasePart {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  readonly frames: readonly Float32Array[];
}

/** The blended base of the whole merge. */
export interface ExposureBase {
  /** R, G, B planes, one after the other. */
  readonly rgb: Float32Array;
  /** What nearly all of it lies between: bright places in dark surroundings come out beyond white. */
  readonly low: number;
  readonly high: number;
}

/** Size of the base of a merge. */
export function baseSize(width: number, height: number): { readonly width: number; readonly height: number } {
  const shrink = (v: number): number => {
    let out = v;
    for (let l = 0; l < FINE_LEVELS; l++) out = (out + 1) >> 1;
    return out;
  };
  return { width: shrink(width), height: shrink(height) };
}

/**
 * First pass: colours and weights of a region, reduced to the base.
 * @param region starts on multiples of 8 px
 * Cost: about 100 ns per px and frame.
 */
export function reduceExposures(
  kernels: Kernels,
  frames: readonly ExposureFrame[],
  region: Region,
  width: number,
  height: number,
): BasePart {
  const wide = growRegion(region, MARGIN_PX, width, height);
  const part = { x: region.x >> FINE_LEVELS, y: region.y >> FINE_LEVELS, ...baseSize(region.width, region.height) };
  const at = { x: part.x - (wide.x >> FINE_LEVELS), y: part.y - (wide.y >> FINE_LEVELS) };
  const out = frames.map(() => new Float32Array(4 * part.width * part.height));
  kernels.scope(() => {
    const { colours, weights } = weighFrames(kernels, frames, wide, width, height);
    colours.forEach((rgb, k) => {
      const colour = gaussianPyramid(kernels, rgb, FINE_LEVELS)[FINE_LEVELS]!;
      const weight = gaussianPyramid(kernels, weights[k]!, FINE_LEVELS)[FINE_LEVELS]!;
      for (let c = 0; c < 4; c++) {
        const from = c < 3 ? planeView(kernels, colour, c) : planeView(kernels, weight);
        for (let y = 0; y < part.height; y++) {
          const start = (at.y + y) * colour.width + at.x;
          out[k]!.set(from.subarray(start, start + part.width), (c * part.height + y) * part.width);
        }
      }
    });
  });
  return { ...part, frames: out };
}

/**
 * Second pass: the base of the whole merge, blended over all its levels.
 * @param parts that tile the base
 * Cost: about 60 ns per base px and frame.
 */
export function fuseBase(kernels: Kernels, parts: readonly BasePart[], width: number, height: number): ExposureBase {
  const size = baseSize(width, height);
  const n = size.width * size.height;
  const levels = Math.max(0, Math.floor(Math.log2(Math.min(size.width, size.height) / SMALLEST_PX)));
  return kernels.scope(() => {
    const sums = clearPyramid(kernels, size.width, size.height, levels, 3);
    const count = parts[0]!.frames.length;
    for (let k = 0; k < count; k++) {
      kernels.scope(() => {
        const planes = allocPlanes(kernels, size.width, size.height, 4);
        const all = kernels.f32(planes.ptr, 4 * n);
        for (const part of parts) {
          for (let c = 0; c < 4; c++) {
            for (let y = 0; y < part.height; y++) {
              const start = (c * part.height + y) * part.width;
              all.set(part.frames[k]!.subarray(start, start + part.width), c * n + (part.y + y) * size.width + part.x);
            }
          }
        }
        const weight: KernelPlanes = { ...planes, ptr: planes.ptr + 3 * n * 4, count: 1 };
        addWeighted(kernels, sums, { ...planes, count: 3 }, weight, levels);
      });
    }
    collapsePyramid(kernels, sums);
    const rgb = kernels.f32(sums[0]!.ptr, 3 * n).slice();
    return { rgb, low: quantile(rgb, RIM_QUANTILE), high: quantile(rgb, 1 - RIM_QUANTILE) };
  });
}

/**
 * Third pass: a region at full size, its fine bands over the base.
 * @param region starts on multiples of 8 px
 * @param base from fuseBase
 * @returns R, G, B planes in kernel memory; what overshoots is bent back softly (after C. Hessel, IPOL 8, 2018)
 * Cost: about 130 ns per px and frame.
 */
export function fuseExposures(
  kernels: Kernels,
  frames: readonly ExposureFrame[],
  base: ExposureBase,
  region: Region,
  width: number,
  height: number,
): KernelPlanes {
  const out = allocPlanes(kernels, region.width, region.height, 3);
  kernels.scope(() => {
    const wide = growRegion(region, MARGIN_PX, width, height);
    const sums = clearPyramid(kernels, wide.width, wide.height, FINE_LEVELS, 3);
    const { colours, weights } = weighFrames(kernels, frames, wide, width, height);
    colours.forEach((rgb, k) => kernels.scope(() => addWeighted(kernels, sums, rgb, weights[k]!, FINE_LEVELS)));
    const coarse = sums[FINE_LEVELS]!;
    const size = baseSize(width, height);
    const [x0, y0] = [wide.x >> FINE_LEVELS, wide.y >> FINE_LEVELS];
    for (let c = 0; c < 3; c++) {
      const to = planeView(kernels, coarse, c);
      for (let y = 0; y < coarse.height; y++) {
        const start = (c * size.height + y0 + y) * size.width + x0;
        to.set(base.rgb.subarray(start, start + coarse.width), y * coarse.width);
      }
    }
    collapsePyramid(kernels, sums);
    cutRegion(kernels, sums[0]!, wide, out, region);
    for (let c = 0; c < 3; c++) bendBack(planeView(kernels, out, c), base);
  });
  return out;
}

/** Values beyond the knees are pressed together so that the range's ends become black and white; slope 1 at the knees. */
function bendBack(values: Float32Array, { low, high }: ExposureBase): void {
  const above = high > 1 ? 1 / (1 - LIGHT_KNEE) - 1 / (high - LIGHT_KNEE) : 0;
  const below = low < 0 ? 1 / SHADOW_KNEE - 1 / (SHADOW_KNEE - low) : 0;
  if (above === 0 && below === 0) return;
  for (let i = 0; i < values.length; i++) {
    const v = values[i]!;
    if (v > LIGHT_KNEE) values[i] = LIGHT_KNEE + (v - LIGHT_KNEE) / (1 + (v - LIGHT_KNEE) * above);
    else if (v < SHADOW_KNEE) values[i] = SHADOW_KNEE - (SHADOW_KNEE - v) / (1 + (SHADOW_KNEE - v) * below);
  }
}

/** All frames in a region with weights that add up to 1. */
function weighFrames(
  kernels: Kernels,
  frames: readonly ExposureFrame[],
  wide: Region,
  width: number,
  height: number,
): { colours: KernelPlanes[]; weights: KernelPlanes[] } {
  const n = wide.width * wide.height;
  const total = new Float32Array(n);
  const pairs = frames.map((frame) => {
    const planes = warpFrame(kernels, frame, wide);
    const weights = exposureWeights(kernels, planes, frame.share && sharesIn(frame.share, wide, width, height));
    const w = planeView(kernels, weights);
    for (let i = 0; i < n; i++) total[i]! += w[i]!;
    return { colour: { ...planes, count: 3 }, weights };
  });
  for (const { weights } of pairs) {
    const w = planeView(kernels, weights);
    for (let i = 0; i < n; i++) w[i] = total[i]! > 0 ? w[i]! / total[i]! : 1 / frames.length;
  }
  return { colours: pairs.map((p) => p.colour), weights: pairs.map((p) => p.weights) };
}

/** A grid over the whole merge, bilinear at the pixels of a region. */
export function sharesIn(grid: Plane, region: Region, width: number, height: number): Float32Array {
  const out = new Float32Array(region.width * region.height);
  for (let y = 0; y < region.height; y++) {
    const gy = Math.min(grid.height - 1, Math.max(0, ((region.y + y + 0.5) / height) * grid.height - 0.5));
    const y0 = gy | 0;
    const below = y0 < grid.height - 1 ? grid.width : 0;
    const v = gy - y0;
    for (let x = 0; x < region.width; x++) {
      const gx = Math.min(grid.width - 1, Math.max(0, ((region.x + x + 0.5) / width) * grid.width - 0.5));
      const x0 = gx | 0;
      const right = x0 < grid.width - 1 ? 1 : 0;
      const u = gx - x0;
      const i = y0 * grid.width + x0;
      const top = grid.data[i]! + u * (grid.data[i + right]! - grid.data[i]!);
      const bottom = grid.data[i + below]! + u * (grid.data[i + below + right]! - grid.data[i + below]!);
      out[y * region.width + x] = top + v * (bottom - top);
    }
  }
  return out;
}

/** Adds a frame's bands by its weight at each level; the colour planes are used up. */
function addWeighted(
  kernels: Kernels,
  sums: readonly KernelPlanes[],
  colour: KernelPlanes,
  weight: KernelPlanes,
  levels: number,
): void {
  const weights = gaussianPyramid(kernels, weight, levels);
  laplacianPyramid(kernels, colour, levels).forEach((band, l) => {
    const n = band.width * band.height;
    for (let c = 0; c < 3; c++)
      kernels.run.accumulate(sums[l]!.ptr + c * n * 4, band.ptr + c * n * 4, weights[l]!.ptr, n);
  });
}
