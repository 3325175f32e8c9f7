// A merge made for a job, whatever its kind; runs in the conductor's thread and writes no row.
import { writeFileSync } from 'node:fs';
import type { Finding } from '@blendrak/contract';
import { detectorOf } from '@blendrak/core/inspect';
import { finiteMeasurements, type InspectedFinding, type StepContext } from '../../pipeline';
import type { MergeBody } from '../../storage';
import { newId } from '../context';
import { makeBracket, makePanorama } from './makeSet';
import { makeStack } from './makeStack';
import type { MadeMerge, MergeOrder, MergeRequest } from './mergeOrder';

/**
 * Carries out an order: tiles and label maps are written where it says.
 * @throws InputError when the frames cannot be merged, NoRoomError when the disk cannot hold the merge
 */
export async function makeMerge(order: MergeOrder, tools: StepContext): Promise<MadeMerge> {
  const request: MergeRequest = {
    ...order,
    context: (from, to) => ({
      ...tools,
      onProgress: (share, message) => tools.onProgress(from + (to - from) * share, message),
    }),
  };
  const make = { panorama: makePanorama, bracket: makeBracket, 'focus-stack': makeStack }[order.kind];
  const { body, labels, findings } = await make(request);
  const whole = order.leftAlone === null ? body : withRemark(body, order.leftAlone);
  if (labels) writeFileSync(order.labels, Buffer.concat([labels.closest, labels.shown]));
  return {
    body: JSON.stringify(whole),
    findings: findings.map((f) => toFinding(f, order.id)),
    labelled: labels !== null,
  };
}

/** Says of a merge made elsewhere that nobody looked at it. */
function withRemark(body: MergeBody, fileName: string): MergeBody {
  if (!body.facts) return body;
  const why =
    'this merge made elsewhere is not looked at: those of panoramas and brackets cannot be laid on their frames yet. The job has a merge of its own instead';
  const others = body.facts.remarks.filter((r) => r.fileName !== fileName);
  return { ...body, facts: { ...body.facts, remarks: [...others, { fileName, why }] } };
}

function toFinding(found: InspectedFinding, mergeId: string): Finding {
  const { detection, traced } = found;
  return {
    id: newId(),
    mergeId,
    defect: detection.defect,
    bbox: detection.bbox,
    polygon: detection.polygon.map(([x, y]) => [x, y]),
    severity: traced.severity,
    confidence: detection.confidence,
    cause: traced.cause,
    advice: detectorOf(detection.defect).advice,
    measurements: finiteMeasurements(found),
    frames: [...traced.frames],
    donor: traced.donor,
    gain: traced.gain,
    repairable: traced.repairable,
    decision: 'open',
    reason: '',
    recheck: '',
  };
}
