// Requests as a careful photographer would make them.
import type { BracketRequest, FieldProblem, FocusRequest, PanoramaRequest } from '../plan';

const camera = { sensorWidthMm: 36, sensorHeightMm: 24, pixelsWide: 6000, pixelsHigh: 4000 };
const pace = { exposureS: 1 / 60, settleS: 2, delayS: 1, bufferS: 0, lightDriftEvPerMin: 0 };
export const focus: FocusRequest = {
  ...pace,
  camera,
  lens: {
    focalLengthMm: 60,
    widestFNumber: 2.8,
    smallestFNumber: 32,
    sharpestFNumber: 5.6,
    nearestFocusMm: 180,
    pupilMagnification: 1,
  },
  drive: 'focus',
  nearestMm: 600,
  farthestMm: 900,
  depthMm: 5,
  magnification: 1,
  extensionMm: 0,
  fNumber: 8,
  accepted: { by: 'pixels', pixels: 2 },
  overlap: 0.2,
  spare: 0,
  focusMm: null,
  order: 'near-to-far',
  motionMmPerS: 0,
  motionLimitPx: 2,
};
export const panorama: PanoramaRequest = {
  ...pace,
  camera,
  focalLengthMm: 35,
  orientation: 'portrait',
  from: 'lens',
  horizontalDeg: 120,
  verticalDeg: 45,
  overlap: 0.33,
  edgeMargin: 0,
  projection: 'cylindrical',
  ppi: 300,
  printWidthMm: 1000,
  nearestMm: 2000,
  farthestMm: null,
  pupilOffsetMm: 0,
  exposuresEach: 1,
};
export const bracket: BracketRequest = {
  ...pace,
  sceneEv: 16,
  usableEv: 10,
  stepEv: 2,
  fNumber: 8,
  iso: 100,
  frames: null,
  extras: [],
  directions: 1,
};

/** Problems as “severity field: message”. */
export function messagesOf(answer: { readonly problems: readonly FieldProblem[] }): string[] {
  return answer.problems.map((p) => `${p.severity} ${p.field}: ${p.message}`);
}
