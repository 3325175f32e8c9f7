// Smoothing of whole pictures: the kernel behind boxSmooth and tentSmooth of the image room.
import { badParameter } from '../checks';
import type { Kernels } from './memory';
import { allocPlanes, checkSameSize, type KernelPlanes } from './plane';

/**
 * Two box passes, as tentSmooth: close to a Gaussian of σ ≈ sqrt(2·((2r+1)² − 1)/12).
 * @param source one plane of any size
 * @param into a plane of the same size that receives the result; may be the source
 * @param radius in samples, 1 to 64: the window is added up, so that the cost grows with it
 * @throws ParameterError for another radius or a plane of another size
 */
export function smoothTwice(kernels: Kernels, source: KernelPlanes, into: KernelPlanes, radius: number): void {
  if (!(Number.isInteger(radius) && radius >= 1 && radius <= 64))
    throw badParameter('smoothTwice.radius', 'a whole number of samples, 1 to 64', radius);
  checkSameSize('smoothTwice.into', source, into);
  const { width, height } = source;
  kernels.scope(() => {
    const between = allocPlanes(kernels, width, height);
    const rows = allocPlanes(kernels, width, height);
    kernels.run.box(source.ptr, between.ptr, rows.ptr, width, height, radius);
    kernels.run.box(between.ptr, into.ptr, rows.ptr, width, height, radius);
  });
}
