// A pool worker: takes one task message at a time. Knows core and codecs, never storage or api.
import { adjustTask, lightTask, pointsTask, relateTask, tiesTask, uprightTask } from './handlers/alignPanorama';
import { beginTiffTask, convertTiffTask, renderRowsTask } from './handlers/exportTiff';
import { edgesTask, layerPngTask, openRasterTask, screenJpegTask, sharpenTiffTask } from './handlers/finishPicture';
import {
  detectTask,
  evidenceTask,
  finenessTask,
  grainTask,
  matTask,
  noiseInTask,
  probeTask,
  recheckTask,
  surveyTask,
  traceTask,
} from './handlers/inspectRegions';
import { fuseBandsTask, fuseTask, labelsTask, pyramidTask } from './handlers/mergeRegions';
import {
  blendSharesTask,
  fuseBaseTask,
  fuseExposuresTask,
  mergeLightTask,
  motionTask,
  reduceExposuresTask,
  smallLumaTask,
} from './handlers/mergeBracket';
import { blursTask, seamsTask, seamViewTask } from './handlers/mergePanorama';
import { checkSetTask, expandTask, groupTask, summariseTask } from './handlers/summariseFile';
import { testLightTask } from './handlers/measureLight';
import { labelPictureTask, maskTask, projectionTask, tileTask, warmUpTask } from './handlers/renderTile';
import { localFieldsTask, planesTask, sharpPartTask } from './handlers/fitSet';
import { canvasTask, matchMergeTask, mergeTiesTask } from './handlers/registerMerge';
import {
  commonToneTask,
  greyMixTask,
  lightGainTask,
  mixedToneTask,
  localContrastTask,
  placeTask,
  registerTask,
  mergeShadeTask,
  toneTask,
} from './handlers/registerPictures';
import { findFillTask } from './handlers/fillPlace';
import { fitMaskTask } from './handlers/fitMaskTask';
import { evenFieldTask, toneFieldTask } from './handlers/matchTone';
import { snapMaskTask } from './handlers/snapMask';
import { nudgeTask } from './handlers/nudgePlace';
import { noiseTask, storePicture } from './handlers/storePicture';
import { measureTask } from './handlers/readInstrument';
import { refusalOf, type Answer } from './answer';
import { releaseTileFiles } from './sources';
import type { TaskMessage, TaskName, TaskRequest, TaskResponse } from './protocol';

type Handlers = { [N in TaskName]: (request: TaskRequest<N>) => TaskResponse<N> | Promise<TaskResponse<N>> };

const HANDLERS: Handlers = {
  summarise: summariseTask,
  expand: expandTask,
  group: groupTask,
  checkSet: checkSetTask,
  store: storePicture,
  register: registerTask,
  planes: planesTask,
  localFields: localFieldsTask,
  sharpPart: sharpPartTask,
  place: placeTask,
  matchMerge: matchMergeTask,
  canvas: canvasTask,
  mergeTies: mergeTiesTask,
  greyMix: greyMixTask,
  commonTone: commonToneTask,
  localContrast: localContrastTask,
  mixedTone: mixedToneTask,
  tone: toneTask,
  mergeShade: mergeShadeTask,
  lightGain: lightGainTask,
  points: pointsTask,
  relate: relateTask,
  ties: tiesTask,
  adjust: adjustTask,
  upright: uprightTask,
  light: lightTask,
  blurs: blursTask,
  seamView: seamViewTask,
  seams: seamsTask,
  smallLuma: smallLumaTask,
  motion: motionTask,
  reduceExposures: reduceExposuresTask,
  fuseBase: fuseBaseTask,
  fuseExposures: fuseExposuresTask,
  mergeLight: mergeLightTask,
  blendShares: blendSharesTask,
  labels: labelsTask,
  fuse: fuseTask,
  fuseBands: fuseBandsTask,
  pyramid: pyramidTask,
  noise: noiseTask,
  survey: surveyTask,
  evidence: evidenceTask,
  fineness: finenessTask,
  noiseIn: noiseInTask,
  grain: grainTask,
  mat: matTask,
  detect: detectTask,
  trace: traceTask,
  recheck: recheckTask,
  probe: probeTask,
  measure: measureTask,
  beginTiff: beginTiffTask,
  renderRows: renderRowsTask,
  convertTiff: convertTiffTask,
  layerPng: layerPngTask,
  screenJpeg: screenJpegTask,
  sharpenTiff: sharpenTiffTask,
  openRaster: openRasterTask,
  edges: edgesTask,
  evenField: evenFieldTask,
  snapMask: snapMaskTask,
  toneField: toneFieldTask,
  fitMask: fitMaskTask,
  nudge: nudgeTask,
  findFill: findFillTask,
  warmUp: warmUpTask,
  tile: tileTask,
  mask: maskTask,
  labelPicture: labelPictureTask,
  projection: projectionTask,
  testLight: testLightTask,
};

export default async function run<N extends TaskName>({ name, request }: TaskMessage<N>): Promise<Answer> {
  try {
    return { value: await HANDLERS[name](request) };
  } catch (error) {
    const known = refusalOf(error);
    if (known) return known;
    throw error;
  } finally {
    releaseTileFiles();
  }
}
