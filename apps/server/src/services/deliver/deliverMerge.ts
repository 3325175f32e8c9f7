// Work `deliver`: a signed merge as one ZIP: the cut picture, one for screens, layers, masks, the report twice, and checksums.
import { existsSync } from 'node:fs';
import { rm, writeFile } from 'node:fs/promises';
import { z } from 'zod';
import { deliveryOrderSchema, INTO_FOLDER, type DeliveryOrder, type DeliveryPart, type Work } from '@blendrak/contract';
import { outputSharpeningPx, viewingOf } from '@blendrak/core/print';
import { partsOf } from '@blendrak/core/repair';
import { renderFlat, type StepContext } from '../../pipeline';
import { RequestError } from '../../shared/requestError';
import { moveDurably, toWork } from '../../storage';
import { newId, type Services } from '../context';
import { note } from '../log/journal';
import { viewingOfJob } from '../finish/finishMerge';
import { operationWords } from '../mend/operationWords';
import { exportMask, exportReport, iccPath } from './exportService';
import { fillPattern } from './namePattern';
import { reportPages } from './reportPages';
import { reportPdf } from './reportPdf';
import { deliverIntoFolder } from './intoFolder';
import { zipFiles, type ZippedFile } from './zipFiles';

export const deliverPayload = z.strictObject({ mergeId: z.string(), order: deliveryOrderSchema, name: z.string() });
type DeliverPayload = z.infer<typeof deliverPayload>;

/**
 * Queues a delivery; the one before it is replaced once this one is there.
 * @throws RequestError for a merge that is not signed, or a pattern that cannot be filled in
 */
export function startDelivery(services: Services, mergeId: string, order: DeliveryOrder): Work {
  const { storage, merges, events } = services;
  const { row } = merges.open(mergeId);
  const name = nameOfDelivery(services, mergeId, order);
  if (storage.work.countActive(row.job_id, 'deliver') > 0)
    throw new RequestError(409, 'A delivery of this job is being made already: wait for it, or cancel it first.');
  const id = newId();
  storage.work.insert(id, row.job_id, 'deliver', { mergeId, order, name } satisfies DeliverPayload);
  events.publish({ topic: 'job', id: row.job_id });
  return toWork(storage.work.find(id)!);
}

function nameOfDelivery({ storage, merges }: Services, mergeId: string, { pattern }: DeliveryOrder): string {
  const { row, body } = merges.open(mergeId);
  const { signature } = storage.finishes.find(mergeId);
  if (!signature) throw new RequestError(409, 'This merge is not signed: sign it first, then it can be delivered.');
  const job = storage.jobs.find(row.job_id)!;
  return fillPattern(pattern, {
    job: job.name,
    merge: body.fileName.replace(/\.[^.]+$/, ''),
    kind: job.kind,
    date: signature.at.slice(0, 10),
    by: signature.by,
  });
}

/** A file that a part of a delivery becomes. */
interface Made {
  readonly files: readonly ZippedFile[];
}

/** Makes a delivery. Nothing is left of it when it fails or is cancelled, and an earlier one stays. */
export async function runDelivery(
  services: Services,
  workId: string,
  { mergeId, order, name }: DeliverPayload,
  onProgress: (share: number, message: string) => void,
  signal: AbortSignal,
): Promise<void> {
  const { storage } = services;
  const { row } = services.merges.open(mergeId);
  const began = Date.now();
  const scratch: string[] = [];
  const file = (ending: string): string => {
    const path = storage.folder.scratchFile(ending);
    scratch.push(path);
    return path;
  };
  try {
    const files: ZippedFile[] = [];
    const parts = PARTS.filter(({ part }) => order.parts.includes(part));
    let cut: string | null = null;
    for (const [k, { part, words, make }] of parts.entries()) {
      signal.throwIfAborted();
      const tell = (share: number): void => onProgress((0.9 * (k + share)) / parts.length, words);
      tell(0);
      const run: StepContext['run'] = services.pool.run;
      const making = { services, mergeId, order, name, file, signal, tell, run };
      cut ??= FROM_CUT.includes(part) ? await cutTiff(making) : null;
      const made = await make({ ...making, cut });
      files.push(...made.files);
    }
    onProgress(0.92, 'packing');
    if (order.into === 'folder') {
      const folder = await deliverIntoFolder(storage.folder.deliveries, name, files, signal);
      storage.work.say(workId, `${INTO_FOLDER}${folder}`);
    } else {
      const zip = file('.zip');
      await zipFiles(zip, files, signal);
      await moveDurably(zip, storage.folder.exported(workId));
    }
    const earlier = storage.work.rowsOf(row.job_id, 'deliver').filter((w) => w.id !== workId);
    const old = earlier.map((w) => w.id);
    storage.discard(old, () => old.forEach((id) => storage.work.remove(id)));
    const seconds = (Date.now() - began) / 1000;
    note(
      services,
      row.job_id,
      'delivered',
      `Delivered ${files.length} files as “${name}”: ${order.parts.join(', ')}.`,
      seconds,
    );
  } finally {
    for (const path of scratch) await rm(path, { force: true });
  }
}

interface Making {
  readonly services: Services;
  readonly mergeId: string;
  readonly order: DeliveryOrder;
  readonly name: string;
  /** A new path in the scratch folder, removed at the end. */
  file(ending: string): string;
  readonly signal: AbortSignal;
  tell(share: number): void;
  readonly run: StepContext['run'];
}

interface Part {
  readonly part: DeliveryPart;
  readonly words: string;
  make(making: WithCut): Promise<Made>;
}

const PARTS: readonly Part[] = [
  { part: 'tiff', words: 'rendering the picture', make: makeTiff },
  { part: 'print', words: 'sharpening the picture for print', make: makePrint },
  { part: 'jpeg', words: 'making the picture for screens', make: makeJpeg },
  { part: 'layers', words: 'making the layers', make: makeLayers },
  { part: 'masks', words: 'making the masks', make: makeMasks },
  { part: 'report', words: 'writing the report', make: makeReportFile },
  { part: 'pdf', words: 'drawing the report', make: makePdf },
];

/** Parts that are made of the cut picture. */
const FROM_CUT: readonly DeliveryPart[] = ['tiff', 'print', 'jpeg'];

/** The cut picture as a TIFF of 16 bits. */
async function cutTiff({ services, mergeId, file, signal, tell, run }: Making): Promise<string> {
  const { storage, merges, pool } = services;
  const { scene, body } = merges.painted(mergeId);
  const { cut } = storage.finishes.find(mergeId);
  const crop = cut.crop ?? { x: 0, y: 0, width: body.width, height: body.height };
  const out = file('.tif');
  const icc = iccPath(services, body.tilesId, body.frames[body.reference]!.pictureId);
  const { width, height } = crop;
  await renderFlat(
    { scene, width, height, icc, out, cut: { turnDeg: cut.turnDeg, crop } },
    { run, parallel: pool.threads, signal, onProgress: tell },
  );
  return out;
}

/** A part, once the cut picture has been rendered for it or another one. */
type WithCut = Making & { readonly cut: string | null };

function makeTiff({ name, cut }: WithCut): Promise<Made> {
  return Promise.resolve({ files: [{ name: `${name}.tif`, path: cut! }] });
}

/** A copy that is sharpened for the print and distance it is meant for, and called so. */
async function makePrint({ services, mergeId, name, file, signal, run, cut }: WithCut): Promise<Made> {
  const { storage, merges } = services;
  const { row, body } = merges.open(mergeId);
  const size = storage.finishes.find(mergeId).cut.crop ?? body;
  const viewing = viewingOf(viewingOfJob(storage, row.job_id), size);
  const out = file('.tif');
  await run('sharpenTiff', { tiff: cut!, out, sigmaPx: outputSharpeningPx(viewing) }, signal);
  return { files: [{ name: `${name}, sharpened for output.tif`, path: out }] };
}

async function makeJpeg({ order, name, file, signal, run, cut }: WithCut): Promise<Made> {
  const out = file('.jpg');
  const { longSidePx, mostBytes, sharpen } = order;
  const { bytes, fits } = await run('screenJpeg', { tiff: cut!, out, longSidePx, mostBytes, sharpen }, signal);
  if (!fits)
    throw new RequestError(
      400,
      `mostBytes: the picture for screens takes ${bytes} bytes at its coarsest. Accepted: more than that, or a shorter long side.`,
    );
  return { files: [{ name: `${name}, ${sharpen ? 'sharpened for screens' : 'for screens'}.jpg`, path: out }] };
}

/** The whole merge with a layer for each repair, uncut: what can still be changed. */
async function makeLayers({ services, mergeId, name, file, signal, tell, run }: Making): Promise<Made> {
  const { merges, pool, storage } = services;
  const { scene, body, donorNames } = merges.painted(mergeId);
  const { width, height } = body;
  const icc = iccPath(services, body.tilesId, body.frames[body.reference]!.pictureId);
  const flat = async (operations: typeof scene.operations): Promise<string> => {
    const [tiff, png] = [file('.tif'), file('.png')];
    await renderFlat(
      { scene: { ...scene, operations }, width, height, icc, out: tiff },
      { run, parallel: pool.threads, signal, onProgress: (share) => tell(share * 0.3) },
    );
    await run('convertTiff', { tiff, out: png }, signal);
    await rm(tiff, { force: true });
    return png;
  };
  const [base, merged] = [await flat([]), await flat(scene.operations)];
  const layers = [{ name: 'The merge as it came', png: base, x: 0, y: 0, isVisible: true }];
  for (const [k, operation] of scene.operations.entries()) {
    const png = file('.png');
    await run('layerPng', { scene, operation: k, out: png }, signal);
    const { x, y } = operation.region;
    const words = operationWords(storage.operations.find(operation.id)!.operation, donorNames);
    const [left, top] = [Math.max(0, Math.floor(x)), Math.max(0, Math.floor(y))];
    layers.push({ name: words, png, x: left, y: top, isVisible: true });
    tell(0.3 + (0.6 * (k + 1)) / scene.operations.length);
  }
  const out = file('.ora');
  await run('openRaster', { out, width, height, layers, merged }, signal);
  return { files: [{ name: `${name}, layers.ora`, path: out }] };
}

async function makeMasks({ services, mergeId, name, file, tell }: Making): Promise<Made> {
  const { scene, donorNames } = services.merges.painted(mergeId);
  const used = [...new Set(scene.operations.flatMap(partsOf).flatMap((o) => (o.donor === null ? [] : [o.donor])))].sort(
    (a, b) => a - b,
  );
  const files: ZippedFile[] = [];
  for (const [k, frame] of used.entries()) {
    const path = file('.png');
    await writeFile(path, await exportMask(services, mergeId, frame));
    files.push({ name: `${name}, mask of ${donorNames[frame]!}.png`, path });
    tell((k + 1) / used.length);
  }
  return { files };
}

async function makeReportFile({ services, mergeId, name, file }: Making): Promise<Made> {
  const path = file('.json');
  await writeFile(path, `${JSON.stringify(exportReport(services, mergeId), null, 1)}\n`);
  return { files: [{ name: `${name}, report.json`, path }] };
}

async function makePdf({ services, mergeId, name, file }: Making): Promise<Made> {
  const path = file('.pdf');
  await writeFile(path, await reportPdf(await reportPages(services, mergeId)));
  return { files: [{ name: `${name}, report.pdf`, path }] };
}

/**
 * The ZIP that work `deliver` made.
 * @throws RequestError when there is no such work, or it is not done
 */
export function deliveredFile({ storage }: Services, workId: string): { path: string; name: string } {
  const row = storage.work.find(workId);
  if (!row || row.kind !== 'deliver') throw new RequestError(404, `There is no delivery ${workId}.`);
  const { name, order } = deliverPayload.parse(JSON.parse(row.payload));
  if (row.status === 'done' && order.into === 'folder')
    throw new RequestError(409, `This delivery is no ZIP: it was ${row.message}.`);
  const path = storage.folder.exported(workId);
  if (row.status !== 'done' || !existsSync(path))
    throw new RequestError(
      409,
      `This delivery is ${row.status}${row.error ? `: ${row.error}` : ''}. Accepted: one that is done.`,
    );
  return { path, name: `${name}.zip` };
}
