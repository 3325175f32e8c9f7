// A job over HTTP with a small stack, and a merge of it made elsewhere that is soft in one place: processed and inspected.
import { renameSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { z } from 'zod';
import { jobSchema, jobSummarySchema, type Job } from '@blendrak/contract';
import type { Plane } from '@blendrak/core/image';
import { greyPixels } from '../../../../packages/core/src/testing/pictures';
import { blurredSeries, pasteRect } from '../../../../packages/core/src/testing/stack';
import { temporaryFolder } from './inProcess';
import { openHttp } from './openHttp';
import { copyShared } from './sharedFolder';
import { until } from './until';

const [WIDTH, HEIGHT] = [480, 384];

type Opened = ReturnType<typeof openHttp>;

/**
 * Starts an application with the job as it was processed once for all tests; `close` ends it and removes what it made.
 */
export async function openSoftPatchJob() {
  const place = temporaryFolder();
  await copyShared('soft patch', makeOnce, join(place.path, 'data'));
  const opened = openHttp(place);
  const [job] = z.array(jobSummarySchema).parse((await opened.http.get('/api/jobs')).body);
  return { ...opened, ...(await processed(opened, job!.id)) };
}

/**
 * Starts an application and has a job of its own processed.
 * @param alter what else is wrong with the merge
 */
export async function openAlteredJob(alter: (merge: Plane) => Plane) {
  const opened = openHttp();
  return { ...opened, ...(await processed(opened, await takeIn(opened, alter))) };
}

async function makeOnce(data: string): Promise<void> {
  const { path, clean } = temporaryFolder();
  const opened = openHttp({ path, clean: () => undefined });
  await processed(opened, await takeIn(opened, (merge) => merge));
  await opened.close();
  renameSync(join(path, 'data'), data);
  clean();
}

/** Uploads the frames and the merge; the job's id. */
async function takeIn({ http, folder }: Opened, alter: (merge: Plane) => Plane): Promise<string> {
  const planes = blurredSeries(WIDTH, HEIGHT, 31, 1, [0, 1, 2, 3]);
  const soft = alter(pasteRect(planes[1]!, planes[3]!, 160, 120, 120, 96));
  const { id } = (await http.post('/api/jobs').send({ name: 'Plate' })).body as { id: string };
  for (const [k, plane] of [...planes, soft].entries()) {
    const { data } = greyPixels(plane, 8);
    const path = join(folder, k < planes.length ? `frame${k + 1}.png` : 'elsewhere.png');
    await sharp(data as Uint8Array, { raw: { width: WIDTH, height: HEIGHT, channels: 3 } })
      .png()
      .toFile(path);
    await http.post(`/api/jobs/${id}/files?role=${k < planes.length ? 'frame' : 'merge'}`).attach('file', path);
  }
  return id;
}

/** The job with its merge, which is asked for where there is none. */
async function processed({ http }: Opened, jobId: string) {
  const job = async (): Promise<Job> => jobSchema.parse((await http.get(`/api/jobs/${jobId}`)).body);
  const { summary } = await until(job, (j) => j.pictures.every((p) => p.status === 'ready'));
  if (summary.mergeId === null) await http.post(`/api/jobs/${jobId}/process`).send({});
  const { mergeId } = (await until(job, (j) => j.summary.mergeId !== null)).summary;
  return { jobId, job, mergeId: mergeId!, size: { width: WIDTH, height: HEIGHT } };
}
