// `blendrak repair`: a report in, the merge out with what could be mended by itself.
import { basename, join } from 'node:path';
import { isMendable, type Report } from '@blendrak/contract';
import { InputError, inspectPicture } from '../codecs';
import { isEvening, isInvented, partsOf, placeOperation } from '@blendrak/core/repair';
import {
  closes,
  isGone,
  MERGE_DEFAULTS,
  processSet,
  repairMerge,
  type ContextOf,
  type ProcessedSet,
  type ToRepair,
  type TriedRepair,
} from '../pipeline';
import { checkOut, savePicture, step, withPool } from './commands';
import { listFrames, storeAll } from './folder';
import { EXIT, progressPrinter } from './output';
import { readReport } from './reportFile';
import { prepareTarget, withTargets } from './target';
import { withWorkspace } from './workspace';

export interface RepairOptions {
  readonly merge: string;
  readonly report: string;
  readonly out: string;
  readonly over: string;
  readonly jsonProgress?: boolean;
  /** Whether it is not said what became of each finding. */
  readonly isQuiet?: boolean;
}

/**
 * Repairs what a report found, says what was closed and what stays, and writes the merge.
 * @returns 0 when nothing so visible is left, 1 when something is
 */
export async function repairCommand(folder: string, options: RepairOptions): Promise<number> {
  const least = overOf(options.over);
  checkOut(options.out);
  const print = progressPrinter(options.jsonProgress ?? false);
  const { icc } = await inspectPicture(options.merge);
  const report = readReport(options.report);
  const paths = await listFrames(folder, options.merge);
  const out = prepareTarget('--out', options.out, [...paths, options.merge, options.report]);
  return withTargets([out], () =>
    withWorkspace((workspace) =>
      withPool(async (pool) => {
        const stored = await storeAll([...paths, options.merge], workspace, step(pool, print, 'read'));
        const elsewhere = stored.at(-1)!;
        checkReport(options.report, report, elsewhere);
        const { kind } = report;
        const context: ContextOf = (_from, _to, name) => step(pool, print, name);
        const tiles = join(workspace, 'merge.tiles');
        const order = { kind, pictures: stored.slice(0, -1), elsewhere, options: MERGE_DEFAULTS, known: null, tiles };
        const processed = await processSet({ ...order, inspect: true }, context);
        const { merge, frames, inspection } = processed;
        const wanted = report.findings.filter((f) => f.severity >= least);
        const scene = { merge, frames, operations: [] };
        const tried = new Map<string, TriedRepair>();
        await repairMerge(
          scene,
          wanted.flatMap((f) => toRepair(f, processed, options.report)),
          inspection!,
          merge,
          step(pool, print, 'repair'),
          (t) => tried.set(t.findingId, t),
        );
        const kept = [...tried.values()].filter(closes);
        const operations = kept.map(({ findingId, repair }) => placeOperation({ id: findingId, ...repair! }));
        await savePicture(step(pool, print, 'save'), { ...scene, operations }, merge, icc, out, workspace);
        if (!options.isQuiet)
          for (const f of wanted)
            process.stdout.write(`${f.id} ${f.defect}: ${fateOf(f, tried.get(f.id), processed)}\n`);
        return wanted.every((f) => isSettled(tried.get(f.id))) ? EXIT.clean : EXIT.findings;
      }),
    ),
  );
}

function isSettled(tried: TriedRepair | undefined): boolean {
  return tried !== undefined && (closes(tried) || isGone(tried));
}

function fateOf(
  { repairable }: Report['findings'][number],
  tried: TriedRepair | undefined,
  { frames }: ProcessedSet,
): string {
  if (!tried) return `stays: ${repairable ? 'no frame was named for it' : 'no frame repairs it'}`;
  const { repair, rest, plants } = tried;
  if (isGone(tried)) return 'gone with the repair of another';
  if (!repair) return plants ? `stays: a repair would plant a ${plants}` : 'stays: no repair that was tried helps';
  const used = [...new Set(partsOf(repair).flatMap((p) => (p.donor === null ? [] : [frames[p.donor]!.name])))].join(
    ', ',
  );
  if (isEvening(repair) && closes(tried)) return 'repaired by evening its tone';
  const source = isInvented(repair) || isEvening(repair) ? 'around it' : used;
  return closes(tried) ? `repaired from ${source}` : `stays: ${Math.round(100 * rest)} % of it is left by ${source}`;
}

function toRepair(finding: Report['findings'][number], { frames }: ProcessedSet, path: string): ToRepair[] {
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

function checkReport(
  path: string,
  { merge }: Report,
  { name, width, height }: { readonly name: string; readonly width: number; readonly height: number },
): void {
  if (merge.width !== width || merge.height !== height) {
    throw new InputError(
      basename(path),
      `it is of a picture of ${merge.width} × ${merge.height} px`,
      `a report of ${name}, ${width} × ${height} px`,
    );
  }
}

function overOf(over: string): number {
  const least = Number(over);
  if (over.trim() === '' || !(least >= 0 && least <= 100))
    throw new InputError('--over', `"${over}" cannot be used`, 'a visibility from 0 to 100');
  return least;
}
