// Step: repairs of a merge's findings worked out by themselves: each is rendered and inspected before it is proposed.
import type { DefectWord } from '@blendrak/contract';
import { sharedArea, type Region } from '@blendrak/core/image';
import { hides, type Detection, type SetFacts, type Yardsticks } from '@blendrak/core/inspect';
import { CELL_PX } from '@blendrak/core/kernels';
import {
  operationsReaching,
  placeOperation,
  proposeRepair,
  type Operation,
  type PlacedOperation,
} from '@blendrak/core/repair';
import type { InspectionScene } from '../jobs';
import type { StepContext } from './types';

/** A finding that may be repaired. */
export interface ToRepair {
  readonly id: string;
  readonly defect: DefectWord;
  readonly bbox: Region;
  readonly polygon: readonly (readonly [number, number])[];
  /** Indices of the frames to repair from, the best first. */
  readonly donors: readonly number[];
}

/** What became of a finding. */
export interface TriedRepair {
  readonly findingId: string;
  /** The best of the repairs that were tried; null where none helps. */
  readonly repair: (Operation & { readonly donor: number }) | null;
  /** Share of the finding that stays, 0..1; 0 where it is closed. */
  readonly rest: number;
  /** Defect that the repair would plant; only of one that is not proposed. */
  readonly plants: DefectWord | null;
}

/** What of an inspection places can be looked at again with. */
export interface LookAgain {
  readonly facts: SetFacts;
  readonly yardsticks: Yardsticks;
}

/** Looked at again is the finding's box, and so far beyond it: a repair may plant something at its rim. */
const AROUND_PX = 48;
/** Below this share of its cells a finding counts as gone; the rest is the rim of the mask. */
const GONE_SHARE = 0.15;
/** A repair that leaves more than this helps too little to be proposed. */
const HELPS_SHARE = 0.6;
/** A detection after the repair that shares less than this of its box with those before it is new. */
const SAME_PLACE = 0.3;
/** Another defect where the finding was counts as planted when it covers so much of it. */
const INSTEAD_SHARE = 0.3;
/** Frames that are tried for each finding: those behind the best ones seldom repair what these did not. */
const MOST_DONORS = 3;

/** Whether a tried repair closes its finding. */
export function closes({ repair, rest }: Pick<TriedRepair, 'repair' | 'rest'>): boolean {
  return repair !== null && rest <= GONE_SHARE;
}

/**
 * Tries repairs for each finding, the first finding first. Those that close theirs act while the next are tried.
 * @param scene the merge and its frames; operations that act already come first
 * @param onTried is told of each finding as soon as it is settled
 * Cost: two to seven inspections of the place per finding of a stack, up to thirteen of others.
 */
export async function repairMerge(
  scene: InspectionScene,
  findings: readonly ToRepair[],
  { facts, yardsticks }: LookAgain,
  size: { readonly width: number; readonly height: number },
  { run, signal, onProgress }: StepContext,
  onTried: (tried: TriedRepair) => void,
): Promise<void> {
  const [gridWidth, gridHeight] = [Math.floor(size.width / CELL_PX), Math.floor(size.height / CELL_PX)];
  const kept: PlacedOperation[] = [];
  let closed = 0;
  for (const [n, finding] of findings.entries()) {
    const region = grown(finding.bbox, size);
    const look = (operations: readonly PlacedOperation[]): Promise<readonly Detection[]> =>
      run(
        'recheck',
        {
          scene: { ...scene, operations: [...scene.operations, ...operationsReaching(operations, region, AROUND_PX)] },
          ...{ facts, yardsticks, region, gridWidth, gridHeight },
        },
        signal,
      );
    const before = await look(kept);
    const whole = Math.max(1, cellsLeft(before, finding, gridWidth));
    let best: TriedRepair = { findingId: finding.id, repair: null, rest: 1, plants: null };
    const isOfOneTone = facts.kind === 'focus-stack';
    const { defect } = finding;
    const tries = proposeRepair(finding.polygon, finding.donors.slice(0, MOST_DONORS), { defect, isOfOneTone });
    for (const { donor, shape, isMatched } of tries) {
      const acting = { ...scene, operations: [...scene.operations, ...operationsReaching(kept, region, AROUND_PX)] };
      const tone = isMatched ? await run('toneField', { scene: acting, donor, shape }, signal) : null;
      if (isMatched && !tone) continue;
      const repair = { donor, shape, ...(tone && { tone }) };
      const operation = placeOperation({ id: finding.id, ...repair });
      const after = await look([...kept, operation]);
      const rest = Math.min(1, cellsLeft(after, finding, gridWidth) / whole);
      const planted = plantedIn(after, before, finding, gridWidth, whole);
      if (planted) best = { ...best, plants: best.repair ? null : planted.defect };
      else if (rest < best.rest && rest <= HELPS_SHARE) best = { ...best, repair, rest, plants: null };
      if (!closes(best)) continue;
      kept.push(operation);
      closed += 1;
      break;
    }
    onTried(best);
    onProgress((n + 1) / findings.length, `repaired ${closed} of ${n + 1} findings`);
  }
}

/** A defect that a repair brought: somewhere around, or instead of the finding. */
function plantedIn(
  after: readonly Detection[],
  before: readonly Detection[],
  finding: ToRepair,
  gridWidth: number,
  whole: number,
): Detection | undefined {
  return after.find((d) => {
    if (!before.some((b) => overlap(b.bbox, d.bbox) >= SAME_PLACE)) return true;
    // What the finding hid is no fault of the repair: beside a near edge no frame may show the ground sharp and without spill.
    if (d.defect === finding.defect || hides(finding.defect, d.defect)) return false;
    const [now, then] = [after, before].map((found) => cellsOf(d.defect, found, finding.bbox, gridWidth));
    return now! - then! > INSTEAD_SHARE * whole;
  });
}

/** Cells of a finding's own defect that lie in its outline's box. */
function cellsLeft(found: readonly Detection[], { defect, bbox }: ToRepair, gridWidth: number): number {
  return cellsOf(defect, found, bbox, gridWidth);
}

function cellsOf(defect: DefectWord, found: readonly Detection[], box: Region, gridWidth: number): number {
  return found
    .filter((d) => d.defect === defect)
    .reduce((n, d) => n + d.cells.filter((i) => isIn(box, i % gridWidth, Math.floor(i / gridWidth))).length, 0);
}

function isIn({ x, y, width, height }: Region, column: number, row: number): boolean {
  const [px, py] = [(column + 0.5) * CELL_PX, (row + 0.5) * CELL_PX];
  return px >= x && py >= y && px < x + width && py < y + height;
}

function grown({ x, y, width, height }: Region, size: { readonly width: number; readonly height: number }): Region {
  const [left, top] = [Math.max(0, x - AROUND_PX), Math.max(0, y - AROUND_PX)];
  return {
    x: left,
    y: top,
    width: Math.min(size.width - (size.width % CELL_PX), x + width + AROUND_PX) - left,
    height: Math.min(size.height - (size.height % CELL_PX), y + height + AROUND_PX) - top,
  };
}

/** Shared area over the smaller of both. */
function overlap(a: Region, b: Region): number {
  return sharedArea(a, b) / Math.min(a.width * a.height, b.width * b.height);
}
