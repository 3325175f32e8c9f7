// Size, sharpness and distance of prints.
export { ACUITY_ARCMIN, pixelAngleArcmin, resolvablePpi } from './acuity';
export { pictureBytes, pixelsForPrint, printLengthMm } from './printSize';
export { CLOSE_LOOK_MM, checkPrint, type PrintCheck, type PrintRequest } from './checkPrint';
export { contrastSensitivity } from './contrastSensitivity';
export {
  farthestSeen,
  noticeableSteps,
  ON_SCREEN,
  SEEN,
  visibilityIn,
  visibilityOf,
  type Sight,
  type SightBand,
  type Viewing,
} from './visibility';
export { outputSharpeningPx } from './outputSharpening';
export { viewingOf, type WayOfLooking } from './viewingOf';
