// Heavy work in other threads.
export { openPool, type Pool } from './pool';
export { threadKernels } from './kernelHost';
export { forgetTileFile, placedFrame, plainFrame, tileFile } from './sources';
export type {
  InspectionScene,
  PlacedPicture,
  ProbeResult,
  RelatedFrames,
  RunTask,
  StoredInfo,
  StoredPicture,
  Subject,
  TurnedPicture,
} from './protocol';
