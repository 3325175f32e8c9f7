// Work `demo`: the simulated camera delivers a focus stack and a merge made elsewhere, as if from a card.
import { rmSync } from 'node:fs';
import { basename, join } from 'node:path';
import { z } from 'zod';
import { newId, type Services } from './context';
import { takeFolder } from './intakeService';
import { startProcess } from './processService';
import { shootDemoStack } from './camera/simulatedCamera';

const payloadSchema = z.strictObject({
  seed: z.number().int(),
  width: z.number().int(),
  height: z.number().int(),
  frames: z.number().int(),
});

export const DEMO_JOB_NAME = 'Signal lamp gear train, Kestrel Point';

/** Size of the demo; smaller for tests. */
function demoSize(): z.infer<typeof payloadSchema> {
  const width = Number(process.env['BLENDRAK_DEMO_WIDTH'] ?? 4000);
  return { seed: 5, width, height: Math.round((width * 3) / 4 / 4) * 4, frames: 10 };
}

/** Queues the demo job once: a data folder that has had it does not get it again. */
export function queueDemo({ storage }: Services): void {
  if (storage.jobs.list().length > 0) return;
  const id = newId();
  storage.transaction(() => {
    storage.jobs.insert({ id, name: DEMO_JOB_NAME, kind: 'focus-stack', created_at: new Date().toISOString() });
    storage.work.insert(newId(), id, 'demo', demoSize());
  });
}

export async function makeDemo(
  services: Services,
  jobId: string,
  payload: unknown,
  onProgress: (share: number, message: string) => void,
  signal: AbortSignal,
): Promise<void> {
  const options = payloadSchema.parse(payload);
  const folder = join(services.storage.folder.root, 'demo', jobId);
  // A killed run left some pictures in the job: they are taken out and delivered anew.
  for (const picture of services.storage.pictures.listByJob(jobId)) services.storage.pictures.remove(picture.id);
  rmSync(folder, { recursive: true, force: true });
  const stack = await shootDemoStack(folder, options, onProgress, signal);
  await takeFolder(services, jobId, folder, basename(stack.merge));
  startProcess(services, jobId, 'auto');
  onProgress(1, 'delivered');
}
