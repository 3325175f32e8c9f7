// A region of a focus stack fused by labels: multi-band blend over a short Laplacian pyramid.
import { growRegion, type Region } from '../image';
import {
  allocPlanes,
  CELL_PX,
  collapsePyramid,
  gaussianPyramid,
  laplacianPyramid,
  onePlane,
  planeView,
  type KernelPlanes,
  type Kernels,
} from '../kernels';
import { applyTones, type ToneGrid } from './clearSpill';
import { clearPyramid, cutRegion } from './regionPlanes';
import type { LabelGrid } from './regulariseLabels';
import { type AlignedFrame, warpFrame } from '../frame';

/**
 * Levels of the blend. Three bands and a base mix over about 16 px: frames are toned alike beforehand, so wider mixing
 * would only draw a defocused neighbour's light across the border.
 */
const LEVELS = 3;

export interface FuseOptions {
  /** Bands of the blend: more mix wider, by about 2^levels px each side; default 3. */
  readonly levels?: number;
  /** Corrections of tone per cell; none when left out. */
  readonly tones?: ToneGrid;
}

/**
 * Fuses one region (P. J. Burt and E. H. Adelson, ACM Trans. Graphics 2(4), 1983, with one mask per frame).
 * @param frames aligned frames in shooting order
 * @param grid labels of the whole picture
 * @param region in merge px; any size; read with a margin of six times what is mixed
 * @param width, height merge size in px
 * @returns three planes in kernel memory, 0..1 before clamping
 * Cost: about 200 ns per px and frame that occurs in the region; frames that do not occur cost nothing.
 */
export function fuseRegion(
  kernels: Kernels,
  frames: readonly AlignedFrame[],
  grid: LabelGrid,
  region: Region,
  width: number,
  height: number,
  options: FuseOptions = {},
): KernelPlanes {
  const { levels = LEVELS, tones } = options;
  const out = allocPlanes(kernels, region.width, region.height, 3);
  kernels.scope(() => {
    const wide = growRegion(region, 6 * 2 ** levels, width, height);
    const used = labelsIn(grid, wide);
    const sums = clearPyramid(kernels, wide.width, wide.height, levels, 3);
    const weight = clearPyramid(kernels, wide.width, wide.height, levels, 1);
    for (const label of used) {
      const frame = frames[label];
      if (!frame) continue;
      kernels.scope(() => addFrame(kernels, frame, label, grid, tones, wide, sums, weight));
    }
    sums.forEach((level, l) => normalise(kernels, level, weight[l]!));
    collapsePyramid(kernels, sums);
    cutRegion(kernels, sums[0]!, wide, out, region);
  });
  return out;
}

function addFrame(
  kernels: Kernels,
  frame: AlignedFrame,
  label: number,
  grid: LabelGrid,
  tones: ToneGrid | undefined,
  wide: Region,
  sums: readonly KernelPlanes[],
  weight: readonly KernelPlanes[],
): void {
  const warped = warpFrame(kernels, frame, wide);
  const valid = onePlane(warped, 3);
  const mask = allocPlanes(kernels, wide.width, wide.height, 1);
  paintMask(planeView(kernels, mask), planeView(kernels, valid), grid, label, wide);
  const masks = gaussianPyramid(kernels, mask, sums.length - 1);
  const rgb: KernelPlanes = { ...warped, count: 3 };
  if (tones) applyTones(kernels, rgb, wide, label, grid.labels, tones);
  const bands = laplacianPyramid(kernels, rgb, sums.length - 1);
  bands.forEach((band, l) => {
    const n = band.width * band.height;
    for (let c = 0; c < 3; c++) {
      kernels.run.accumulate(sums[l]!.ptr + c * n * 4, band.ptr + c * n * 4, masks[l]!.ptr, n);
    }
    const to = planeView(kernels, weight[l]!);
    const from = planeView(kernels, masks[l]!);
    for (let i = 0; i < n; i++) to[i]! += from[i]!;
  });
}

function normalise(kernels: Kernels, planes: KernelPlanes, weight: KernelPlanes): void {
  const n = planes.width * planes.height;
  for (let c = 0; c < planes.count; c++) kernels.run.divideInto(planes.ptr + c * n * 4, weight.ptr, n);
}

function labelsIn(grid: LabelGrid, region: Region): number[] {
  const seen = new Set<number>();
  const x1 = Math.min(grid.width - 1, Math.ceil((region.x + region.width) / CELL_PX));
  const y1 = Math.min(grid.height - 1, Math.ceil((region.y + region.height) / CELL_PX));
  for (let y = Math.max(0, Math.floor(region.y / CELL_PX) - 1); y <= y1; y++) {
    for (let x = Math.max(0, Math.floor(region.x / CELL_PX) - 1); x <= x1; x++)
      seen.add(grid.labels[y * grid.width + x]!);
  }
  return [...seen].sort((a, b) => a - b);
}

/** The label's share per pixel, bilinear between cell centres, zero where the frame does not reach. */
function paintMask(mask: Float32Array, valid: Float32Array, grid: LabelGrid, label: number, region: Region): void {
  for (let y = 0; y < region.height; y++) {
    const gy = Math.min(grid.height - 1, Math.max(0, (region.y + y + 0.5) / CELL_PX - 0.5));
    const y0 = Math.floor(gy);
    const y1 = Math.min(grid.height - 1, y0 + 1);
    const v = gy - y0;
    for (let x = 0; x < region.width; x++) {
      const gx = Math.min(grid.width - 1, Math.max(0, (region.x + x + 0.5) / CELL_PX - 0.5));
      const x0 = Math.floor(gx);
      const x1 = Math.min(grid.width - 1, x0 + 1);
      const u = gx - x0;
      const share =
        (grid.labels[y0 * grid.width + x0] === label ? (1 - u) * (1 - v) : 0) +
        (grid.labels[y0 * grid.width + x1] === label ? u * (1 - v) : 0) +
        (grid.labels[y1 * grid.width + x0] === label ? (1 - u) * v : 0) +
        (grid.labels[y1 * grid.width + x1] === label ? u * v : 0);
      const i = y * region.width + x;
      // A whisper of weight keeps borders, where the labelled frame may not reach, from falling to black.
      mask[i] = (share + 1e-5) * valid[i]!;
    }
  }
}
