// `blendrak repair`: a report in, the merge out with what could be mended by itself.
import { basename, join } from 'node:path';
import type { Report } from '@blendrak/contract';
import { InputError, inspectPicture } from '../codecs';
import { MERGE_DEFAULTS, processSet, type ContextOf } from '../pipeline';
import { checkOut, savePicture, step, withPool } from './commands';
import { listFrames, storeAll } from './folder';
import { mendSet, sayFates } from './mendSet';
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
        const { merge, frames } = processed;
        const wanted = report.findings.filter((f) => f.severity >= least);
        const mended = await mendSet(processed, wanted, options.report, step(pool, print, 'repair'));
        const { operations } = mended;
        await savePicture(step(pool, print, 'save'), { merge, frames, operations }, merge, icc, out, workspace);
        if (!options.isQuiet) sayFates(wanted, mended);
        return wanted.every(mended.isSettled) ? EXIT.clean : EXIT.findings;
      }),
    ),
  );
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
