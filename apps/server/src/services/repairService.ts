// Strokes, and what the picture looks like after them.
import { setTimeout } from 'node:timers/promises';
import type { Finding, StrokeRecord } from '@blendrak/contract';
import type { Region } from '@blendrak/core/image';
import { strokeRegion } from '@blendrak/core/repair';
import { type Services } from './context';
import { RequestError } from '../shared/requestError';
import { openMerge } from './mergeService';

// Tiles of a stroke are rendered first: the recheck waits until no further stroke has come for this long.
const QUIET_MS = 400;
// Below this share of its cells a finding counts as gone; the rest is the rim of the brush.
const GONE_SHARE = 0.15;

export interface RepairService {
  addStroke(mergeId: string, id: string, stroke: StrokeRecord): void;
  undo(mergeId: string): boolean;
  redo(mergeId: string): boolean;
  /** Resolves when all rechecks begun so far are done. */
  settled(): Promise<void>;
}

export function makeRepairService(services: Services): RepairService {
  const { storage, events, log } = services;
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

  const changed = (mergeId: string, stroke: StrokeRecord): void => {
    events.publish({ jobId: storage.merges.find(mergeId)!.job_id });
    recheckLater(mergeId, strokeRegion(stroke));
  };

  return {
    addStroke(mergeId, id, stroke) {
      const { body } = openMerge(services, mergeId);
      if (stroke.frame >= body.frames.length) {
        throw new RequestError(
          400,
          `stroke.frame: this merge has frames 0 to ${body.frames.length - 1}, received ${stroke.frame}.`,
        );
      }
      if (storage.strokes.exists(id)) return;
      storage.transaction(() => {
        storage.strokes.append(mergeId, id, stroke);
        storage.merges.bumpRevision(mergeId);
      });
      changed(mergeId, stroke);
    },
    undo: (mergeId) => step('undo', mergeId),
    redo: (mergeId) => step('redo', mergeId),
    settled: async () => {
      await Promise.all(running.values());
    },
  };

  function step(which: 'undo' | 'redo', mergeId: string): boolean {
    openMerge(services, mergeId);
    const stroke = storage.transaction(() => {
      const moved = storage.strokes[which](mergeId);
      if (moved) storage.merges.bumpRevision(mergeId);
      return moved;
    });
    if (stroke) changed(mergeId, stroke);
    return stroke !== undefined;
  }
}

/**
 * Inspects the findings that strokes touched again: closes what is gone, says why the rest stays. What no frame shows
 * sharp stays as it is, whatever is painted there.
 */
async function recheckFindings(services: Services, mergeId: string, regions: readonly Region[]): Promise<void> {
  const { storage, quick, events } = services;
  const touched = storage.findings
    .listByMerge(mergeId)
    .filter(
      (f) =>
        f.repairable && (f.decision === 'open' || f.decision === 'repaired') && regions.some((r) => meets(r, f.bbox)),
    );
  for (const finding of touched) {
    const { scene, body, row } = openMerge(services, mergeId);
    // Only inspected merges have findings, and those have both.
    if (!body.axis || !body.calibration) continue;
    const gridWidth = Math.floor(body.width / 4);
    const left = await quick.run('recheck', {
      scene,
      axis: body.axis,
      calibration: { ...body.calibration, curvature: body.calibration.curvature ?? NaN },
      region: finding.bbox,
      gridWidth,
      gridHeight: Math.floor(body.height / 4),
    });
    const same = left
      .filter((d) => d.defect === finding.defect)
      .flatMap((d) => d.cells.filter((c) => liesIn(c, gridWidth, finding.polygon)));
    const others = left.filter(
      (d) => d.defect !== finding.defect && d.defect !== 'focus-gap' && meets(d.bbox, finding.bbox),
    );
    const area = polygonArea(finding.polygon) / 16;
    const share = Math.min(1, same.length / Math.max(1, area));
    const gone = share < GONE_SHARE;
    storage.transaction(() => {
      if (gone && finding.decision === 'open' && scene.strokes.length > 0)
        storage.findings.decide(finding.id, 'repaired', '');
      if (!gone && finding.decision === 'repaired') storage.findings.decide(finding.id, 'open', '');
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
    events.publish({ jobId: row.job_id });
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
