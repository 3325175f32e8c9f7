// `blendrak tree` and `blendrak summary`: many sets in one call, unattended, and what came of them.
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, renameSync, statSync, writeFileSync } from 'node:fs';
import { basename, dirname, join, relative, resolve } from 'node:path';
import { z } from 'zod';
import { reportSchema, type Report } from '@blendrak/contract';
import { InputError, isPictureName } from '../codecs';
import { inspectFiles, keptPool, type withPool } from './commands';
import { EXIT, exitFor, falseAlarmsOf } from './output';
import { parsedFile, readReport } from './reportFile';

export interface TreeOptions {
  readonly reports: string;
  readonly mergeName: string;
  readonly list?: boolean;
  readonly again?: boolean;
  readonly failOver?: string;
  readonly falseAlarms?: string;
  readonly jsonProgress?: boolean;
}

/** A set found in a tree. */
export interface FoundSet {
  readonly folder: string;
  /** Its merge, or why there is none to inspect. */
  readonly merge: { readonly path: string } | { readonly problem: string };
  /** Path of its report. */
  readonly report: string;
}

const SUMMARY = 'summary.json';
/** Folders deeper than this are not looked into: nobody files pictures so. */
const DEEPEST = 16;
/** Visibility from which a finding is plain at full size. */
const PLAIN = 50;

const entrySchema = z.strictObject({
  /** Names, sizes and dates of what was read, as a hash. */
  inputs: z.string(),
  report: z.string(),
  error: z.string().nullable(),
});
const summarySchema = z.strictObject({
  format: z.literal('blendrak-tree'),
  version: z.literal(1),
  sets: z.record(z.string(), entrySchema),
});
type Entry = z.infer<typeof entrySchema>;

/**
 * Inspects every set of a tree, one after the other; what was done before with the same files is not done again.
 * @returns 2 when a set could not be used, else 1 when there are findings, else 0
 */
export async function treeCommand(root: string, options: TreeOptions): Promise<number> {
  exitFor([], options.failOver);
  falseAlarmsOf(options.falseAlarms);
  const sets = findSets(root, options.reports, options.mergeName);
  if (sets.length === 0)
    throw new InputError(root, 'there is no set in it', 'a tree of folders, each with two frames or more');
  if (options.list) {
    for (const { folder, merge, report } of sets)
      if ('path' in merge) process.stdout.write(`${[folder, merge.path, report].join('\t')}\n`);
    return EXIT.clean;
  }
  mkdirSync(options.reports, { recursive: true });
  const known = options.again ? {} : readSummary(options.reports);
  let code: number = EXIT.clean;
  const entries: Record<string, Entry> = {};
  // Starting workers takes as long as a small set.
  const workers = keptPool();
  try {
    for (const set of sets) {
      const name = relative(root, set.folder) || '.';
      const before = known[name];
      entries[name] = await takeSet(set, before, options, workers.withPool);
      writeSummary(options.reports, entries, known);
      code = Math.max(code, sayEntry(name, entries[name], before === entries[name], options.failOver));
    }
  } finally {
    await workers.close();
  }
  return code;
}

/** Inspects a set, or takes what is known of it; a set that cannot be used is no reason to stop. */
async function takeSet(
  set: FoundSet,
  before: Entry | undefined,
  options: TreeOptions,
  workers: typeof withPool,
): Promise<Entry> {
  if ('problem' in set.merge) return { inputs: '', report: set.report, error: set.merge.problem };
  const inputs = fingerprint(set.folder, set.merge.path);
  if (before && before.inputs === inputs && before.error === null && existsSync(set.report)) return before;
  mkdirSync(dirname(set.report), { recursive: true });
  try {
    const asked = {
      merge: set.merge.path,
      report: set.report,
      jsonProgress: options.jsonProgress ?? false,
      ...(options.falseAlarms !== undefined && { falseAlarms: options.falseAlarms }),
    };
    await inspectFiles(set.folder, asked, workers);
    return { inputs, report: set.report, error: null };
  } catch (error) {
    if (!(error instanceof InputError)) throw error;
    return { inputs, report: set.report, error: error.message };
  }
}

function sayEntry(name: string, { report, error }: Entry, isKnown: boolean, failOver: string | undefined): number {
  if (error !== null) {
    process.stdout.write(`${name}: cannot be inspected: ${error}\n`);
    return EXIT.unusable;
  }
  const read = readReport(report);
  process.stdout.write(`${name}: ${reportWords(read)}${isKnown ? ' (known)' : ''}\n`);
  return exitFor(
    read.findings.map((f) => f.severity),
    failOver,
  );
}

/**
 * Prints what the reports of a folder say, one line for each, and all together.
 * @returns 1 when there are findings, else 0
 */
export function summaryCommand(folder: string, { failOver }: { readonly failOver?: string }): number {
  exitFor([], failOver);
  const paths = filesBelow(folder).filter((path) => path.endsWith('.json') && basename(path) !== SUMMARY);
  const reports = paths.flatMap((path) => {
    const read = reportSchema.safeParse(parsedFile(path));
    return read.success ? [{ path, report: read.data }] : [];
  });
  if (reports.length === 0)
    throw new InputError(folder, 'there are no reports in it', 'a folder with files that inspect or tree wrote');
  for (const { path, report } of reports)
    process.stdout.write(`${relative(folder, path).replace(/\.json$/, '')}: ${reportWords(report)}\n`);
  const findings = reports.flatMap(({ report }) => report.findings);
  process.stdout.write(`${reports.length} merges: ${countWords(findings)}\n`);
  return exitFor(
    findings.map((f) => f.severity),
    failOver,
  );
}

/** Folders with two pictures or more, each with its merge: a picture of that name beside the frames or in a folder "merge" of its own. */
export function findSets(root: string, reports: string, mergeName: string): FoundSet[] {
  const isMerge = namePattern(mergeName);
  const found: FoundSet[] = [];
  const look = (folder: string, depth: number): void => {
    const entries = readdirSync(folder, { withFileTypes: true }).sort((a, b) =>
      a.name.localeCompare(b.name, 'en', { numeric: true }),
    );
    const pictures = entries.filter((e) => e.isFile() && isPictureName(e.name)).map((e) => e.name);
    const own = pictures.filter(isMerge);
    const aside = entries.some((e) => e.isDirectory() && e.name === 'merge') ? pictureNames(join(folder, 'merge')) : [];
    if (pictures.length - own.length >= 2) {
      const named = aside.filter(isMerge);
      const candidates = [
        ...own.map((name) => join(folder, name)),
        ...(named.length > 0 ? named : aside).map((name) => join(folder, 'merge', name)),
      ];
      const name = relative(root, folder) || 'set';
      found.push({ folder, merge: chosen(candidates, mergeName), report: join(reports, `${name}.json`) });
    }
    for (const e of entries) {
      // Links are not followed: they may lead round in a circle.
      if (!e.isDirectory() || e.name.startsWith('.') || (e.name === 'merge' && pictures.length > 0)) continue;
      if (depth < DEEPEST && resolve(folder, e.name) !== resolve(reports)) look(join(folder, e.name), depth + 1);
    }
  };
  if (!existsSync(root) || !statSync(root).isDirectory())
    throw new InputError(root, 'the folder cannot be read', 'a folder with sets in it');
  look(root, 0);
  return found;
}

function chosen(candidates: readonly string[], mergeName: string): FoundSet['merge'] {
  const [only] = candidates;
  if (only !== undefined && candidates.length === 1) return { path: only };
  if (only === undefined)
    return { problem: `no merge is there (accepted: one picture named ${mergeName}, or one in a folder "merge")` };
  return {
    problem: `several merges are there (${candidates.map((c) => basename(c)).join(', ')}; accepted: one, by --merge-name)`,
  };
}

function pictureNames(folder: string): string[] {
  return readdirSync(folder).filter(isPictureName);
}

/** A name with asterisks for anything, in any case. */
function namePattern(pattern: string): (name: string) => boolean {
  const parts = pattern.split('*').map((part) => part.replace(/[.*+?^${}()|[\]\\]/g, '\\$&'));
  const test = new RegExp(`^${parts.join('.*')}$`, 'i');
  return (name) => test.test(name);
}

function fingerprint(folder: string, merge: string): string {
  const hash = createHash('sha256');
  for (const path of [
    ...readdirSync(folder)
      .filter(isPictureName)
      .sort()
      .map((name) => join(folder, name)),
    merge,
  ]) {
    const { size, mtimeMs } = statSync(path);
    hash.update(`${path}\0${size}\0${mtimeMs}\n`);
  }
  return hash.digest('hex');
}

function reportWords({ kind, findings }: Report): string {
  return `${kind.replace('-', ' ')}, ${countWords(findings)}`;
}

function countWords(findings: Report['findings']): string {
  if (findings.length === 0) return 'nothing found';
  const plain = findings.filter((f) => f.severity >= PLAIN).length;
  const worst = Math.max(...findings.map((f) => f.severity));
  const kinds = [...new Set(findings.map((f) => f.defect))].map(
    (defect) => `${defect} ${findings.filter((f) => f.defect === defect).length}`,
  );
  return `${findings.length} found, ${plain} plain, up to ${Math.round(worst)} (${kinds.join(', ')})`;
}

function readSummary(folder: string): Record<string, Entry> {
  const path = join(folder, SUMMARY);
  if (!existsSync(path)) return {};
  const read = summarySchema.safeParse(parsedFile(path));
  if (!read.success)
    throw new InputError(path, 'it is no summary of a tree', 'a folder that tree wrote to, or a new one');
  return read.data.sets;
}

/** Written anew after each set, so that a run that was ended goes on where it was. */
function writeSummary(folder: string, now: Record<string, Entry>, before: Record<string, Entry>): void {
  const path = join(folder, SUMMARY);
  const summary: z.infer<typeof summarySchema> = { format: 'blendrak-tree', version: 1, sets: { ...before, ...now } };
  writeFileSync(`${path}.part`, `${JSON.stringify(summary, null, 1)}\n`);
  renameSync(`${path}.part`, path);
}

function filesBelow(folder: string): string[] {
  if (!existsSync(folder)) throw new InputError(folder, 'the folder cannot be read', 'a folder with reports');
  return readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter((e) => e.isFile())
    .map((e) => join(e.parentPath, e.name))
    .sort();
}
