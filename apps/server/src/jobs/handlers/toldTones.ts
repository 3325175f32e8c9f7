// Where a donor that is rendered over a region tells of tones.
import { heldRanges } from '@blendrak/core/cells';
import type { AlignedFrame } from '@blendrak/core/frame';
import { planeView, type KernelPlanes } from '@blendrak/core/kernels';
import { tellsTone } from '@blendrak/core/repair';
import { threadKernels } from '../kernelHost';

/**
 * Flags px in which merge and donor can be compared: where the donor covers the region, and, if it is an exposure, where it is not clipped
 * before a merge that is not.
 * @param merge R, G, B of the region, encoded 0..1
 * @param donor R, G, B of the donor there, and where it is valid
 * @param exposure the donor's frame where it is one of exposures; null for others
 */
export function toldTones(merge: KernelPlanes, donor: KernelPlanes, exposure: AlignedFrame | null): Float32Array {
  const views = (planes: KernelPlanes, count: number): Float32Array[] =>
    Array.from({ length: count }, (_, c) => planeView(threadKernels(), planes, c));
  return exposure ? tellsTone(views(merge, 3), views(donor, 4), heldRanges(exposure.tone)) : views(donor, 4)[3]!;
}
