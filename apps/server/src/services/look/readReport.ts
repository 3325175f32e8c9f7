// A report made elsewhere, by the command line or another machine, read back: what it found and nobody here has is taken over.
import type { Finding, ReadReport, Report } from '@blendrak/contract';
import { sharedArea, type Region } from '@blendrak/core/image';
import { detectorOf } from '@blendrak/core/inspect';
import { RequestError } from '../../shared/requestError';
import { newId, type Services } from '../context';
import { requireUnsigned } from '../finish/signed';

/** Sides of two pictures of one merge differ by no more than rounding. */
const SAME_SHAPE = 0.005;
/** Findings of one defect that share so much of their boxes are the same one. */
const SAME_PLACE = 0.5;

/**
 * Adds the findings of a report that are not known.
 * @throws RequestError for a report of another kind of merge, of another shape, or of other frames
 */
export function readReport(services: Services, mergeId: string, report: Report): ReadReport {
  const { storage, merges, events } = services;
  requireUnsigned(services, mergeId);
  const { body, row } = merges.open(mergeId);
  const names = body.frames.map((f) => f.fileName);
  checkReport(report, body.facts.kind, body, names);
  const scale = body.width / report.merge.width;
  const known = storage.findings.listByMerge(mergeId);
  const found = report.findings.map((f) => findingOf(f, scale, names, mergeId));
  const fresh = found.filter((f) => !known.some((k) => k.defect === f.defect && overlap(k.bbox, f.bbox) >= SAME_PLACE));
  if (fresh.length > 0) {
    storage.transaction(() => {
      const revision = storage.merges.bumpFindings(mergeId);
      for (const finding of fresh) storage.findings.add(finding, revision);
    });
    events.publish({ topic: 'findings', id: row.job_id, mergeId });
  }
  return { taken: fresh.length, known: found.length - fresh.length };
}

function checkReport(
  { kind, merge, frames, findings }: Report,
  own: Report['kind'],
  { width, height }: { readonly width: number; readonly height: number },
  names: readonly string[],
): void {
  if (kind !== own) throw new RequestError(400, `kind: the report is of a ${kind}. Accepted: a report of this ${own}.`);
  const stretch = merge.width / merge.height / (width / height);
  if (Math.abs(stretch - 1) > SAME_SHAPE) {
    throw new RequestError(
      400,
      `merge: the report is of a picture of ${merge.width} × ${merge.height} px. Accepted: the shape of this merge, ${width} × ${height} px, in any size.`,
    );
  }
  const named = [...frames.map((f) => f.file), ...findings.flatMap((f) => f.donor ?? [])];
  const stranger = named.find((name) => !names.includes(name));
  if (stranger !== undefined)
    throw new RequestError(400, `frames: ${stranger} is no frame of this merge. Accepted: ${names.join(', ')}.`);
}

function findingOf(
  { defect, region, severity, confidence, cause, measurements, donor, repairable }: Report['findings'][number],
  scale: number,
  names: readonly string[],
  mergeId: string,
): Finding {
  const [x, y, width, height] = region.bbox.map((v) => v * scale) as [number, number, number, number];
  const { gain, ...measured } = measurements;
  return {
    id: newId(),
    mergeId,
    defect,
    bbox: { x, y, width, height },
    polygon: region.polygon.map(([px, py]) => [px * scale, py * scale]),
    ...{ severity, confidence, cause, repairable },
    advice: detectorOf(defect).advice,
    measurements: measured,
    // A report tells which frames are shown, not what was measured in each.
    frames: [],
    donor: donor === null ? null : names.indexOf(donor),
    gain: gain?.value ?? 1,
    byHand: false,
    sight: null,
    decision: 'open',
    reason: '',
    recheck: '',
  };
}

/** Shared area over the area of both together. */
function overlap(a: Region, b: Region): number {
  const shared = sharedArea(a, b);
  return shared / (a.width * a.height + b.width * b.height - shared);
}
