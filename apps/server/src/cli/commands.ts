// `blendrak merge` and `blendrak inspect`: a folder in, a merge or a report out, no server needed.
import { writeFile } from 'node:fs/promises';
import { basename, extname, join } from 'node:path';
import { convertTiff, InputError, inspectPicture } from '../codecs';
import { openPool, type Pool } from '../jobs';
import {
  alignFrames,
  inspectMerge,
  makeReport,
  mergeStack,
  registerMerge,
  type StepContext,
} from '../services/pipeline';
import { listFrames, storeAll, withWorkspace } from './folder';
import { EXIT, progressPrinter } from './output';

export interface CommonOptions {
  readonly kind?: string;
  readonly jsonProgress?: boolean;
  readonly report?: string;
}

type Print = ReturnType<typeof progressPrinter>;

function step(pool: Pool, print: Print, name: string): StepContext {
  return {
    run: pool.run,
    parallel: pool.threads,
    onProgress: (share, message) => print(name, share, message),
  };
}

function checkKind(kind: string | undefined): void {
  if (kind === undefined || kind === 'focus-stack') return;
  const known = kind === 'panorama' || kind === 'bracket';
  throw new InputError('--kind', known ? `${kind} is not built yet` : `there is no kind "${kind}"`, 'focus-stack');
}

async function withPool<T>(work: (pool: Pool) => Promise<T>): Promise<T> {
  const pool = openPool();
  try {
    return await work(pool);
  } finally {
    await pool.close();
  }
}

/** Merges a folder of frames; exit code 0, or 1 when the report lists findings in the result. */
export async function mergeCommand(folder: string, options: CommonOptions & { out: string }): Promise<number> {
  checkKind(options.kind);
  checkOut(options.out);
  const print = progressPrinter(options.jsonProgress ?? false);
  const paths = await listFrames(folder, options.out);
  return withWorkspace((workspace) =>
    withPool(async (pool) => {
      const pictures = await storeAll(paths, workspace, step(pool, print, 'read'));
      const set = await alignFrames(pictures, 'auto', step(pool, print, 'align'));
      const { width, height } = pictures[set.reference]!;
      const tiles = join(workspace, 'merge.tiles');
      await mergeStack(set.frames, width, height, tiles, step(pool, print, 'merge'));
      const noise = await pool.run('noise', { tiles });
      const merge = { tiles, noise };
      const { icc } = await inspectPicture(paths[set.reference]!);
      await savePicture(pool, merge, icc, options.out, workspace);
      if (!options.report) return EXIT.clean;
      const inspection = await inspectMerge(merge, width, height, set.frames, step(pool, print, 'inspect'));
      const report = makeReport(inspection, set.frames, { file: basename(options.out), width, height });
      await writeFile(options.report, `${JSON.stringify(report, null, 1)}\n`);
      return report.findings.length > 0 ? EXIT.findings : EXIT.clean;
    }),
  );
}

/** Inspects a merge against its frames and writes the report. */
export async function inspectCommand(
  folder: string,
  options: CommonOptions & { merge: string; report: string },
): Promise<number> {
  checkKind(options.kind);
  const print = progressPrinter(options.jsonProgress ?? false);
  await inspectPicture(options.merge);
  const paths = await listFrames(folder, options.merge);
  return withWorkspace((workspace) =>
    withPool(async (pool) => {
      const stored = await storeAll([...paths, options.merge], workspace, step(pool, print, 'read'));
      const merge = stored[stored.length - 1]!;
      const set = await alignFrames(stored.slice(0, -1), 'auto', step(pool, print, 'align'));
      const frames = await registerMerge(merge, set, step(pool, print, 'place'));
      const inspection = await inspectMerge(merge, merge.width, merge.height, frames, step(pool, print, 'inspect'));
      const size = { file: basename(options.merge), width: merge.width, height: merge.height };
      const report = makeReport(inspection, frames, size);
      await writeFile(options.report, `${JSON.stringify(report, null, 1)}\n`);
      return report.findings.length > 0 ? EXIT.findings : EXIT.clean;
    }),
  );
}

const OUT_FORMATS = '.tif, .tiff, .png, .jpg or .jpeg';

function checkOut(out: string): void {
  if (!/\.(tiff?|png|jpe?g)$/i.test(out))
    throw new InputError(out, 'this ending names no format that can be written', OUT_FORMATS);
}

async function savePicture(
  pool: Pool,
  merge: { tiles: string; noise: readonly number[] },
  icc: Buffer | null,
  out: string,
  workspace: string,
): Promise<void> {
  const direct = /\.tiff?$/i.test(extname(out));
  const tiff = direct ? out : join(workspace, 'flat.tif');
  await pool.run('exportTiff', {
    scene: { merge, frames: [], strokes: [] },
    icc: icc ? new Uint8Array(icc) : null,
    out: tiff,
  });
  if (!direct) await convertTiff(tiff, out);
}
