// Work `source`: the set merged once more where a merge of it has its frames, to be painted with as frames are.
import { rm } from 'node:fs/promises';
import { z } from 'zod';
import {
  isOpenWork,
  otherMethods,
  sourceMethodSchema,
  type MergeSource,
  type SourceMethod,
  type SourceOrder,
  type Work,
} from '@blendrak/contract';
import type { PlacedFrame, SetPicture } from '../../pipeline';
import { RequestError } from '../../shared/requestError';
import { moveDurably, pictureInfo, toWork, type StoredSource } from '../../storage';
import { newId, type Services } from '../context';

export const sourcePayload = z.strictObject({ mergeId: z.string(), method: sourceMethodSchema });
type SourcePayload = z.infer<typeof sourcePayload>;

/** What it is called among the frames. */
const NAMES: Readonly<Record<SourceMethod, string>> = {
  labels: 'own merge, sharpest frame',
  reference: 'own merge, reference first',
  bands: 'own merge, band by band',
  seams: 'own merge',
  fusion: 'own merge, by exposure',
  light: 'own merge, as light',
};

/** The sources of a merge, in the order of their numbers. */
export function listSources({ storage, merges }: Services, mergeId: string): MergeSource[] {
  merges.body(mergeId);
  return storage.sources.listByMerge(mergeId).map(openSource);
}

function openSource({ id, method, name }: StoredSource): MergeSource {
  return { id, method, name };
}

/**
 * Queues the making of a source.
 * @throws RequestError for a method that the merge's kind does not have, that it is made by itself, or that is there or being made already
 */
export function startSource({ storage, merges, events }: Services, mergeId: string, { method }: SourceOrder): Work {
  const { row, body } = merges.open(mergeId);
  const accepted = otherMethods({ origin: row.origin, kind: body.facts.kind, options: body.options });
  if (!accepted.includes(method))
    throw new RequestError(
      400,
      `method: ${method} makes no other merge of this ${body.facts.kind.replace('-', ' ')}. Accepted: ${accepted.join(', ') || 'none: it is merged in the only way there is'}.`,
    );
  if (storage.sources.listByMerge(mergeId).some((s) => s.method === method))
    throw new RequestError(409, `method: ${NAMES[method]} is there already, after the frames.`);
  const asked = storage.work.rowsOf(row.job_id, 'source').some((w) => {
    const payload = sourcePayload.parse(JSON.parse(w.payload));
    return isOpenWork(w) && payload.mergeId === mergeId && payload.method === method;
  });
  if (asked) throw new RequestError(409, `method: ${NAMES[method]} is being made already: wait for it, or cancel it.`);
  const id = newId();
  storage.work.insert(id, row.job_id, 'source', { mergeId, method } satisfies SourcePayload);
  events.publish({ topic: 'job', id: row.job_id });
  return toWork(storage.work.find(id)!);
}

export async function runSource(
  services: Services,
  { mergeId, method }: SourcePayload,
  onProgress: (share: number, message: string) => void,
  signal: AbortSignal,
): Promise<void> {
  const { storage, merges, pool, events } = services;
  // A kill may have come between the row and the end of the work.
  if (storage.sources.listByMerge(mergeId).some((s) => s.method === method)) return;
  const { row, body, scene } = merges.open(mergeId);
  const { facts, reference, width, height, bits } = body;
  const picture = { width, height, bits, exif: null };
  const merge: SetPicture = { ...picture, ...scene.merge, name: body.fileName };
  const frames = body.frames.map((f, k): PlacedFrame => {
    const info = pictureInfo(storage.pictures.find(f.pictureId)!)!;
    const { residualPx, correlation, fileName: name } = f;
    return { ...info, ...scene.frames[k]!, name, residualPx: residualPx ?? NaN, correlation };
  });
  const id = newId();
  const tiles = storage.folder.scratchFile('.tiles');
  const evs = facts.kind === 'bracket' ? facts.evs : [];
  try {
    const order = { kind: facts.kind, merge, frames, reference, evs, method };
    const placed = await pool.source(order, tiles, onProgress, signal);
    storage.expect([id]);
    await moveDurably(tiles, storage.folder.tiles(id));
    storage.transaction(() => {
      const { tone, noise, grey = null, mix = null, contrast = null } = placed;
      const plain = JSON.parse(JSON.stringify({ tone, noise, grey, mix, contrast })) as Pick<
        StoredSource,
        'tone' | 'noise' | 'grey' | 'mix' | 'contrast'
      >;
      storage.sources.append({ id, mergeId, method, name: NAMES[method], ...plain });
      storage.keep([id]);
    });
    merges.moreToPaintWith(mergeId);
    events.publish({ topic: 'sources', id: row.job_id, mergeId });
  } catch (error) {
    // What was moved into place belongs to no row.
    storage.discard([id], () => undefined);
    throw error;
  } finally {
    for (const path of [tiles, `${tiles}.part`]) await rm(path, { force: true });
  }
}
