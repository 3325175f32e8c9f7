// The HTTP interface.
import { createReadStream, existsSync, readFileSync } from 'node:fs';
import { rm, stat } from 'node:fs/promises';
import { Router, type Response } from 'express';
import multer from 'multer';
import sharp from 'sharp';
import { z } from 'zod';
import {
  decisionChangeSchema,
  folderSchema,
  newJobSchema,
  newStrokeSchema,
  processSchema,
  layoutSchema,
  shootOrderSchema,
} from '@blendrak/contract';
import { fileLimitBytes } from '../codecs';
import { shootMenu } from '../services/camera';
import { type Services } from '../services/context';
import { RequestError } from '../shared/requestError';
import { uploadOf } from './uploads';
import { cardRoutes } from './cardRoutes';
import { planRoutes } from './planRoutes';
import { downloadName, exportMask, exportPicture, exportReport } from '../services/exportService';
import { dropPicture, takeFolder, takeUpload } from '../services/intakeService';
import { createJob, listJobs, openJob, removeJob } from '../services/jobsService';
import { decideFinding, describeMerge, openMerge, probeAt } from '../services/mergeService';
import { addLinkedFrame, renewLinkedFrame } from '../services/linkedFrameService';
import { startProcess } from '../services/processService';
import { previewProjection } from '../services/projectionPreview';
import { queueShoot } from '../services/shootService';
import type { RepairService } from '../services/repairService';
import type { WorkQueue } from '../services/workQueue';

/** Longer side of the preview of a projection. */
const PREVIEW_PX = 420;

export function apiRoutes(services: Services, queue: WorkQueue, repair: RepairService): Router {
  const router = Router();
  jobRoutes(router, services, queue);
  cameraRoutes(router, services, queue);
  router.use(planRoutes(services, queue));
  router.use(cardRoutes(services, queue));
  mergeRoutes(router, services, repair);
  eventRoutes(router, services);
  return router;
}

const linkedFrameOrder = z.strictObject({ sourceJobId: z.string() });

function jobRoutes(router: Router, services: Services, queue: WorkQueue): void {
  const upload = multer({ dest: services.storage.folder.incoming, limits: { fileSize: fileLimitBytes(), files: 1 } });
  router.get('/jobs', (_request, response) => {
    response.json(listJobs(services));
  });
  router.post('/jobs', (request, response) => {
    response.status(201).json(createJob(services, newJobSchema.parse(request.body).name));
  });
  router.get('/jobs/:id', (request, response) => {
    response.json(openJob(services, request.params.id));
  });
  router.delete('/jobs/:id', (request, response) => {
    removeJob(services, request.params.id);
    response.status(204).end();
  });
  // One file per request: each is acknowledged by itself, and a bad one spoils no other.
  router.post('/jobs/:id/files', upload.single('file'), (request, response) => {
    const role = z.enum(['frame', 'merge']).default('frame').parse(request.query['role']);
    const id = takeUpload(services, request.params['id'] as string, { ...uploadOf(request), role });
    queue.wake();
    response.status(201).json({ id });
  });
  router.post('/jobs/:id/folder', async (request, response) => {
    const { path, merge } = folderSchema.parse(request.body);
    const count = await takeFolder(services, request.params.id, path, merge);
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

function mergeRoutes(router: Router, services: Services, repair: RepairService): void {
  router.get('/merges/:id', (request, response) => {
    response.json(describeMerge(services, request.params.id));
  });
  router.get('/merges/:id/probe', async (request, response) => {
    const { x, y, size } = pointQuery.parse(request.query);
    response.json(await probeAt(services, request.params.id, x, y, size));
  });
  router.post('/merges/:id/strokes', (request, response) => {
    const { id, stroke } = newStrokeSchema.parse(request.body);
    repair.addStroke(request.params.id, id, stroke);
    response.status(201).json(describeMerge(services, request.params.id));
  });
  router.post('/merges/:id/undo', (request, response) => {
    repair.undo(request.params.id);
    response.json(describeMerge(services, request.params.id));
  });
  router.post('/merges/:id/redo', (request, response) => {
    repair.redo(request.params.id);
    response.json(describeMerge(services, request.params.id));
  });
  router.patch('/findings/:id', (request, response) => {
    const { decision, reason } = decisionChangeSchema.parse(request.body);
    response.json(decideFinding(services, request.params.id, decision, reason));
  });
  router.get('/merges/:id/projections/:projection.jpg', async (request, response) => {
    const { id, projection } = request.params;
    response.type('jpg').send(await previewProjection(services, id, layoutSchema.parse(projection), PREVIEW_PX));
  });
  router.get('/merges/:id/labels.png', async (request, response) => {
    response.type('png').send(await labelPicture(services, request.params.id));
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
      .send(mask);
  });
  router.get('/merges/:id/export/:format', async (request, response) => {
    const format = z.enum(['tiff', 'png', 'jpeg']).parse(request.params.format);
    const { folder, path } = await exportPicture(services, request.params.id, format);
    const ending = { tiff: 'tif', png: 'png', jpeg: 'jpg' }[format];
    await sendFile(response, path, downloadName(services, request.params.id, 'repaired', ending), folder);
  });
}

async function sendFile(response: Response, path: string, name: string, folder: string): Promise<void> {
  response.attachment(name);
  response.setHeader('Content-Length', (await stat(path)).size);
  const stream = createReadStream(path);
  const clean = (): void => void rm(folder, { recursive: true, force: true });
  stream.on('close', clean);
  response.on('close', () => stream.destroy());
  stream.pipe(response);
}

/** Label maps of a merge as a small RGB picture: red = frame shown + 1 (0 none of them), green = closest frame + 1. */
async function labelPicture(services: Services, id: string): Promise<Buffer> {
  const { body } = openMerge(services, id);
  const path = services.storage.folder.labels(id);
  if (!existsSync(path)) throw new RequestError(404, 'This merge has no label map.');
  const data = readFileSync(path);
  const width = Math.floor(body.width / 4);
  const height = Math.floor(body.height / 4);
  const n = width * height;
  const rgb = Buffer.alloc(n * 3);
  for (let i = 0; i < n; i++) {
    const shown = data[n + i]!;
    rgb[3 * i] = shown === 255 ? 0 : shown + 1;
    rgb[3 * i + 1] = data[i] === 255 ? 0 : data[i]! + 1;
  }
  return sharp(rgb, { raw: { width, height, channels: 3 } })
    .png()
    .toBuffer();
}

function eventRoutes(router: Router, services: Services): void {
  router.get('/events', (request, response) => {
    response.writeHead(200, {
      'Content-Type': 'text/event-stream',
      'Cache-Control': 'no-cache',
      'X-Accel-Buffering': 'no',
    });
    response.write(': ready\n\n');
    const stop = services.events.subscribe((news) => response.write(`data: ${JSON.stringify(news)}\n\n`));
    const beat = setInterval(() => response.write(': here\n\n'), 20000);
    request.on('close', () => {
      clearInterval(beat);
      stop();
    });
  });
}
