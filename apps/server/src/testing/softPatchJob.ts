// A job over HTTP with a small stack, and a merge of it made elsewhere that is soft in one place: processed and inspected.
import { join } from 'node:path';
import sharp from 'sharp';
import { jobSchema, type Job } from '@blendrak/contract';
import type { Plane } from '@blendrak/core/image';
import { greyPixels } from '../../../../packages/core/src/testing/pictures';
import { blurredSeries, pasteRect } from '../../../../packages/core/src/testing/stack';
import { openHttp } from './openHttp';
import { until } from './until';

const [WIDTH, HEIGHT] = [480, 384];

/**
 * Starts an application and has the job processed; `close` ends both.
 * @param alter what else is wrong with the merge
 */
export async function openSoftPatchJob(alter = (merge: Plane): Plane => merge) {
  const { folder, services, app, http, close } = openHttp();
  const planes = blurredSeries(WIDTH, HEIGHT, 31, 1, [0, 1, 2, 3]);
  const soft = alter(pasteRect(planes[1]!, planes[3]!, 160, 120, 120, 96));
  const { id: jobId } = (await http.post('/api/jobs').send({ name: 'Plate' })).body as { id: string };
  for (const [k, plane] of [...planes, soft].entries()) {
    const { data } = greyPixels(plane, 8);
    const path = join(folder, k < planes.length ? `frame${k + 1}.png` : 'elsewhere.png');
    await sharp(data as Uint8Array, { raw: { width: WIDTH, height: HEIGHT, channels: 3 } })
      .png()
      .toFile(path);
    await http.post(`/api/jobs/${jobId}/files?role=${k < planes.length ? 'frame' : 'merge'}`).attach('file', path);
  }
  const job = async (): Promise<Job> => jobSchema.parse((await http.get(`/api/jobs/${jobId}`)).body);
  await until(job, (j) => j.pictures.every((p) => p.status === 'ready'));
  await http.post(`/api/jobs/${jobId}/process`).send({});
  const { summary } = await until(job, (j) => j.summary.mergeId !== null);
  return {
    ...{ http, services, app, jobId, job, close, mergeId: summary.mergeId!, size: { width: WIDTH, height: HEIGHT } },
  };
}
