// The kernels' linear memory: a bump arena with marks, and typed views that survive growth because they are made late.
import { badParameter } from '../checks';

/** The functions the WebAssembly module exports; pointers and counts in bytes and elements. */
export interface KernelExports {
  heapBase(): number;
  unpack8(src: number, n: number, lut: number, dst: number): void;
  unpack16(src: number, n: number, lut: number, dst: number): void;
  unpackLuma8(src: number, n: number, lut: number, dst: number): void;
  unpackLuma16(src: number, n: number, lut: number, dst: number): void;
  warpFine(
    src: number,
    sw: number,
    sh: number,
    dst: number,
    dw: number,
    dh: number,
    a: number,
    b: number,
    c: number,
    d: number,
    e: number,
    f: number,
  ): void;
  warpGrid(src: number, sw: number, sh: number, dst: number, dw: number, dh: number, grid: number): void;
  warpPlane(
    src: number,
    sw: number,
    sh: number,
    dst: number,
    dw: number,
    dh: number,
    a: number,
    b: number,
    c: number,
    d: number,
    e: number,
    f: number,
  ): void;
  luma(rgb: number, n: number, dst: number): void;
  binomial(src: number, dst: number, tmp: number, w: number, h: number, step: number): void;
  squaredDifference4(p: number, q: number, w: number, h: number, dst: number): void;
  tent(src: number, dst: number, tmp: number, w: number, h: number): void;
  mean4(p: number, w: number, h: number, dst: number): void;
  box(src: number, dst: number, tmp: number, w: number, h: number, r: number): void;
  scalarProducts(one: number, many: number, count: number, length: number, dst: number): void;
  reduce(src: number, w: number, h: number, dst: number, tmp: number): void;
  expandInto(coarse: number, w: number, h: number, dst: number, tmp: number, gain: number): void;
  blendInto(base: number, donor: number, mask: number, n: number): void;
  accumulate(acc: number, src: number, weight: number, n: number): void;
  divideInto(acc: number, weight: number, n: number): void;
  halve8(src: number, w: number, h: number, dst: number): void;
  halve16(src: number, w: number, h: number, dst: number): void;
  packPlanar8(planes: number, n: number, dst: number): void;
  packPlanar16(planes: number, n: number, dst: number): void;
}

/** What the host (a Node worker, a browser, a test) hands over: the memory it made and the instance's exports. */
export interface KernelHost {
  readonly memory: { readonly buffer: ArrayBufferLike; grow(pages: number): number };
  readonly exports: KernelExports;
}

/** An open kernel module with its arena. One per thread; not re-entrant. */
export interface Kernels {
  readonly run: KernelExports;
  /** Reserves bytes (16-byte aligned) until the enclosing scope ends. */
  alloc(sizeBytes: number): number;
  /** Runs work and gives back everything it allocated, whether it returns or throws. */
  scope<T>(work: () => T): T;
  f32(ptr: number, length: number): Float32Array;
  u8(ptr: number, length: number): Uint8Array;
  u16(ptr: number, length: number): Uint16Array;
  /** Bytes of linear memory held now. */
  sizeBytes(): number;
}

const PAGE = 65536;
const MAX_BYTES = PAGE * 65536;

/**
 * Opens the kernels over a host's memory.
 * @param host memory and exports of one instance
 * @returns the kernels; keep one per thread, since the first call on fresh memory is slow
 * @throws ParameterError from `alloc` when a region would pass the 4 GiB that WebAssembly can address
 */
export function openKernels(host: KernelHost): Kernels {
  const base = (host.exports.heapBase() + 15) & ~15;
  let top = base;
  const alloc = (sizeBytes: number): number => {
    const ptr = top;
    const next = top + Math.ceil(sizeBytes / 16) * 16;
    if (next > MAX_BYTES)
      throw badParameter('kernels.alloc.sizeBytes', 'at most 4 GiB in all; use smaller regions', sizeBytes);
    const missing = next - host.memory.buffer.byteLength;
    if (missing > 0) host.memory.grow(Math.ceil(missing / PAGE));
    top = next;
    return ptr;
  };
  return {
    run: host.exports,
    alloc,
    scope(work) {
      const mark = top;
      try {
        return work();
      } finally {
        top = mark;
      }
    },
    f32: (ptr, length) => new Float32Array(host.memory.buffer, ptr, length),
    u8: (ptr, length) => new Uint8Array(host.memory.buffer, ptr, length),
    u16: (ptr, length) => new Uint16Array(host.memory.buffer, ptr, length),
    sizeBytes: () => host.memory.buffer.byteLength,
  };
}
