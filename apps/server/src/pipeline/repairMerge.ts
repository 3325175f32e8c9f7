// Step: what a merge has of repairable findings mended by itself: each repair is rendered and inspected before it is kept.
import type { DefectWord } from '@blendrak/contract';
import { sharedArea, type Region } from '@blendrak/core/image';
import type { Detection, SetFacts, Yardsticks } from '@blendrak/core/inspect';
import { CELL_PX } from '@blendrak/core/kernels';
import { operationsReaching, placeOperation, proposeRepair, type PlacedOperation } from '@blendrak/core/repair';
import type { InspectionScene } from '../jobs';
import type { StepContext } from './types';

/** A finding that may be repaired. */
export interface ToRepair {
  readonly id: string;
  readonly defect: DefectWord;
  readonly bbox: Region;
  readonly polygon: readonly (readonly [number, number])[];
  /** Index of the frame to repair from. */
  readonly donor: number;
}

export interface RepairedMerge {
  /** What was kept, in the order in which it acts. */
  readonly operations: readonly PlacedOperation[];
  /** Ids of the findings that are closed. */
  readonly closed: readonly string[];
  /** Findings that stay as they were, and why. */
  readonly left: readonly { readonly id: string; readonly why: string }[];
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
/** A detection after the repair that shares less than this of its box with those before it is new. */
const SAME_PLACE = 0.3;

/**
 * Tries a repair for each finding, the first one first.
 * @param scene the merge and its frames; operations that act already come first
 * @returns what was kept; a repair that leaves its finding, or plants another, is not
 * Cost: two or three inspections of the place per finding.
 */
export async function repairMerge(
  scene: InspectionScene,
  findings: readonly ToRepair[],
  { facts, yardsticks }: LookAgain,
  size: { readonly width: number; readonly height: number },
  { run, signal, onProgress }: StepContext,
): Promise<RepairedMerge> {
  const [gridWidth, gridHeight] = [Math.floor(size.width / CELL_PX), Math.floor(size.height / CELL_PX)];
  const kept: PlacedOperation[] = [];
  const closed: string[] = [];
  const left: { id: string; why: string }[] = [];
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
    const whole = sharesOf(before, finding, gridWidth);
    let why = '';
    for (const { donor, shape } of proposeRepair(finding.polygon, finding.donor)) {
      const operation = placeOperation({ id: `${finding.id}-${kept.length}`, donor, shape });
      const after = await look([...kept, operation]);
      const rest = sharesOf(after, finding, gridWidth);
      const planted = after.find((d) => !before.some((b) => overlap(b.bbox, d.bbox) >= SAME_PLACE));
      const isGone = rest <= GONE_SHARE * Math.max(1, whole);
      if (isGone && !planted) {
        kept.push(operation);
        closed.push(finding.id);
        why = '';
        break;
      }
      why = planted
        ? `the repair would plant a ${planted.defect}`
        : `${Math.round((100 * rest) / Math.max(1, whole))} % of it would stay`;
    }
    if (why !== '') left.push({ id: finding.id, why });
    onProgress((n + 1) / findings.length, `repaired ${closed.length} of ${n + 1} findings`);
  }
  return { operations: kept, closed, left };
}

/** Cells of a finding's own defect that lie in its outline's box. */
function sharesOf(found: readonly Detection[], { defect, bbox }: ToRepair, gridWidth: number): number {
  return found
    .filter((d) => d.defect === defect)
    .reduce((n, d) => n + d.cells.filter((i) => isIn(bbox, i % gridWidth, Math.floor(i / gridWidth))).length, 0);
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
