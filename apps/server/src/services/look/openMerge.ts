// A merge on the bench: what it is, its findings and operations, and what the frames show at a place.
import type { Decision, FindingChanges, Merge, MergeFacts, OperationChanges, Probe } from '@blendrak/contract';
import { canHave, DEFECTS, detectorsFor } from '@blendrak/core/inspect';
import { RequestError } from '../../shared/requestError';
import type { MergeBody } from '../../storage';
import type { Services } from '../context';
import { iccPath } from '../deliver/exportService';
import { requireUnsigned } from '../finish/signed';
import { note } from '../log/journal';

export function describeMerge({ storage, merges }: Services, id: string): Merge {
  const { row, body } = merges.open(id);
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
    kind: body.facts.kind,
    options: body.options,
    alignment: body.alignment,
    facts: openFacts(body.facts),
    ...lookedAt(body),
    maps: body.maps,
    frames: body.frames,
    carried: storage.merges.carriedOf(id),
  };
}

/** Facts as pages get them: without the cameras, which only merging anew needs. */
function openFacts(facts: MergeBody['facts']): MergeFacts {
  if (facts.kind !== 'panorama') return facts;
  const { cameras: _kept, ...open } = facts;
  return open;
}

/** What a merge was inspected for, perhaps before some detectors came, and what it can have besides. */
function lookedAt({ facts: { kind }, inspection }: MergeBody): Pick<Merge, 'lookedFor' | 'leftToTheEye'> {
  const lookedFor = inspection
    ? detectorsFor(kind, ({ name }) => name in inspection.yardsticks).map((d) => d.defect)
    : [];
  return { lookedFor, leftToTheEye: DEFECTS.filter((d) => canHave(kind, d) && !lookedFor.includes(d)) };
}

/**
 * Operations of a merge that changed after a revision.
 * @param since −1 for all
 * @param person who asks
 */
export function operationsSince(services: Services, id: string, since: number, person: string): OperationChanges {
  const { storage, merges } = services;
  merges.open(id);
  return {
    revision: storage.merges.revisionOf(id)!,
    ...storage.operations.changedSince(id, since),
    ...storage.operationChanges.count(id, person),
  };
}

/**
 * Findings of a merge that changed after a revision.
 * @param since −1 for all
 */
export function findingsSince({ storage, merges }: Services, id: string, since: number): FindingChanges {
  merges.body(id);
  return { revision: storage.merges.findingsRevisionOf(id)!, changed: storage.findings.changedSince(id, since) };
}

/**
 * Records what a person decided about a finding.
 * @returns the merge's id
 */
export function decideFinding({ storage, events }: Services, id: string, decision: Decision, reason: string): string {
  const finding = storage.findings.find(id);
  if (!finding) throw new RequestError(404, `There is no finding ${id}.`);
  if (decision === 'accepted' && reason.trim() === '') {
    throw new RequestError(400, 'A defect is accepted with a reason: say why it may stay (it is kept in the record).');
  }
  const { mergeId, defect } = finding;
  requireUnsigned({ storage }, mergeId);
  const jobId = storage.merges.find(mergeId)!.job_id;
  storage.transaction(() => {
    storage.findings.decide(id, decision, reason, storage.merges.bumpFindings(mergeId));
    const what = decision === 'open' ? 'opened again' : `settled as ${decision.replaceAll('-', ' ')}`;
    note({ storage }, jobId, 'decided', `A ${defect.replaceAll('-', ' ')} was ${what}${reason ? `: ${reason}` : ''}.`);
  });
  events.publish({ topic: 'findings', id: jobId, mergeId });
  return mergeId;
}

/** Measures all frames around a point of the merge. */
export async function probeAt(services: Services, id: string, x: number, y: number, sizePx: number): Promise<Probe> {
  const { scene, body, donorNames } = services.merges.painted(id);
  const { kind } = body.facts;
  if (!(x >= 0 && y >= 0 && x < body.width && y < body.height)) {
    throw new RequestError(
      400,
      `(${x}, ${y}) is outside the merge. Accepted: x from 0 to ${body.width}, y from 0 to ${body.height} px.`,
    );
  }
  const icc = iccPath(services, body.tilesId, body.frames[body.reference]!.pictureId);
  const { frames, shown, patches, patchPx } = await services.quick.run('probe', { scene, kind, x, y, sizePx, icc });
  const data = Buffer.from(patches.buffer, patches.byteOffset, patches.byteLength).toString('base64');
  return {
    x,
    y,
    frames: [...frames],
    shown,
    patches: `data:image/jpeg;base64,${data}`,
    patchCount: donorNames.length,
    patchPx,
  };
}
