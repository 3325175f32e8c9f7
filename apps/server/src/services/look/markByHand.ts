// A defect that a person saw and nobody else: outlined by hand, traced to its frames like any other.
import type { Finding, HandMark } from '@blendrak/contract';
import { detectorOf, type Detection } from '@blendrak/core/inspect';
import { paintArea } from '@blendrak/core/image';
import { CELL_PX } from '@blendrak/core/kernels';
import { RequestError } from '../../shared/requestError';
import { newId, type Services } from '../context';
import { requireUnsigned } from '../finish/signed';
import { inspectedOf } from '../mend/lookAgain';
import { sightRecord } from '../make/makeMerge';

/** Outlines are no larger than this share of the picture: a finding hugs its defect. */
const LARGEST_SHARE = 0.25;
/** Longest side that is traced at once, px. */
const MOST_PX = 2048;

/**
 * Adds a finding by its outline.
 * @returns it, as traced
 * @throws RequestError for an outline outside the picture, of nothing, or of too much
 */
export async function markByHand(services: Services, mergeId: string, { defect, polygon }: HandMark): Promise<Finding> {
  const { storage, merges, quick, events } = services;
  requireUnsigned(services, mergeId);
  const { scene, body, row } = merges.painted(mergeId);
  const inspected = inspectedOf(body);
  const [gridWidth, gridHeight] = [Math.floor(body.width / CELL_PX), Math.floor(body.height / CELL_PX)];
  const cells = cellsInside(polygon, body.width, body.height);
  if (cells.length === 0)
    throw new RequestError(
      400,
      `The outline holds nothing of the merge. Accepted: at least ${CELL_PX} × ${CELL_PX} px of it.`,
    );
  const bbox = boxOf(cells, gridWidth);
  if (
    bbox.width * bbox.height > LARGEST_SHARE * gridWidth * gridHeight * CELL_PX ** 2 ||
    Math.max(bbox.width, bbox.height) > MOST_PX
  ) {
    throw new RequestError(
      400,
      `The outline is ${bbox.width} × ${bbox.height} px. Accepted: up to ${MOST_PX} px a side, and a quarter of the picture; mark the defect alone.`,
    );
  }
  const detection: Detection = {
    ...{ defect, cells, bbox, confidence: 1, measurements: {} },
    polygon: polygon.map(([x, y]) => [x, y] as const),
  };
  const names = body.frames.map((f) => f.fileName);
  const traced = await quick.run('trace', {
    scene,
    ...inspected,
    detection,
    names,
  });
  const shown = traced.frames.reduce((k, f, i, all) => (f.shownShare > all[k]!.shownShare ? i : k), 0);
  const finding: Finding = {
    id: newId(),
    mergeId,
    ...{ defect, bbox, polygon, confidence: 1, measurements: {} },
    severity: traced.severity,
    cause: `Marked by hand. ${frameWords(names, shown, traced.donor)}`,
    advice: detectorOf(defect).advice,
    frames: [...traced.frames],
    donor: traced.donor,
    gain: traced.gain,
    repairable: traced.repairable,
    byHand: true,
    sight: sightRecord(traced.sight),
    decision: 'open',
    reason: '',
    recheck: '',
  };
  storage.transaction(() => storage.findings.add(finding, storage.merges.bumpFindings(mergeId)));
  events.publish({ topic: 'findings', id: row.job_id, mergeId });
  return storage.findings.find(finding.id)!;
}

function frameWords(names: readonly string[], shown: number, donor: number | null): string {
  if (donor === shown) return `The merge shows ${names[shown]} here, which is the best frame of all.`;
  const best = donor === null ? 'no other frame is better' : `${names[donor]} is better`;
  return `The merge shows ${names[shown]} here; ${best}.`;
}

/** Cells whose middle lies in an outline. */
function cellsInside(polygon: HandMark['polygon'], width: number, height: number): number[] {
  const [across, down] = [Math.floor(width / CELL_PX), Math.floor(height / CELL_PX)];
  const corners = polygon.map(([x, y]) => [x / (across * CELL_PX), y / (down * CELL_PX)] as const);
  const { data } = paintArea([{ kind: 'polygon', corners }], across, down);
  const cells: number[] = [];
  data.forEach((inside, i) => inside && cells.push(i));
  return cells;
}

function boxOf(cells: readonly number[], across: number): { x: number; y: number; width: number; height: number } {
  let [left, top, right, bottom] = [Infinity, Infinity, 0, 0];
  for (const i of cells) {
    const [x, y] = [i % across, Math.floor(i / across)];
    left = Math.min(left, x);
    right = Math.max(right, x + 1);
    top = Math.min(top, y);
    bottom = Math.max(bottom, y + 1);
  }
  return { x: left * CELL_PX, y: top * CELL_PX, width: (right - left) * CELL_PX, height: (bottom - top) * CELL_PX };
}
