// A pool worker: takes one task message at a time. Knows core and codecs, never storage or api.
import { exportTiffTask } from './handlers/exportTiff';
import { evidenceTask, probeTask, recheckTask, traceTask } from './handlers/inspectRegions';
import { fuseTask, labelsTask, pyramidTask } from './handlers/mergeRegions';
import { placeTask, registerTask, toneTask } from './handlers/registerPictures';
import { noiseTask, storePicture } from './handlers/storePicture';
import type { TaskMessage, TaskName, TaskRequest, TaskResponse } from './protocol';

type Handlers = { [N in TaskName]: (request: TaskRequest<N>) => TaskResponse<N> | Promise<TaskResponse<N>> };

const HANDLERS: Handlers = {
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

export default function run<N extends TaskName>({
  name,
  request,
}: TaskMessage<N>): TaskResponse<N> | Promise<TaskResponse<N>> {
  return HANDLERS[name](request);
}
