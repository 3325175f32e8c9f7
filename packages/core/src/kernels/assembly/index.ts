// The hot kernels, compiled to WebAssembly SIMD. Pointers in, nothing allocated, row loops only; the wrappers next door
// validate and own the memory.
export { unpack8, unpack16, unpackLuma8, unpackLuma16 } from './unpack';
export { warpFine, warpGrid, warpPlane } from './warp';
export { luma, binomial, squaredDifference4, mean4, tent } from './bands';
export { box } from './box';
export { reduce, expandInto } from './pyramid';
export { blendInto, accumulate, divideInto } from './blend';
export { halve8, halve16 } from './halve';
export { scalarProducts } from './products';
export { packPlanar8, packPlanar16 } from './pack';

/** First byte the wrappers may use. */
export function heapBase(): usize {
  return __heap_base;
}
