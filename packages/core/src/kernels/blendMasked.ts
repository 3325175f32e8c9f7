// One picture painted over another through a mask.
import type { Kernels } from './memory';
import { checkSameSize, type KernelPlanes } from './plane';

/**
 * base += mask × (donor − base), in place.
 * @param base planes to change
 * @param donor at least as many planes
 * @param mask one plane in 0..1
 */
export function blendMasked(kernels: Kernels, base: KernelPlanes, donor: KernelPlanes, mask: KernelPlanes): void {
  checkSameSize('blendMasked.donor', base, donor);
  checkSameSize('blendMasked.mask', base, mask);
  const n = base.width * base.height;
  for (let c = 0; c < base.count; c++) {
    kernels.run.blendInto(base.ptr + c * n * 4, donor.ptr + c * n * 4, mask.ptr, n);
  }
}
