// `blendrak sort`: a folder of mixed files in, sets out.
import { openPool } from '../jobs';
import { sortPictures } from '../services/sort';
import { listFrames } from './folder';
import { EXIT, progressPrinter } from './output';
import { prepareTarget, withTargets, writeJson } from './target';
import { withWorkspace } from './workspace';

export interface SortOptions {
  readonly report: string;
  readonly jsonProgress?: boolean;
}

/** Sorts a folder; exit code 1 when a set has frames that do not fit or a file cannot be read. */
export async function sortCommand(folder: string, options: SortOptions): Promise<number> {
  const print = progressPrinter(options.jsonProgress ?? false);
  const paths = await listFrames(folder);
  const target = prepareTarget('--report', options.report, paths);
  const pool = openPool();
  try {
    const { report, unreadable } = await withTargets([target], async () => {
      const sorted = await withWorkspace((workspace) =>
        sortPictures(paths, workspace, {
          run: pool.run,
          parallel: pool.threads,
          onProgress: (share, message) => print('sort', share, message),
        }),
      );
      writeJson(target, sorted.report);
      return sorted;
    });
    for (const { problem } of unreadable) process.stderr.write(`blendrak: ${problem}\n`);
    for (const set of report.sets) {
      process.stdout.write(
        `${set.id}  ${set.kind}, ${set.frames.length} frames (${set.frames[0]} to ${set.frames.at(-1)}): ${set.why}\n`,
      );
      for (const c of set.checks)
        process.stdout.write(`       ${c.file}: ${c.check} ${c.value} ${c.unit}, usual ${c.limit}: ${c.meaning}\n`);
    }
    const spoilt = report.sets.some((s) => s.checks.some((c) => c.spoils));
    return spoilt || unreadable.length > 0 ? EXIT.findings : EXIT.clean;
  } finally {
    await pool.close();
  }
}
