// `blendrak merge` and `blendrak inspect`: a folder in, a merge or a report out, no server needed.
import { writeFileSync } from 'node:fs';
import { basename, join, resolve } from 'node:path';
import type { MergeKind, Report } from '@blendrak/contract';
import { surest } from '@blendrak/core/inspect';
import { InputError, inspectPicture } from '../codecs';
import { openPool, type InspectionScene, type Pool } from '../jobs';
import {
  annotationsOf,
  findKind,
  MERGE_DEFAULTS,
  processSet,
  renderFlat,
  reportOf,
  sharpPartOf,
  type ContextOf,
  type ProcessedSet,
  type SetPicture,
  type StepContext,
} from '../pipeline';
import { mendSet, sayFates } from './mendSet';
import { frameNamed, mergeOptions, type MergeWords } from './mergeOptions';
import { listFrames, storeAll } from './folder';
import { EXIT, exitFor, falseAlarmsOf, firstPrinter, progressPrinter } from './output';
import { prepareTarget, withTargets, writeJson, type Target } from './target';
import { withWorkspace } from './workspace';

export interface CommonOptions {
  readonly kind?: string;
  readonly jsonProgress?: boolean;
  readonly report?: string;
}

type Print = ReturnType<typeof progressPrinter>;

/** A part of the work as a context. */
export function step(pool: Pool, print: Print, name: string): StepContext {
  return {
    run: pool.run,
    parallel: pool.threads,
    onProgress: (share, message) => print(name, share, message),
  };
}

const KINDS: readonly MergeKind[] = ['focus-stack', 'panorama', 'bracket'];

/** The kind that an option names; null when it is left away. */
export function kindOf(kind: string | undefined): MergeKind | null {
  if (kind === undefined) return null;
  const known = KINDS.find((k) => k === kind);
  if (!known) throw new InputError('--kind', `there is no kind "${kind}"`, KINDS.join(', '));
  return known;
}

/** Runs work with workers, which end with it. */
export async function withPool<T>(work: (pool: Pool) => Promise<T>): Promise<T> {
  const pool = openPool();
  try {
    return await work(pool);
  } finally {
    await pool.close();
  }
}

/** Workers for one piece of work after the other: those of the first stay warm for the next. They end with `close`. */
export function keptPool(): { readonly withPool: typeof withPool; close(): Promise<void> } {
  let pool: Pool | null = null;
  return {
    withPool: (work) => work((pool ??= openPool())),
    close: async () => pool?.close(),
  };
}

export interface MergeCommandOptions extends CommonOptions, MergeWords {
  readonly out: string;
  /** Whether what can be repaired of the merge is repaired before it is written. */
  readonly mend?: boolean;
}

/** Merges a folder of frames; exit code 0, or 1 when findings are left in the result that were looked for. */
export async function mergeCommand(folder: string, options: MergeCommandOptions): Promise<number> {
  const given = kindOf(options.kind);
  checkOut(options.out);
  const print = progressPrinter(options.jsonProgress ?? false);
  const paths = await listFrames(folder);
  const names = paths.map((path) => basename(path));
  const wanted = mergeOptions(options, names);
  const sharpest = options.sharpPart === undefined ? null : frameNamed('--sharp-part', options.sharpPart, names);
  const [out, reportTo] = targetsOf(options, paths);
  return withTargets([out, reportTo], () =>
    withWorkspace((workspace) =>
      withPool(async (pool) => {
        const kind = given ?? (await kindOfFiles(paths, workspace, step(pool, print, 'look')));
        const pictures = await storeAll(paths, workspace, step(pool, print, 'read'));
        const tiles = join(workspace, 'merge.tiles');
        const subject = sharpest === null ? null : await sharpPartOf(pictures, sharpest, pool);
        const asked = { ...wanted, alignment: { ...wanted.alignment, subject } };
        const order = {
          kind,
          pictures,
          elsewhere: null,
          options: asked,
          known: null,
          tiles,
          inspect: reportTo !== null || options.mend === true,
        };
        const processed = await processSet(order, partsOf(pool, print));
        sayRemarks(processed);
        const { merge, frames, own } = processed;
        const profileFile = paths[pictures.findIndex((p) => p.name === frames[own!.profileOf]!.name)]!;
        const { icc } = await inspectPicture(profileFile);
        const report = reportOf(processed, basename(options.out));
        const mended = options.mend
          ? await mendSet(processed, report.findings, options.out, step(pool, print, 'repair'))
          : null;
        const scene = { merge, frames, operations: mended?.operations ?? [] };
        await savePicture(step(pool, print, 'save'), scene, merge, icc, out, workspace);
        if (mended) sayFates(report.findings, mended);
        const findings = report.findings.filter((f) => !mended?.isSettled(f));
        if (reportTo) writeJson(reportTo, { ...report, findings });
        return (reportTo || mended) && findings.length > 0 ? EXIT.findings : EXIT.clean;
      }),
    ),
  );
}

/** Each part of a processing tells its progress under its own name. */
function partsOf(pool: Pool, print: Print): ContextOf {
  return (_from, _to, name) => step(pool, print, name);
}

/** Names the frames that could not take part, and what is odd. */
function sayRemarks({ failed, remarks }: ProcessedSet): void {
  for (const { name, why } of [...failed, ...remarks]) process.stderr.write(`blendrak: ${name}: ${why}\n`);
}

/** Findings that are too unsure for the limit are left out, but not unsaid. */
function sayHeldBack(count: number): void {
  if (count > 0)
    process.stderr.write(
      `blendrak: ${count === 1 ? '1 finding is' : `${count} findings are`} left out as too unsure\n`,
    );
}

/** The files that a merge is written to. */
function targetsOf(options: MergeCommandOptions, inputs: readonly string[]): readonly [Target, Target | null] {
  const out = prepareTarget('--out', options.out, inputs);
  try {
    if (options.report !== undefined && isSamePath(options.report, options.out))
      throw new InputError('--report', `${options.report} is the merge that is written`, 'a file of its own');
    return [out, options.report === undefined ? null : prepareTarget('--report', options.report, inputs)];
  } catch (error) {
    out.discard();
    throw error;
  }
}

export interface InspectOptions extends CommonOptions {
  readonly merge: string;
  readonly report: string;
  readonly annotations?: string;
  readonly failOver?: string;
  readonly alsoUnseen?: boolean;
  readonly falseAlarms?: string;
}

/** Inspects a merge against its frames, writes the report, and leaves with 1 when there is something to report. */
export async function inspectCommand(folder: string, options: InspectOptions): Promise<number> {
  // Said before the work is done.
  exitFor([], options.failOver);
  const { findings } = await inspectFiles(folder, options);
  return exitFor(
    findings.map((f) => f.severity),
    options.failOver,
  );
}

/**
 * Inspects a merge against its frames and writes the report.
 * @param workers what runs the work; default: workers of its own, which end with it
 */
export async function inspectFiles(
  folder: string,
  options: InspectOptions,
  workers: typeof withPool = withPool,
): Promise<Report> {
  const given = kindOf(options.kind);
  const most = falseAlarmsOf(options.falseAlarms);
  const print = progressPrinter(options.jsonProgress ?? false);
  await inspectPicture(options.merge);
  const paths = await listFrames(folder, options.merge);
  const inputs = [...paths, options.merge];
  const reportTo = prepareTarget('--report', options.report, inputs);
  const annotationsTo = options.annotations ? prepareTarget('--annotations', options.annotations, inputs) : null;
  return withTargets([reportTo, annotationsTo], () =>
    withWorkspace((workspace) =>
      workers(async (pool) => {
        const kind = given ?? (await kindOfFiles(paths, workspace, step(pool, print, 'look')));
        const stored = await storeAll([...paths, options.merge], workspace, step(pool, print, 'read'));
        const elsewhere = stored[stored.length - 1]!;
        const pictures = stored.slice(0, -1);
        const tiles = join(workspace, 'merge.tiles');
        const { alsoUnseen = false } = options;
        const order = { kind, pictures, elsewhere, options: MERGE_DEFAULTS, known: null, tiles, inspect: true };
        const onFirst = firstPrinter(options.jsonProgress ?? false);
        const processed = await processSet({ ...order, alsoUnseen, onFirst }, partsOf(pool, print));
        sayRemarks(processed);
        const whole = reportOf(processed, basename(options.merge));
        const report = most === undefined ? whole : { ...whole, findings: surest(whole.findings, most) };
        sayHeldBack(whole.findings.length - report.findings.length);
        writeJson(reportTo, report);
        if (annotationsTo) writeJson(annotationsTo, annotationsOf(report, basename(options.merge)));
        return report;
      }),
    ),
  );
}

function kindOfFiles(paths: readonly string[], workspace: string, context: StepContext): Promise<MergeKind> {
  const named = paths.map((path) => ({ path, name: basename(path) }));
  return findKind(named, workspace, context);
}

const OUT_FORMATS = '.tif, .tiff, .png, .jpg or .jpeg';

/** @throws InputError for an ending that names no format */
export function checkOut(out: string): void {
  if (!/\.(tiff?|png|jpe?g)$/i.test(out))
    throw new InputError(out, 'this ending names no format that can be written', OUT_FORMATS);
}

/** Whether two names lead to one place; neither need be there. */
function isSamePath(a: string, b: string): boolean {
  return resolve(a) === resolve(b);
}

/** Writes a merge with its repairs as a flat picture, and puts it in place. */
export async function savePicture(
  context: StepContext,
  scene: InspectionScene,
  { width, height }: Pick<SetPicture, 'width' | 'height'>,
  icc: Buffer | null,
  out: Target,
  workspace: string,
): Promise<void> {
  const profile = icc ? join(workspace, 'profile.icc') : null;
  if (icc && profile) writeFileSync(profile, icc);
  const direct = /\.tiff?$/i.test(out.path);
  const tiff = direct ? out.part : join(workspace, 'flat.tif');
  await renderFlat({ scene, width, height, icc: profile, out: tiff }, context);
  if (!direct) await context.run('convertTiff', { tiff, out: out.part });
  out.commit();
}
