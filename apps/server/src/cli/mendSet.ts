// A merge mended by itself: repairs tried for findings, those that close them, and what became of each in words.
import { isMendable, type Report } from '@blendrak/contract';
import { isEvening, isInvented, partsOf, placeOperation, type PlacedOperation } from '@blendrak/core/repair';
import { InputError } from '../codecs';
import {
  closes,
  isGone,
  repairMerge,
  type ProcessedSet,
  type StepContext,
  type ToRepair,
  type TriedRepair,
} from '../pipeline';

type ReportFinding = Report['findings'][number];

/** More frames than these are counted. */
const MOST_NAMED = 3;

/** What came of mending. */
export interface MendedSet {
  /** Repairs that close their findings, in order. */
  readonly operations: readonly PlacedOperation[];
  /** Whether a finding is closed, or gone with the repair of another. */
  isSettled(finding: ReportFinding): boolean;
  /** A line for each finding: what became of it. */
  fateOf(finding: ReportFinding): string;
}

/**
 * Tries repairs for findings of an inspected set.
 * @param source named where a donor is no frame of the set
 * @throws InputError for such a donor
 */
export async function mendSet(
  processed: ProcessedSet,
  findings: readonly ReportFinding[],
  source: string,
  context: StepContext,
): Promise<MendedSet> {
  const { merge, frames, inspection } = processed;
  const tried = new Map<string, TriedRepair>();
  const wanted = findings.flatMap((f) => toRepair(f, processed, source));
  const scene = { merge, frames, operations: [] };
  await repairMerge(scene, wanted, inspection!, merge, context, (t) => tried.set(t.findingId, t));
  const kept = [...tried.values()].filter(closes);
  return {
    operations: kept.map(({ findingId, repair }) => placeOperation({ id: findingId, ...repair! })),
    isSettled({ id }) {
      const of = tried.get(id);
      return of !== undefined && (closes(of) || isGone(of));
    },
    fateOf: (finding) => fateOf(finding, tried.get(finding.id), processed),
  };
}

/** Prints what became of findings, one to a line. */
export function sayFates(findings: readonly ReportFinding[], { fateOf: fate }: MendedSet): void {
  for (const f of findings) process.stdout.write(`${f.id} ${f.defect}: ${fate(f)}\n`);
}

function fateOf({ repairable }: ReportFinding, tried: TriedRepair | undefined, { frames }: ProcessedSet): string {
  if (!tried) return `stays: ${repairable ? 'no frame was named for it' : 'no frame repairs it'}`;
  const { repair, rest, plants } = tried;
  if (isGone(tried)) return 'gone with the repair of another';
  if (!repair) return plants ? `stays: a repair would plant a ${plants}` : 'stays: no repair that was tried helps';
  const names = [...new Set(partsOf(repair).flatMap((p) => (p.donor === null ? [] : [frames[p.donor]!.name])))];
  const used = names.length > MOST_NAMED ? `${names.length} frames, merged` : names.join(', ');
  if (isEvening(repair) && closes(tried)) return 'repaired by evening its tone';
  const source = isInvented(repair) || isEvening(repair) ? 'around it' : used;
  return closes(tried) ? `repaired from ${source}` : `stays: ${Math.round(100 * rest)} % of it is left by ${source}`;
}

function toRepair(finding: ReportFinding, { frames }: ProcessedSet, path: string): ToRepair[] {
  const { id, defect, region, donor } = finding;
  if (!isMendable(finding)) return [];
  const donors = (finding.donors ?? (donor === null ? [] : [donor])).map((name) => {
    const index = frames.findIndex((f) => f.name === name);
    if (index >= 0) return index;
    throw new InputError(path, `${id} is to be repaired from ${name}`, frames.map((f) => f.name).join(', '));
  });
  const [x, y, width, height] = region.bbox;
  return [{ id, defect, bbox: { x, y, width, height }, polygon: region.polygon, donors }];
}
