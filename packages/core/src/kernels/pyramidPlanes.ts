// Gaussian and Laplacian pyramids of planes in kernel memory.
import type { Kernels } from './memory';
import { allocPlanes, type KernelPlanes } from './plane';

const half = (v: number): number => (v + 1) >> 1;

/**
 * Smoothed copies at 1, 1/2, 1/4 … (Burt and Adelson 1983).
 * @param levels number of reductions; the result has levels + 1 entries, the first is the input itself
 */
export function gaussianPyramid(kernels: Kernels, planes: KernelPlanes, levels: number): KernelPlanes[] {
  const out = [planes];
  let current = planes;
  for (let l = 0; l < levels; l++) {
    const next = allocPlanes(kernels, half(current.width), half(current.height), current.count);
    const { width, height, ptr, count } = current;
    kernels.scope(() => {
      const tmp = kernels.alloc(width * 4);
      for (let c = 0; c < count; c++) {
        kernels.run.reduce(
          ptr + c * width * height * 4,
          width,
          height,
          next.ptr + c * next.width * next.height * 4,
          tmp,
        );
      }
    });
    out.push(next);
    current = next;
  }
  return out;
}

/** Details per level and the smooth rest last; overwrites the input, which becomes the finest level. */
export function laplacianPyramid(kernels: Kernels, planes: KernelPlanes, levels: number): KernelPlanes[] {
  const pyramid = gaussianPyramid(kernels, planes, levels);
  for (let l = 0; l < levels; l++) addExpanded(kernels, pyramid[l + 1]!, pyramid[l]!, -1);
  return pyramid;
}

/** Puts a Laplacian pyramid together again, in place; the result is its finest level. */
export function collapsePyramid(kernels: Kernels, pyramid: readonly KernelPlanes[]): KernelPlanes {
  for (let l = pyramid.length - 2; l >= 0; l--) addExpanded(kernels, pyramid[l + 1]!, pyramid[l]!, 1);
  return pyramid[0]!;
}

function addExpanded(kernels: Kernels, coarse: KernelPlanes, fine: KernelPlanes, gain: number): void {
  kernels.scope(() => {
    const tmp = kernels.alloc(coarse.width * 4);
    for (let c = 0; c < fine.count; c++) {
      kernels.run.expandInto(
        coarse.ptr + c * coarse.width * coarse.height * 4,
        fine.width,
        fine.height,
        fine.ptr + c * fine.width * fine.height * 4,
        tmp,
        gain,
      );
    }
  });
}
