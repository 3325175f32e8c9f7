// Heavy work in other threads.
export { openPool, type Pool } from './pool';
export { threadKernels } from './kernelHost';
export { forgetTileFile, placedFrame, plainFrame, tileFile } from './sources';
export type {
  FittedPlanes,
  InspectionScene,
  PlacedPicture,
  ProbeResult,
  RelatedFrames,
  RunTask,
  StoredInfo,
  StoredPicture,
  TurnedPicture,
} from './protocol';
