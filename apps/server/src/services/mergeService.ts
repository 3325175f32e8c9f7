// A merge on the bench: its frames, findings and strokes.
import type { Decision, Finding, Merge, Probe, SavedStroke } from '@blendrak/contract';
import type { InspectionScene } from '../jobs';
import { mergeBody, pictureInfo, type MergeBody, type MergeRow } from '../storage';
import { type Services } from './context';
import { RequestError } from '../shared/requestError';

export interface OpenMerge {
  readonly row: MergeRow;
  readonly body: MergeBody;
  readonly scene: InspectionScene & { readonly strokes: readonly SavedStroke[] };
}

/** Everything needed to render or inspect a merge as repaired so far (or without its strokes). */
export function openMerge({ storage }: Services, id: string, withStrokes = true): OpenMerge {
  const row = storage.merges.find(id);
  if (!row) throw new RequestError(404, `There is no merge ${id}.`);
  const body = mergeBody(row);
  const frames = body.frames.map((f) => {
    const picture = storage.pictures.find(f.pictureId);
    const noise = picture ? pictureInfo(picture)?.noise : null;
    if (!noise) throw new RequestError(409, `The frame ${f.fileName} of this merge has been taken out of the job.`);
    const { toMerge, tone, view } = f;
    return { tiles: storage.folder.tiles(f.pictureId), noise, toMerge, tone, ...(view && { view }) };
  });
  const strokes = withStrokes ? storage.strokes.listByMerge(id).filter((s) => !s.undone) : [];
  return {
    row,
    body,
    scene: { merge: { tiles: storage.folder.tiles(body.tilesId), noise: body.noise }, frames, strokes },
  };
}

export function describeMerge(services: Services, id: string): Merge {
  const { storage } = services;
  const { row, body } = openMerge(services, id);
  const job = storage.jobs.find(row.job_id)!;
  return {
    id,
    jobId: job.id,
    jobName: job.name,
    origin: row.origin,
    fileName: body.fileName,
    width: body.width,
    height: body.height,
    bits: body.bits,
    reference: body.reference,
    kind: job.kind,
    focusAxis: body.axis?.source ?? null,
    options: body.options,
    alignment: body.alignment,
    facts: body.facts,
    frames: body.frames,
    findings: storage.findings.listByMerge(id),
    strokes: storage.strokes.listByMerge(id),
    revision: row.revision,
  };
}

/** Records what a person decided about a finding. */
export function decideFinding({ storage, events }: Services, id: string, decision: Decision, reason: string): Finding {
  const finding = storage.findings.find(id);
  if (!finding) throw new RequestError(404, `There is no finding ${id}.`);
  if (decision === 'accepted' && reason.trim() === '') {
    throw new RequestError(400, 'A defect is accepted with a reason: say why it may stay (it is kept in the record).');
  }
  storage.findings.decide(id, decision, reason);
  events.publish({ jobId: storage.merges.find(finding.mergeId)!.job_id });
  return storage.findings.find(id)!;
}

/** Measures all frames around a point of the merge. */
export async function probeAt(services: Services, id: string, x: number, y: number, sizePx: number): Promise<Probe> {
  const { scene, body } = openMerge(services, id);
  if (x < 0 || y < 0 || x >= body.width || y >= body.height) {
    throw new RequestError(400, `(${x}, ${y}) is outside the merge of ${body.width} × ${body.height} px.`);
  }
  const { frames, shown } = await services.quick.run('probe', { scene, x, y, sizePx });
  return { x, y, frames: [...frames], shown };
}
