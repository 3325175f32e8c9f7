// A merge on the way out: how it is cut, what stands against signing it, and the signature.
import type {
  CropWishOrder,
  Cut,
  Finish,
  ProposedCut,
  SignOrder,
  ViewingSettings,
  WaiveOrder,
} from '@blendrak/contract';
import { viewingSchema } from '@blendrak/contract';
import { cropCost, largestCrop, liesWithin, tiltOf } from '@blendrak/core/finish';
import { RequestError } from '../../shared/requestError';
import type { FinishBody, MergeBody } from '../../storage';
import type { Services } from '../context';
import { requireJob } from '../jobsService';
import { note } from '../log/journal';
import { nameOf, obstaclesOf } from './obstacles';
import { reshootList } from './reshootList';
import { requireUnsigned } from './signed';

/** What a merge is on its way out. */
export async function finishOf(services: Services, mergeId: string): Promise<Finish> {
  const { storage, merges } = services;
  const { row, body } = merges.open(mergeId);
  await lookForTilt(services, mergeId);
  const kept = storage.finishes.find(mergeId);
  const viewing = viewingOfJob(storage, row.job_id);
  const obstacles = obstaclesOf(services, mergeId, row.job_id, body, viewing, kept);
  return {
    mergeId,
    cut: kept.cut,
    cost: costOf(body, kept.cut),
    obstacles,
    signature: kept.signature,
    state: nameOf([
      storage.merges.revisionOf(mergeId)!,
      storage.merges.findingsRevisionOf(mergeId)!,
      JSON.stringify([kept.cut, viewing, obstacles.map((o) => [o.kind, o.covers])]),
    ]),
    tilt: kept.tilt ?? null,
    reshoot: reshootList(services, body, storage.findings.listByMerge(mergeId)),
  };
}

export function viewingOfJob(storage: Services['storage'], jobId: string): ViewingSettings {
  const { viewing } = requireJob(storage, jobId);
  return viewing === null ? { kind: 'screen' } : viewingSchema.parse(JSON.parse(viewing));
}

/** The straight edges of a merge are looked for once. */
async function lookForTilt({ storage, merges, quick }: Services, mergeId: string): Promise<void> {
  if (storage.finishes.find(mergeId).tilt !== undefined) return;
  const edges = await quick.run('edges', { merge: merges.open(mergeId).scene.merge });
  storage.transaction(() => storage.finishes.keep(mergeId, { ...storage.finishes.find(mergeId), tilt: tiltOf(edges) }));
}

function costOf(body: MergeBody, { turnDeg, crop }: Cut): Finish['cost'] {
  const whole = { x: 0, y: 0, width: body.width, height: body.height };
  return cropCost(body, turnDeg, crop ?? whole, body.alignment.subject.shapes);
}

/**
 * The largest clean crop of a wanted shape, with what it costs: borders that were found and not repaired are outside it.
 * @throws RequestError where nothing is left
 */
export function proposeCut(
  { storage, merges }: Services,
  mergeId: string,
  { turnDeg, aspect }: CropWishOrder,
): ProposedCut {
  const { body } = merges.open(mergeId);
  const blocked = storage.findings
    .listByMerge(mergeId)
    .filter((f) => f.defect === 'border' && f.decision !== 'repaired' && f.decision !== 'not-a-defect')
    .map((f) => f.polygon);
  const crop = largestCrop(body, { turnDeg, aspect, blocked });
  if (!crop)
    throw new RequestError(
      409,
      'No clean part of that shape is left: turn it less, or settle the borders on the bench first.',
    );
  const cut = { turnDeg, crop };
  return { cut, cost: costOf(body, cut) };
}

/** Says how a merge is cut. */
export async function setCut(services: Services, mergeId: string, cut: Cut): Promise<Finish> {
  const { merges } = services;
  requireUnsigned(services, mergeId);
  const { body } = merges.open(mergeId);
  checkCut(cut, body);
  change(services, mergeId, (kept) => ({ ...kept, cut }));
  return finishOf(services, mergeId);
}

function checkCut({ turnDeg, crop }: Cut, { width, height }: MergeBody): void {
  if (!crop) {
    if (turnDeg !== 0)
      throw new RequestError(400, 'crop: a picture that is turned needs one, or its corners would be empty.');
    return;
  }
  const isWhole = [crop.x, crop.y, crop.width, crop.height].every(Number.isInteger);
  if (!isWhole || crop.width < 16 || crop.height < 16)
    throw new RequestError(400, `crop: ${sizeWords(crop)} cannot be cut. Accepted: whole px, 16 or more a side.`);
  const isInside = crop.x >= 0 && crop.y >= 0 && crop.x + crop.width <= width && crop.y + crop.height <= height;
  if (!isInside || !liesWithin({ width, height }, turnDeg, crop))
    throw new RequestError(
      400,
      `crop: ${sizeWords(crop)} at (${crop.x}, ${crop.y}) lies outside the picture. Accepted: what lies within ${width} × ${height} px${turnDeg === 0 ? '' : `, turned by ${turnDeg}°`}.`,
    );
}

const sizeWords = ({ width, height }: { readonly width: number; readonly height: number }): string =>
  `${width} × ${height} px`;

/**
 * Waives what stands against a signature, by name and with a reason.
 * @throws RequestError when it does not stand there (any more)
 */
export async function waive(services: Services, mergeId: string, order: WaiveOrder): Promise<Finish> {
  const { kind, covers, by, reason } = order;
  requireUnsigned(services, mergeId);
  const { obstacles } = await finishOf(services, mergeId);
  const obstacle = obstacles.find((o) => o.kind === kind && o.covers === covers);
  if (!obstacle)
    throw new RequestError(409, `covers: this does not stand against signing (any more). Look at the list again.`);
  change(services, mergeId, (kept) => ({
    ...kept,
    waivers: [...kept.waivers, { kind, covers, by, reason, at: new Date().toISOString() }],
  }));
  const { row } = services.merges.open(mergeId);
  note(services, row.job_id, 'waived', `${by} waived: ${obstacle.words} Reason: ${reason}`);
  return finishOf(services, mergeId);
}

/**
 * Signs a merge: it is locked from then on.
 * @throws RequestError while something stands against it, or when it changed since it was looked at
 */
export async function sign(services: Services, mergeId: string, order: SignOrder): Promise<Finish> {
  const { by, verdict, remarks, state } = order;
  requireUnsigned(services, mergeId);
  const now = await finishOf(services, mergeId);
  if (now.state !== state)
    throw new RequestError(
      409,
      'This merge has changed since you looked at it, perhaps in another window. Look again, then sign.',
    );
  const standing = now.obstacles.filter((o) => o.waiver === null);
  if (verdict !== 'reshoot' && standing.length > 0)
    throw new RequestError(
      409,
      `Something stands against it: ${standing.map((o) => o.words).join(' ')} Settle it, or waive it by name.`,
    );
  if (verdict !== 'deliver' && remarks === '')
    throw new RequestError(400, `remarks: say what is to be ${verdict === 'reshoot' ? 'shot again' : 'known'}.`);
  change(services, mergeId, (kept) => ({ ...kept, signature: { by, at: new Date().toISOString(), verdict, remarks } }));
  const { row } = services.merges.open(mergeId);
  note(services, row.job_id, 'signed', `${by} signed: ${verdict.replaceAll('-', ' ')}.${remarks ? ` ${remarks}` : ''}`);
  return finishOf(services, mergeId);
}

/** Takes a signature back: the merge can be changed again. */
export async function openAgain(services: Services, mergeId: string): Promise<Finish> {
  const { signature } = services.storage.finishes.find(mergeId);
  if (!signature) throw new RequestError(409, 'This merge is not signed.');
  change(services, mergeId, (kept) => ({ ...kept, signature: null }));
  const { row } = services.merges.open(mergeId);
  note(services, row.job_id, 'reopened', `Opened again; it had been signed by ${signature.by}.`);
  return finishOf(services, mergeId);
}

function change({ storage, merges, events }: Services, mergeId: string, make: (kept: FinishBody) => FinishBody): void {
  storage.transaction(() => storage.finishes.keep(mergeId, make(storage.finishes.find(mergeId))));
  const { row } = merges.open(mergeId);
  events.publish({ topic: 'finish', id: row.job_id, mergeId });
}
