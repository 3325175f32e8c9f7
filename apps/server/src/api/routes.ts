// The HTTP interface.
import { existsSync } from 'node:fs';
import { Router, type Request, type Response } from 'express';
import { z } from 'zod';
import {
  decisionChangeSchema,
  handMarkSchema,
  newPinSchema,
  reportSchema,
  sweepSchema,
  folderSchema,
  newExportSchema,
  newJobSchema,
  processSchema,
  layoutSchema,
  jobChangeSchema,
  shootOrderSchema,
} from '@blendrak/contract';
import { annotationsOf } from '../pipeline';
import { shootMenu } from '../services/camera';
import { type Services } from '../services/context';
import { RequestError } from '../shared/requestError';
import { receiveFile, uploadOf } from './uploads';
import { cardRoutes } from './cardRoutes';
import { sinceOf } from './asking';
import { finishRoutes } from './finishRoutes';
import { logRoutes } from './logRoutes';
import { mendRoutes } from './mendRoutes';
import { planRoutes } from './planRoutes';
import { practiceRoutes } from './practiceRoutes';
import { exportedFile, startExport } from '../services/deliver/exportPicture';
import { downloadName, exportMask, exportReport } from '../services/deliver/exportService';
import { dropPicture, takeFolder, takeUpload } from '../services/intake/takeFiles';
import { changeJob, createJob, listJobs, openJob, removeJob, requireJob } from '../services/jobsService';
import { decideFinding, describeMerge, findingsSince, probeAt } from '../services/look/openMerge';
import { addLinkedFrame, renewLinkedFrame } from '../services/intake/linkedFrames';
import { startProcess } from '../services/make/processJob';
import { markByHand } from '../services/look/markByHand';
import { addPin, listPins, removePin } from '../services/look/pins';
import { readReport } from '../services/look/readReport';
import { addToSweep, sweepOf } from '../services/look/sweep';
import { previewProjection } from '../services/look/projectionPreview';
import { queueShoot } from '../services/shootService';
import type { OperationsService } from '../services/mend/operations';
import type { WorkQueue } from '../services/workQueue';

/** Longer side of the preview of a projection. */
const PREVIEW_PX = 420;

export function apiRoutes(services: Services, queue: WorkQueue, repair: OperationsService): Router {
  const router = Router();
  jobRoutes(router, services, queue);
  cameraRoutes(router, services, queue);
  router.use(planRoutes(services, queue));
  router.use(cardRoutes(services, queue));
  mergeRoutes(router, services, queue);
  instrumentRoutes(router, services);
  router.use(mendRoutes(services, queue, repair));
  router.use(finishRoutes(services, queue));
  router.use(logRoutes(services));
  router.use(practiceRoutes(services, queue));
  newsRoutes(router, services);
  return router;
}

const roleSchema = z.enum(['frame', 'merge']).default('frame');
const linkedFrameOrder = z.strictObject({ sourceJobId: z.string() });

function jobRoutes(router: Router, services: Services, queue: WorkQueue): void {
  const receive = receiveFile(services.storage, (request) => {
    requireJob(services.storage, request.params['id'] as string);
    roleSchema.parse(request.query['role']);
  });
  router.get('/jobs', (_request, response) => {
    response.json(listJobs(services));
  });
  router.post('/jobs', (request, response) => {
    const { name, kind } = newJobSchema.parse(request.body);
    response.status(201).json(createJob(services, name, kind));
  });
  router.get('/jobs/:id', (request, response) => {
    response.json(openJob(services, request.params.id));
  });
  router.patch('/jobs/:id', (request, response) => {
    changeJob(services, request.params.id, jobChangeSchema.parse(request.body));
    response.json(openJob(services, request.params.id));
  });
  router.delete('/jobs/:id', async (request, response) => {
    requireJob(services.storage, request.params.id);
    await queue.cancelJob(request.params.id);
    removeJob(services, request.params.id);
    response.status(204).end();
  });
  // One file per request: each is acknowledged by itself, and a bad one spoils no other.
  router.post('/jobs/:id/files', receive, async (request: Request, response: Response) => {
    const role = roleSchema.parse(request.query['role']);
    const id = await takeUpload(services, request.params['id'] as string, { ...uploadOf(request), role });
    queue.wake();
    response.status(201).json({ id });
  });
  router.post('/jobs/:id/folder', async (request, response) => {
    const { path, merge } = folderSchema.parse(request.body);
    const count = await takeFolder(services, request.params.id, path, merge, services.roots);
    queue.wake();
    response.status(201).json({ count });
  });
  router.delete('/jobs/:id/pictures/:pictureId', (request, response) => {
    dropPicture(services, request.params.id, request.params.pictureId);
    response.status(204).end();
  });
  router.post('/jobs/:id/process', (request, response) => {
    startProcess(services, request.params.id, processSchema.parse(request.body ?? {}));
    queue.wake();
    response.status(202).json(openJob(services, request.params.id));
  });
  router.post('/jobs/:id/merge-frames', async (request, response) => {
    const { sourceJobId } = linkedFrameOrder.parse(request.body);
    const job = await addLinkedFrame(services, request.params.id, sourceJobId);
    queue.wake();
    response.status(201).json(job);
  });
  router.post('/jobs/:id/merge-frames/:pictureId/renew', async (request, response) => {
    const job = await renewLinkedFrame(services, request.params.id, request.params.pictureId);
    queue.wake();
    response.status(201).json(job);
  });
  router.post('/jobs/work/:id/cancel', (request, response) => {
    queue.cancel(request.params.id);
    response.status(202).end();
  });
}

function cameraRoutes(router: Router, services: Services, queue: WorkQueue): void {
  router.get('/camera', (_request, response) => {
    response.json(shootMenu());
  });
  router.post('/camera/shoot', (request, response) => {
    const job = queueShoot(services, shootOrderSchema.parse(request.body));
    queue.wake();
    response.status(201).json(job);
  });
}

const pointQuery = z.object({
  x: z.coerce.number(),
  y: z.coerce.number(),
  size: z.coerce.number().min(8).max(512).default(64),
});

function mergeRoutes(router: Router, services: Services, queue: WorkQueue): void {
  router.get('/merges/:id', (request, response) => {
    response.json(describeMerge(services, request.params.id));
  });
  router.get('/merges/:id/probe', async (request, response) => {
    const { x, y, size } = pointQuery.parse(request.query);
    response.json(await probeAt(services, request.params.id, x, y, size));
  });
  router.get('/merges/:id/findings', (request, response) => {
    response.json(findingsSince(services, request.params.id, sinceOf(request)));
  });
  router.patch('/findings/:id', (request, response) => {
    const { decision, reason } = decisionChangeSchema.parse(request.body);
    const mergeId = decideFinding(services, request.params.id, decision, reason);
    response.json(findingsSince(services, mergeId, sinceOf(request)));
  });
  router.get('/merges/:id/projections/:projection.jpg', async (request, response) => {
    const { id, projection } = request.params;
    response
      .type('jpg')
      .send(asBuffer(await previewProjection(services, id, layoutSchema.parse(projection), PREVIEW_PX)));
  });
  router.get('/merges/:id/labels.png', async (request, response) => {
    response.type('png').send(asBuffer(await labelPicture(services, request.params.id)));
  });
  router.get('/merges/:id/report.json', (request, response) => {
    const name = downloadName(services, request.params.id, 'report', 'json');
    response.attachment(name).send(`${JSON.stringify(exportReport(services, request.params.id), null, 1)}\n`);
  });
  router.get('/merges/:id/masks/:frame.png', async (request, response) => {
    const frame = z.coerce.number().int().parse(request.params.frame);
    const mask = await exportMask(services, request.params.id, frame);
    response
      .attachment(downloadName(services, request.params.id, `mask ${frame + 1}`, 'png'))
      .type('png')
      .send(asBuffer(mask));
  });
  router.post('/merges/:id/exports', (request, response) => {
    const work = startExport(services, request.params.id, newExportSchema.parse(request.body).format);
    queue.wake();
    response.status(202).location(`/api/exports/${work.id}`).json(work);
  });
  router.get('/exports/:id', (request, response, next) => {
    const { path, mergeId, format } = exportedFile(services, request.params.id);
    const ending = { tiff: 'tif', png: 'png', jpeg: 'jpg' }[format];
    response.type(ending);
    response.download(path, downloadName(services, mergeId, 'repaired', ending), (error) => {
      // Who goes away in the middle of it needs no answer.
      if (error && !response.headersSent) next(error);
    });
  });
}

function instrumentRoutes(router: Router, services: Services): void {
  router.get('/merges/:id/pins', (request, response) => {
    response.json(listPins(services, request.params.id));
  });
  router.post('/merges/:id/pins', async (request, response) => {
    response.status(201).json(await addPin(services, request.params.id, newPinSchema.parse(request.body)));
  });
  router.delete('/pins/:id', (request, response) => {
    removePin(services, request.params.id);
    response.status(204).end();
  });
  router.get('/merges/:id/sweep', (request, response) => {
    response.json(sweepOf(services, request.params.id));
  });
  router.post('/merges/:id/sweep', (request, response) => {
    response.json(addToSweep(services, request.params.id, sweepSchema.parse(request.body)));
  });
  router.post('/merges/:id/report', (request, response) => {
    response.json(readReport(services, request.params.id, reportSchema.parse(request.body)));
  });
  router.get('/merges/:id/annotations.json', (request, response) => {
    const { id } = request.params;
    const source = `${request.protocol}://${request.get('host') ?? 'localhost'}/iiif/m-${id}`;
    response
      .attachment(downloadName(services, id, 'annotations', 'json'))
      .send(`${JSON.stringify(annotationsOf(exportReport(services, id), source), null, 1)}\n`);
  });
  router.post('/merges/:id/findings', async (request, response) => {
    const finding = await markByHand(services, request.params.id, handMarkSchema.parse(request.body));
    response.status(201).json(finding);
  });
}

async function labelPicture({ storage, merges, quick }: Services, id: string): Promise<Uint8Array> {
  const { width, height } = merges.body(id);
  const labels = storage.folder.labels(id);
  if (!existsSync(labels)) throw new RequestError(404, 'This merge has no label map.');
  return quick.run('labelPicture', { labels, width: Math.floor(width / 4), height: Math.floor(height / 4) });
}

function asBuffer(data: Uint8Array): Buffer {
  return Buffer.from(data.buffer, data.byteOffset, data.byteLength);
}

const newsQuery = z.coerce.number().int().min(0).default(0);

function newsRoutes(router: Router, { events }: Services): void {
  // For pages that cannot share one stream with the others: they ask now and then.
  router.get('/news', (request, response) => {
    response.json(events.since(newsQuery.parse(request.query['since'])));
  });
  router.get('/events', (request, response) => {
    response.writeHead(200, {
      'Content-Type': 'text/event-stream',
      'Cache-Control': 'no-cache',
      'X-Accel-Buffering': 'no',
    });
    response.write(': ready\n\n');
    const stop = events.subscribe((news) => response.write(`id: ${news.seq}\ndata: ${JSON.stringify(news)}\n\n`));
    const beat = setInterval(() => response.write(': here\n\n'), 20000);
    request.on('close', () => {
      clearInterval(beat);
      stop();
    });
  });
}
