// A pool worker: takes one task message at a time. Knows core and codecs, never storage or api.
import { InputError } from '../codecs';
import { adjustTask, lightTask, pointsTask, relateTask, tiesTask, uprightTask } from './handlers/alignPanorama';
import { exportTiffTask } from './handlers/exportTiff';
import { evidenceTask, probeTask, recheckTask, traceTask } from './handlers/inspectRegions';
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
import { seamsTask, seamViewTask } from './handlers/mergePanorama';
import { checkSetTask, groupTask, lookTask } from './handlers/lookAtFile';
import { localFieldsTask, planesTask, sharpPartTask } from './handlers/fitSet';
import { lightGainTask, placeTask, registerTask, toneTask } from './handlers/registerPictures';
import { noiseTask, storePicture } from './handlers/storePicture';
import type { TaskMessage, TaskName, TaskRequest, TaskResponse } from './protocol';

type Handlers = { [N in TaskName]: (request: TaskRequest<N>) => TaskResponse<N> | Promise<TaskResponse<N>> };

const HANDLERS: Handlers = {
  look: lookTask,
  group: groupTask,
  checkSet: checkSetTask,
  store: storePicture,
  register: registerTask,
  planes: planesTask,
  localFields: localFieldsTask,
  sharpPart: sharpPartTask,
  place: placeTask,
  tone: toneTask,
  lightGain: lightGainTask,
  points: pointsTask,
  relate: relateTask,
  ties: tiesTask,
  adjust: adjustTask,
  upright: uprightTask,
  light: lightTask,
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
  evidence: evidenceTask,
  trace: traceTask,
  recheck: recheckTask,
  probe: probeTask,
  exportTiff: exportTiffTask,
};

/** What a worker answers: errors of our own lose their class on the way between threads, so they travel as data. */
export type Answer =
  { readonly value: unknown } | { readonly refused: { file: string; problem: string; accepted: string } };

export default async function run<N extends TaskName>({ name, request }: TaskMessage<N>): Promise<Answer> {
  try {
    return { value: await HANDLERS[name](request) };
  } catch (error) {
    if (!(error instanceof InputError)) throw error;
    const { file, problem, accepted } = error;
    return { refused: { file, problem, accepted } };
  }
}
