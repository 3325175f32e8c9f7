// Means and differences per grid cell, and their smoothing.
import { badParameter } from '../checks';
import { CELL_PX } from './focusBands';
import type { Kernels } from './memory';
import { allocPlanes, checkSameSize, type KernelPlanes } from './plane';

/**
 * Mean squared difference of two planes per 4 × 4 px cell.
 * @param a, b one plane each, of equal size, multiples of 4
 * @returns one plane of width/4 × height/4, in squared units of the input
 * @throws ParameterError for planes of different sizes, or of no whole number of cells
 */
export function differenceCells(kernels: Kernels, a: KernelPlanes, b: KernelPlanes): KernelPlanes {
  checkSameSize('differenceCells.b', a, b);
  if (a.width % CELL_PX || a.height % CELL_PX) {
    throw badParameter('differenceCells.a.size', 'multiples of 4 px', [a.width, a.height]);
  }
  const out = allocPlanes(kernels, a.width / CELL_PX, a.height / CELL_PX);
  kernels.run.squaredDifference4(a.ptr, b.ptr, a.width, a.height, out.ptr);
  return out;
}

/**
 * Mean of every plane per 4 × 4 px cell.
 * @param planes any number of planes, width and height multiples of 4
 * @returns as many planes of width/4 × height/4
 * @throws ParameterError for planes of no whole number of cells
 */
export function meanCells(kernels: Kernels, planes: KernelPlanes): KernelPlanes {
  if (planes.width % CELL_PX || planes.height % CELL_PX) {
    throw badParameter('meanCells.planes.size', 'multiples of 4 px', [planes.width, planes.height]);
  }
  const out = allocPlanes(kernels, planes.width / CELL_PX, planes.height / CELL_PX, planes.count);
  for (let c = 0; c < planes.count; c++) {
    const from = planes.ptr + c * planes.width * planes.height * 4;
    kernels.run.mean4(from, planes.width, planes.height, out.ptr + c * out.width * out.height * 4);
  }
  return out;
}

/**
 * Smooths every plane in place with the separable tent [1 2 3 2 1]/9 (σ ≈ 1.15 samples); edges repeated.
 * Cost: about 2 ns per sample.
 */
export function smoothTent(kernels: Kernels, planes: KernelPlanes): KernelPlanes {
  const { width, height, count, ptr } = planes;
  kernels.scope(() => {
    const tmp = kernels.alloc(width * height * 4);
    for (let c = 0; c < count; c++) {
      const plane = ptr + c * width * height * 4;
      kernels.run.tent(plane, plane, tmp, width, height);
    }
  });
  return planes;
}
