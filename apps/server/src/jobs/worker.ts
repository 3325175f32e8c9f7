// A pool worker: takes one task message at a time. Knows core and codecs, never storage or api.
import { InputError } from '../codecs';
import { exportTiffTask } from './handlers/exportTiff';
import { evidenceTask, probeTask, recheckTask, traceTask } from './handlers/inspectRegions';
import { fuseTask, labelsTask, pyramidTask } from './handlers/mergeRegions';
import { checkSetTask, groupTask, lookTask } from './handlers/lookAtFile';
import { placeTask, registerTask, toneTask } from './handlers/registerPictures';
import { noiseTask, storePicture } from './handlers/storePicture';
import type { TaskMessage, TaskName, TaskRequest, TaskResponse } from './protocol';

type Handlers = { [N in TaskName]: (request: TaskRequest<N>) => TaskResponse<N> | Promise<TaskResponse<N>> };

const HANDLERS: Handlers = {
  look: lookTask,
  group: groupTask,
  checkSet: checkSetTask,
  store: storePicture,
  register: registerTask,
  place: placeTask,
  tone: toneTask,
  labels: labelsTask,
  fuse: fuseTask,
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
