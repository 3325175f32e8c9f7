// Findings that a repair touched are looked at again.
import { setTimeout } from 'node:timers/promises';
import type { Finding } from '@blendrak/contract';
import type { Region } from '@blendrak/core/image';
import { detectorOf, hides } from '@blendrak/core/inspect';
import { operationsReaching } from '@blendrak/core/repair';
import type { Services } from '../context';
import { FILLABLE } from './fillable';
import { lookAgainOf } from './lookAgain';

// Tiles of a stroke are rendered first: the recheck waits until nothing further has come for this long.
const QUIET_MS = 400;

// Below this share of its cells a finding counts as gone; the rest is the rim of the brush.
const GONE_SHARE = 0.15;

/** What is looked at around a finding reads so far beyond it, and more. */
const RECHECK_MARGIN_PX = 128;

export interface Recheck {
  /** Looks again, soon, at the findings that a region of a merge touches. */
  later(mergeId: string, region: Region): void;
  /** Resolves when all rechecks begun so far are done. */
  settled(): Promise<void>;
}

/** One recheck at a time per merge; what comes meanwhile is looked at together afterwards. */
export function makeRecheck(services: Services): Recheck {
  const running = new Map<string, Promise<void>>();
  let lastChange = 0;
  const waiting = new Map<string, Region[]>();
  const loop = async (mergeId: string): Promise<void> => {
    while (waiting.has(mergeId)) {
      for (let left = QUIET_MS; left > 0; left = lastChange + QUIET_MS - Date.now()) await setTimeout(left);
      const regions = waiting.get(mergeId)!;
      waiting.delete(mergeId);
      await recheckFindings(services, mergeId, regions);
    }
  };
  return {
    later(mergeId, region) {
      waiting.set(mergeId, [...(waiting.get(mergeId) ?? []), region]);
      lastChange = Date.now();
      if (running.has(mergeId)) return;
      const work = loop(mergeId)
        .catch((error: unknown) => services.log.error({ err: error, mergeId }, 'recheck failed'))
        .finally(() => running.delete(mergeId));
      running.set(mergeId, work);
    },
    settled: async () => {
      await Promise.all(running.values());
    },
  };
}

/**
 * Inspects the findings that operations touched again: closes what is gone, says why the rest stays. What no frame shows
 * sharp stays as it is, whatever is painted there.
 */
async function recheckFindings(services: Services, mergeId: string, regions: readonly Region[]): Promise<void> {
  const { storage, quick, events, merges } = services;
  const touched = storage.findings.listByMerge(mergeId).filter(
    (f) =>
      // What a person saw and no detector did, a person must see gone.
      !f.byHand &&
      (f.repairable || FILLABLE.has(f.defect)) &&
      (f.decision === 'open' || f.decision === 'repaired') &&
      regions.some((r) => meets(r, f.bbox)),
  );
  for (const finding of touched) {
    const { scene, body, row } = merges.painted(mergeId);
    // Only inspected merges have findings.
    const again = lookAgainOf(body);
    if (!again) continue;
    const gridWidth = Math.floor(body.width / 4);
    const operations = operationsReaching(scene.operations, finding.bbox, RECHECK_MARGIN_PX);
    const left = await quick.run('recheck', {
      scene: { ...scene, operations },
      ...again,
      region: finding.bbox,
    });
    const same = left
      .filter((d) => d.defect === finding.defect)
      .flatMap((d) => d.cells.filter((c) => liesIn(c, gridWidth, finding.polygon)));
    const others = left.filter(
      (d) =>
        d.defect !== finding.defect &&
        detectorOf(d.defect).donorBy !== null &&
        // What the finding hid was there before.
        !hides(finding.defect, d.defect) &&
        meets(d.bbox, finding.bbox),
    );
    const area = polygonArea(finding.polygon) / 16;
    const share = Math.min(1, same.length / Math.max(1, area));
    const gone = share < GONE_SHARE;
    storage.transaction(() => {
      // Looking takes a while: what somebody decided meanwhile, with a reason, stands.
      const revision = storage.merges.bumpFindings(mergeId);
      const now = storage.findings.find(finding.id);
      if (now?.decision === finding.decision) {
        if (gone && finding.decision === 'open' && scene.operations.length > 0)
          storage.findings.decide(finding.id, 'repaired', '', revision);
        if (!gone && finding.decision === 'repaired') storage.findings.decide(finding.id, 'open', '', revision);
      }
      storage.findings.noteRecheck(
        finding.id,
        words(
          finding,
          gone,
          share,
          others.map((d) => d.defect),
        ),
        revision,
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
