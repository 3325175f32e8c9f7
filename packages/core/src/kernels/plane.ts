// Float planes that live in kernel memory, so that kernels chain without copying.
import { badParameter } from '../checks';
import type { Kernels } from './memory';

/** One or more float planes of equal size, one after the other, in kernel memory. */
export interface KernelPlanes {
  readonly ptr: number;
  readonly width: number;
  readonly height: number;
  readonly count: number;
}

/**
 * Reserves planes (contents undefined) until the enclosing scope ends.
 * @throws ParameterError for a side below 1 px
 */
export function allocPlanes(kernels: Kernels, width: number, height: number, count = 1): KernelPlanes {
  if (!(width >= 1 && height >= 1))
    throw badParameter('allocPlanes.size', 'width and height of at least 1 px', [width, height]);
  return { ptr: kernels.alloc(width * height * count * 4), width, height, count };
}

/** A view of plane `index`; valid until the next allocation. */
export function planeView(kernels: Kernels, planes: KernelPlanes, index = 0): Float32Array {
  const length = planes.width * planes.height;
  return kernels.f32(planes.ptr + index * length * 4, length);
}

/** Plane `index` as planes of its own. */
export function onePlane(planes: KernelPlanes, index: number): KernelPlanes {
  return { ...planes, ptr: planes.ptr + index * planes.width * planes.height * 4, count: 1 };
}

/** Copies planes out of kernel memory. */
export function downloadPlanes(kernels: Kernels, planes: KernelPlanes): Float32Array[] {
  return Array.from({ length: planes.count }, (_, i) => planeView(kernels, planes, i).slice());
}

/** Copies planes into kernel memory until the enclosing scope ends. */
export function uploadPlanes(
  kernels: Kernels,
  data: readonly Float32Array[],
  width: number,
  height: number,
): KernelPlanes {
  const planes = allocPlanes(kernels, width, height, data.length);
  data.forEach((plane, i) => {
    if (plane.length !== width * height) {
      throw badParameter(`uploadPlanes.data.${i}.length`, `${width * height} values`, plane.length);
    }
    planeView(kernels, planes, i).set(plane);
  });
  return planes;
}

/**
 * Throws unless two sets of planes have the same size.
 * @throws ParameterError that names what is wrong
 */
export function checkSameSize(path: string, a: KernelPlanes, b: KernelPlanes): void {
  if (a.width !== b.width || a.height !== b.height) {
    throw badParameter(path, `planes of ${a.width} × ${a.height} px`, `${b.width} × ${b.height}`);
  }
}
