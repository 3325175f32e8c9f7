// Heavy work in other threads.
export { NICENESS, openPool, type Pool, type PoolOptions } from './pool';
export { refusalOf, valueOf, type Answer } from './answer';
export { longWorkThreads } from './longWorkThreads';
export { donorsOf } from './protocol';
export { threadKernels } from './kernelHost';
export type {
  CameraSet,
  FittedPlanes,
  InspectionScene,
  MatchedMerge,
  PictureCut,
  PlacedPicture,
  ProbeResult,
  RelatedFrames,
  RunTask,
  StoredInfo,
  StoredPicture,
  TaskResponse,
  TileSource,
  TurnedPicture,
} from './protocol';
