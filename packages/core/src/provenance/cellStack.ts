// All that the detectors know of a region: per 4 × 4 px cell, the merge and every frame.
import { warpFrame, type AlignedFrame } from '../align';
import { badParameter } from '../checks';
import { noiseAt, tentSmooth, type NoiseCurve, type Plane, type Region } from '../image';
import {
  BAND_NOISE_GAIN,
  CELL_PX,
  downloadPlanes,
  focusBands,
  meanCells,
  residualCells,
  type KernelPlanes,
  type Kernels,
} from '../kernels';

/** What one picture shows per cell; energies are noise-corrected and smoothed over about 9 px. */
export interface CellPicture {
  readonly fine: Float32Array;
  readonly middle: Float32Array;
  readonly coarse: Float32Array;
  /** Mean colour of the cell. */
  readonly mean: readonly [Float32Array, Float32Array, Float32Array];
  /** 1 where the picture covers the whole cell. */
  readonly valid: Uint8Array;
}

/** A frame beside the merge. */
export interface CellFrame extends CellPicture {
  /** Mean squared RGB difference from the merge, smoothed over about 9 px. */
  readonly residual: Float32Array;
}

/** A region's cells. The grid's origin is the region's, which is a multiple of 4 px. */
export interface CellStack {
  readonly region: Region;
  readonly width: number;
  readonly height: number;
  /** The merge; null while there is none. */
  readonly merge: CellPicture | null;
  readonly frames: readonly CellFrame[];
  /** Noise energy of the middle band per cell, of a single picture. */
  readonly noiseMiddle: Float32Array;
}

const SMOOTH_CELLS = 1;

/**
 * Reads a region of the merge and of all frames and reduces them to cells.
 * @param merge the merge itself as a frame with identity transform and tone; null before there is one
 * @param region in merge px; origin and size multiples of 4
 * @returns cells of the whole region; the outermost 4 cells lean on repeated edges unless they are the picture's own
 * @throws ParameterError when the region is not on the cell grid, or there are no frames
 * Cost: about 60 ns per px and frame; memory 16 bytes × px × 3 and 44 bytes × cells × frames.
 */
export function gatherCells(
  kernels: Kernels,
  merge: AlignedFrame | null,
  frames: readonly AlignedFrame[],
  region: Region,
): CellStack {
  if ([region.x, region.y, region.width, region.height].some((v) => v % CELL_PX !== 0)) {
    throw badParameter('gatherCells.region', 'multiples of 4 px', region);
  }
  if (frames.length === 0) throw badParameter('gatherCells.frames.length', 'at least 1', 0);
  return kernels.scope(() => {
    const base = merge ? warpFrame(kernels, merge, region) : null;
    const mergePicture = base && merge ? reducePicture(kernels, base, merge.noise) : null;
    const cellFrames = frames.map((frame) =>
      kernels.scope((): CellFrame => {
        const warped = warpFrame(kernels, frame, region);
        const picture = reducePicture(kernels, warped, frame.noise);
        if (!base) return { ...picture, residual: new Float32Array(picture.valid.length) };
        const residual = toPlane(kernels, residualCells(kernels, base, warped));
        return { ...picture, residual: tentSmooth(residual, SMOOTH_CELLS).data };
      }),
    );
    const width = region.width / CELL_PX;
    const height = region.height / CELL_PX;
    const noiseMiddle = new Float32Array(width * height);
    const noise = frames[0]!.noise;
    const brightness = (mergePicture ?? cellFrames[0]!).mean;
    for (let i = 0; i < noiseMiddle.length; i++) {
      noiseMiddle[i] = BAND_NOISE_GAIN[1] * noiseAt(noise, lumaAt(brightness, i));
    }
    return { region, width, height, merge: mergePicture, frames: cellFrames, noiseMiddle };
  });
}

function toPlane(kernels: Kernels, planes: KernelPlanes): Plane {
  return { width: planes.width, height: planes.height, data: downloadPlanes(kernels, planes)[0]! };
}

function lumaAt(mean: CellPicture['mean'], i: number): number {
  return 0.2126 * mean[0][i]! + 0.7152 * mean[1][i]! + 0.0722 * mean[2][i]!;
}

function reducePicture(kernels: Kernels, planes: KernelPlanes, noise: NoiseCurve): CellPicture {
  const bands = downloadPlanes(kernels, focusBands(kernels, planes));
  const width = planes.width / CELL_PX;
  const height = planes.height / CELL_PX;
  const [r, g, b, v] = downloadPlanes(kernels, meanCells(kernels, planes)) as [
    Float32Array,
    Float32Array,
    Float32Array,
    Float32Array,
  ];
  const mean = [r, g, b] as const;
  const corrected = bands.map((data, j) => {
    const out = tentSmooth({ width, height, data }, SMOOTH_CELLS).data;
    for (let i = 0; i < out.length; i++) {
      out[i] = Math.max(0, out[i]! - BAND_NOISE_GAIN[j]! * noiseAt(noise, lumaAt(mean, i)));
    }
    return out;
  }) as [Float32Array, Float32Array, Float32Array];
  return {
    fine: corrected[0],
    middle: corrected[1],
    coarse: corrected[2],
    mean,
    valid: Uint8Array.from(v, (x) => (x > 0.999 ? 1 : 0)),
  };
}
