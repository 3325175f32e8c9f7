// Typed wrappers around the WebAssembly kernels.
export { openKernels, type KernelExports, type KernelHost, type Kernels } from './memory';
export {
  allocPlanes,
  checkSameSize,
  downloadPlanes,
  onePlane,
  planeView,
  uploadPlanes,
  type KernelPlanes,
} from './plane';
export { GRID_PX, gridNodes, warpLuma, warpPixels, warpPixelsByGrid, type Affine, type PixelBlock } from './warpPixels';
export { BAND_NOISE_GAIN, CELL_PX, focusBands, lumaOf } from './focusBands';
export { differenceCells, meanCells, smoothTent } from './cellSums';
export { smoothTwice } from './smoothBox';
export { scalarProducts } from './scalarProducts';
export { blendMasked } from './blendMasked';
export { collapsePyramid, laplacianPyramid, gaussianPyramid } from './pyramidPlanes';
export { halvePixels } from './halvePixels';
export { packPixels } from './packPixels';
