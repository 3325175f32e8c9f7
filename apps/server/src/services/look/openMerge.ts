// A merge on the bench: what it is, its findings and strokes, and what the frames show at a place.
import type { Decision, Finding, Merge, MergeFacts, MergeKind, Probe, StrokeChanges } from '@blendrak/contract';
import { canHave, DEFECTS, DETECTORS } from '@blendrak/core/inspect';
import { RequestError } from '../../shared/requestError';
import type { MergeBody } from '../../storage';
import type { Services } from '../context';

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
    ...lookedAt(body.facts.kind, body.inspection !== null),
    frames: body.frames,
    findings: storage.findings.listByMerge(id),
    revision: storage.merges.revisionOf(id)!,
  };
}

/** Facts as pages get them: without the cameras, which only merging anew needs. */
function openFacts(facts: MergeBody['facts']): MergeFacts {
  if (facts.kind !== 'panorama') return facts;
  const { cameras: _kept, ...open } = facts;
  return open;
}

/** What merges of a kind are inspected for, and what they can have besides. */
function lookedAt(kind: MergeKind, inspected: boolean): Pick<Merge, 'lookedFor' | 'leftToTheEye'> {
  const lookedFor = inspected ? DETECTORS.filter((d) => d.kinds.includes(kind)).map((d) => d.defect) : [];
  return { lookedFor, leftToTheEye: DEFECTS.filter((d) => canHave(kind, d) && !lookedFor.includes(d)) };
}

/**
 * Strokes of a merge that changed after a revision.
 * @param since −1 for all
 */
export function strokesSince({ storage, merges }: Services, id: string, since: number): StrokeChanges {
  merges.open(id);
  return { revision: storage.merges.revisionOf(id)!, ...storage.strokes.changedSince(id, since) };
}

/** Records what a person decided about a finding. */
export function decideFinding({ storage, events }: Services, id: string, decision: Decision, reason: string): Finding {
  const finding = storage.findings.find(id);
  if (!finding) throw new RequestError(404, `There is no finding ${id}.`);
  if (decision === 'accepted' && reason.trim() === '') {
    throw new RequestError(400, 'A defect is accepted with a reason: say why it may stay (it is kept in the record).');
  }
  storage.findings.decide(id, decision, reason);
  const { mergeId } = finding;
  events.publish({ topic: 'findings', id: storage.merges.find(mergeId)!.job_id, mergeId });
  return storage.findings.find(id)!;
}

/** Measures all frames around a point of the merge. */
export async function probeAt(services: Services, id: string, x: number, y: number, sizePx: number): Promise<Probe> {
  const { scene, body } = services.merges.painted(id);
  const { kind } = body.facts;
  if (!(x >= 0 && y >= 0 && x < body.width && y < body.height)) {
    throw new RequestError(
      400,
      `(${x}, ${y}) is outside the merge. Accepted: x from 0 to ${body.width}, y from 0 to ${body.height} px.`,
    );
  }
  const { frames, shown } = await services.quick.run('probe', { scene, kind, x, y, sizePx });
  return { x, y, frames: [...frames], shown };
}
