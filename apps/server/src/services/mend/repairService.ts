// Strokes, and what the picture looks like after them.
import { setTimeout } from 'node:timers/promises';
import type { Finding, StrokeRecord } from '@blendrak/contract';
import type { Region } from '@blendrak/core/image';
import { detectorOf } from '@blendrak/core/inspect';
import { strokeRegion } from '@blendrak/core/repair';
import { newId, type Services } from '../context';
import { strokesReaching } from '../look/merges';
import { RequestError } from '../../shared/requestError';

// Tiles of a stroke are rendered first: the recheck waits until no further stroke has come for this long.
const QUIET_MS = 400;
// Below this share of its cells a finding counts as gone; the rest is the rim of the brush.
const GONE_SHARE = 0.15;
/** What is looked at around a finding reads so far beyond it, and more. */
const RECHECK_MARGIN_PX = 128;

export interface RepairService {
  /**
   * Records a stroke; the same one sent again changes nothing.
   * @param by name of the page that painted it
   * @throws RequestError when its id stands for another stroke already
   */
  addStroke(mergeId: string, id: string, stroke: StrokeRecord, by?: string): void;
  /** Takes back the last stroke in force, whoever painted it. */
  undo(mergeId: string, by?: string): boolean;
  /** Brings back the stroke that was taken back last, also when others were painted meanwhile. */
  redo(mergeId: string, by?: string): boolean;
  /** Resolves when all rechecks begun so far are done. */
  settled(): Promise<void>;
}

export function makeRepairService(services: Services): RepairService {
  const { storage, events, merges, log } = services;
  const running = new Map<string, Promise<void>>();

  // One recheck at a time per merge; strokes that come meanwhile are looked at together afterwards.
  let lastStroke = 0;
  const waiting = new Map<string, Region[]>();
  const recheckLater = (mergeId: string, region: Region): void => {
    waiting.set(mergeId, [...(waiting.get(mergeId) ?? []), region]);
    lastStroke = Date.now();
    if (running.has(mergeId)) return;
    const loop = async (): Promise<void> => {
      while (waiting.has(mergeId)) {
        for (let left = QUIET_MS; left > 0; left = lastStroke + QUIET_MS - Date.now()) await setTimeout(left);
        const regions = waiting.get(mergeId)!;
        waiting.delete(mergeId);
        await recheckFindings(services, mergeId, regions);
      }
    };
    const work = loop()
      .catch((error: unknown) => log.error({ err: error, mergeId }, 'recheck failed'))
      .finally(() => running.delete(mergeId));
    running.set(mergeId, work);
  };

  const changed = (mergeId: string, stroke: StrokeRecord, what: string, by: string | undefined): void => {
    const id = merges.open(mergeId).row.job_id;
    events.publish({ topic: 'strokes', id, mergeId, what, ...(by && { by }) });
    recheckLater(mergeId, strokeRegion(stroke));
  };

  const step = (which: 'undo' | 'redo', mergeId: string, by: string | undefined): boolean => {
    const { body } = merges.open(mergeId);
    const stroke = storage.transaction(() => {
      const revision = storage.merges.revisionOf(mergeId)! + 1;
      const moved =
        which === 'undo' ? storage.strokes.undo(mergeId, revision) : storage.strokes.redo(mergeId, newId(), revision);
      if (moved) storage.merges.bumpRevision(mergeId);
      return moved;
    });
    if (!stroke) return false;
    const name = body.frames[stroke.frame]!.fileName;
    const what = which === 'undo' ? `A stroke with ${name} was taken back` : `A stroke with ${name} was brought back`;
    changed(mergeId, stroke, what, by);
    return true;
  };

  return {
    addStroke(mergeId, id, stroke, by) {
      const { body } = merges.open(mergeId);
      const frame = body.frames[stroke.frame];
      if (!frame) {
        throw new RequestError(
          400,
          `stroke.frame: this merge has frames 0 to ${body.frames.length - 1}, received ${stroke.frame}.`,
        );
      }
      const known = storage.strokes.find(id);
      if (known) {
        if (known.merge_id === mergeId && known.body === JSON.stringify(stroke)) return;
        throw new RequestError(
          409,
          `id: ${id} names another stroke already. Accepted: an id of its own for each stroke.`,
        );
      }
      storage.transaction(() => {
        storage.strokes.append(mergeId, id, stroke, storage.merges.bumpRevision(mergeId));
      });
      changed(mergeId, stroke, `A stroke with ${frame.fileName} was painted`, by);
    },
    undo: (mergeId, by) => step('undo', mergeId, by),
    redo: (mergeId, by) => step('redo', mergeId, by),
    settled: async () => {
      await Promise.all(running.values());
    },
  };
}

/**
 * Inspects the findings that strokes touched again: closes what is gone, says why the rest stays. What no frame shows
 * sharp stays as it is, whatever is painted there.
 */
async function recheckFindings(services: Services, mergeId: string, regions: readonly Region[]): Promise<void> {
  const { storage, quick, events, merges } = services;
  const touched = storage.findings
    .listByMerge(mergeId)
    .filter(
      (f) =>
        f.repairable && (f.decision === 'open' || f.decision === 'repaired') && regions.some((r) => meets(r, f.bbox)),
    );
  for (const finding of touched) {
    const { scene, body, row } = merges.painted(mergeId);
    // Only inspected merges have findings.
    if (!body.inspection) continue;
    const { yardsticks, surveys } = body.inspection;
    const { facts } = body;
    const axis = facts.kind === 'focus-stack' ? facts.focus : null;
    const gridWidth = Math.floor(body.width / 4);
    const strokes = strokesReaching(scene.strokes, finding.bbox, RECHECK_MARGIN_PX);
    const left = await quick.run('recheck', {
      scene: { ...scene, strokes },
      facts: { kind: facts.kind, axis, surveys },
      yardsticks,
      region: finding.bbox,
      gridWidth,
      gridHeight: Math.floor(body.height / 4),
    });
    const same = left
      .filter((d) => d.defect === finding.defect)
      .flatMap((d) => d.cells.filter((c) => liesIn(c, gridWidth, finding.polygon)));
    const others = left.filter(
      (d) => d.defect !== finding.defect && detectorOf(d.defect).donorBy !== null && meets(d.bbox, finding.bbox),
    );
    const area = polygonArea(finding.polygon) / 16;
    const share = Math.min(1, same.length / Math.max(1, area));
    const gone = share < GONE_SHARE;
    storage.transaction(() => {
      // Looking takes a while: what somebody decided meanwhile, with a reason, stands.
      const now = storage.findings.find(finding.id);
      if (now?.decision === finding.decision) {
        if (gone && finding.decision === 'open' && scene.strokes.length > 0)
          storage.findings.decide(finding.id, 'repaired', '');
        if (!gone && finding.decision === 'repaired') storage.findings.decide(finding.id, 'open', '');
      }
      storage.findings.noteRecheck(
        finding.id,
        words(
          finding,
          gone,
          share,
          others.map((d) => d.defect),
        ),
      );
    });
    events.publish({ topic: 'findings', id: row.job_id, mergeId });
  }
}

function words(finding: Finding, gone: boolean, share: number, others: readonly string[]): string {
  const extra = others.length > 0 ? ` Look at it again: there is now a ${others[0]} here.` : '';
  if (gone) return `Looked at again: no ${finding.defect} left here.${extra}`;
  return `Looked at again: ${Math.round(100 * share)} % of the ${finding.defect} is still there. Paint over the rest, or pick a better donor.${extra}`;
}

function meets(a: Region, b: Region): boolean {
  return a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height;
}

/** Whether a cell's middle lies in a polygon: an odd number of its sides cross the line from there to the left. */
function liesIn(cell: number, gridWidth: number, polygon: Finding['polygon']): boolean {
  const x = (cell % gridWidth) * 4 + 2;
  const y = Math.floor(cell / gridWidth) * 4 + 2;
  return (
    polygon.filter(([ax, ay], i) => {
      const [bx, by] = polygon[(i + 1) % polygon.length]!;
      return ay > y !== by > y && ax + ((y - ay) / (by - ay)) * (bx - ax) < x;
    }).length %
      2 ===
    1
  );
}

function polygonArea(polygon: readonly (readonly [number, number])[]): number {
  return Math.abs(
    polygon.reduce((s, [x, y], i) => {
      const [nx, ny] = polygon[(i + 1) % polygon.length]!;
      return s + x * ny - nx * y;
    }, 0) / 2,
  );
}
