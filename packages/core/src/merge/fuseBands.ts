// A focus stack fused band by band: at each scale the frame with the most detail there counts most. No labels.
import { boxSmooth, growRegion, type Plane, type Region } from '../image';
import {
  allocPlanes,
  collapsePyramid,
  gaussianPyramid,
  laplacianPyramid,
  lumaOf,
  onePlane,
  planeView,
  type KernelPlanes,
  type Kernels,
} from '../kernels';
import { clearPyramid, cutRegion } from './regionPlanes';
import { type AlignedFrame, warpFrame } from '../frame';

const LEVELS = 5;
const MARGIN_PX = 6 * 2 ** LEVELS;
/** Detail counts with this power of its energy: high enough to choose, low enough not to flicker. */
const POWER = 3;
const ENERGY_RADIUS = 1;
/** What keeps weights within float's range; below any noise. */
const LEAST_ENERGY = 1e-9;

/**
 * Fuses frames band by band, each band from the frame that the labels choose, softly.
 * @param region in merge px; read with a margin
 * @returns three planes in kernel memory, before clamping
 * Cost: about 250 ns per px and frame.
 * Source: J. M. Ogden et al., RCA Engineer 30(5), 1985 (pyramid-based computer graphics), with soft choice.
 */
export function fuseBands(
  kernels: Kernels,
  frames: readonly AlignedFrame[],
  region: Region,
  width: number,
  height: number,
): KernelPlanes {
  const out = allocPlanes(kernels, region.width, region.height, 3);
  kernels.scope(() => {
    const wide = growRegion(region, MARGIN_PX, width, height);
    const sums = clearPyramid(kernels, wide.width, wide.height, LEVELS, 3);
    const totals = clearPyramid(kernels, wide.width, wide.height, LEVELS, 1);
    for (const frame of frames) kernels.scope(() => addFrame(kernels, frame, wide, sums, totals));
    sums.forEach((level, l) => {
      const n = level.width * level.height;
      for (let c = 0; c < 3; c++) kernels.run.divideInto(level.ptr + c * n * 4, totals[l]!.ptr, n);
    });
    collapsePyramid(kernels, sums);
    cutRegion(kernels, sums[0]!, wide, out, region);
  });
  return out;
}

function addFrame(
  kernels: Kernels,
  frame: AlignedFrame,
  wide: Region,
  sums: readonly KernelPlanes[],
  totals: readonly KernelPlanes[],
): void {
  const warped = warpFrame(kernels, frame, wide);
  const reach = gaussianPyramid(kernels, onePlane(warped, 3), LEVELS);
  const luma = laplacianPyramid(kernels, lumaOf(kernels, warped), LEVELS);
  const bands = laplacianPyramid(kernels, { ...warped, count: 3 }, LEVELS);
  bands.forEach((band, l) => {
    const { width, height } = band;
    // The rest below all bands goes by the coarsest of them.
    const energy = l < LEVELS ? energyOf(kernels, luma[l]!) : halve(energyOf(kernels, luma[l - 1]!), width, height);
    kernels.scope(() => {
      const n = width * height;
      const weight = allocPlanes(kernels, width, height);
      const to = planeView(kernels, weight);
      const total = planeView(kernels, totals[l]!);
      const there = planeView(kernels, reach[l]!);
      for (let i = 0; i < n; i++) {
        const v = (energy.data[i]! + LEAST_ENERGY) ** POWER * 1e18 * there[i]!;
        to[i] = v;
        total[i]! += v;
      }
      for (let c = 0; c < 3; c++) kernels.run.accumulate(sums[l]!.ptr + c * n * 4, band.ptr + c * n * 4, weight.ptr, n);
    });
  });
}

/** Squared detail, averaged over its neighbours. */
function energyOf(kernels: Kernels, band: KernelPlanes): Plane {
  const data = planeView(kernels, band).map((v) => v * v);
  return boxSmooth({ width: band.width, height: band.height, data }, ENERGY_RADIUS);
}

function halve(plane: Plane, width: number, height: number): Plane {
  const data = new Float32Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) data[y * width + x] = plane.data[2 * y * plane.width + 2 * x]!;
  return { width, height, data };
}
