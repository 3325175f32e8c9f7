// `blendrak evaluate`: fresh scenes through the same commands a user has, scored against what the camera knows.
import { readFile, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { reportSchema, type MergeKind, type Report } from '@blendrak/contract';
import type { Calibration } from '@blendrak/core/inspect';
import { InputError } from '../codecs';
import {
  addClean,
  addFaulty,
  alignmentErrors,
  calibrationFile,
  addFinished,
  addRepair,
  emptyTally,
  evaluationRecord,
  evaluationTable,
  fitCalibration,
  freshCommission,
  scoreReport,
  type KindTally,
} from '@blendrak/evaluate';
import { FINISHINGS } from '@blendrak/scene';
import { openCamera, type CameraPool } from '../services/camera';
import {
  finishMerge,
  makeScene,
  scoreOwnMerge,
  scoreRepairFiles,
  type EvaluationScene,
} from '../services/camera/evaluate';
import { inspectCommand, mergeCommand } from './commands';
import { EXIT } from './output';
import { repairCommand } from './repair';
import { prepareTarget, withTargets, writeJson, writeText } from './target';
import { withWorkspace } from './workspace';

export interface EvaluateOptions {
  readonly kinds: string;
  readonly scenes: string;
  readonly size: string;
  readonly seed?: string;
  readonly report?: string;
  readonly keep?: string;
  readonly finished?: boolean;
  readonly calibration?: string;
}

const KINDS: readonly MergeKind[] = ['focus-stack', 'panorama', 'bracket'];

function wholeNumber(name: string, text: string, low: number, high: number): number {
  const value = Number(text);
  if (Number.isInteger(value) && value >= low && value <= high) return value;
  throw new InputError(name, `"${text}" cannot be used`, `a whole number from ${low} to ${high}`);
}

function kindsOf(text: string): MergeKind[] {
  return text.split(',').map((word) => {
    const kind = KINDS.find((k) => k === word.trim());
    if (!kind) throw new InputError('--kinds', `there is no kind "${word}"`, KINDS.join(', '));
    return kind;
  });
}

/** Renders, runs and scores; prints the table. */
export async function evaluateCommand(options: EvaluateOptions): Promise<number> {
  const kinds = kindsOf(options.kinds);
  const scenes = wholeNumber('--scenes', options.scenes, 1, 1000);
  const size = wholeNumber('--size', options.size, 400, 12000);
  const seed = wholeNumber('--seed', options.seed ?? String(Date.now() % 1_000_000), 0, 2 ** 31 - 1);
  process.stdout.write(`seed ${seed}: ${scenes} scenes of each kind, frames of ${size} px\n`);
  const target = options.report === undefined ? null : prepareTarget('--report', options.report, []);
  const learnt = options.calibration === undefined ? null : prepareTarget('--calibration', options.calibration, []);
  const evaluation = await withTargets([target, learnt], async () => {
    const tallies = await withWorkspace((root) => evaluateAll(kinds, scenes, seed, size, options, root));
    if (target) {
      const figures = evaluationRecord(tallies);
      writeJson(target, { format: 'blendrak-evaluation', version: 1, seed, scenes, size, kinds: figures });
    }
    if (learnt) writeText(learnt, calibrationFile(learn(tallies, seed)));
    return tallies;
  });
  process.stdout.write(`\n${evaluationTable(evaluation)}`);
  return EXIT.clean;
}

/** A calibration from all findings that are right or wrong for sure. */
function learn(tallies: ReadonlyMap<MergeKind, KindTally>, first: number): Calibration {
  const judged = [...tallies].flatMap(([kind, { findings }]) =>
    findings.flatMap((f) => (f.outcome === 'excused' ? [] : [{ ...f, kind, isReal: f.outcome === 'hit' }])),
  );
  return fitCalibration(
    judged,
    [...tallies].map(([kind, { scenes }]) => ({ kind, first, scenes })),
  );
}

async function evaluateAll(
  kinds: readonly MergeKind[],
  scenes: number,
  seed: number,
  size: number,
  { keep, finished = false }: EvaluateOptions,
  root: string,
): Promise<Map<MergeKind, KindTally>> {
  const camera = openCamera();
  const evaluation = new Map<MergeKind, KindTally>();
  try {
    for (const kind of kinds) {
      const tally = emptyTally();
      evaluation.set(kind, tally);
      for (let s = 0; s < scenes; s++) {
        const folder = join(keep ?? root, `${kind}-${seed + s}`);
        await evaluateScene(camera, kind, seed + s, size, folder, tally, finished);
        if (!keep) await rm(folder, { recursive: true, force: true });
        process.stderr.write(`${kind}: ${s + 1} of ${scenes} scenes\n`);
      }
    }
  } finally {
    await camera.close();
  }
  return evaluation;
}

async function evaluateScene(
  camera: CameraPool,
  kind: MergeKind,
  seed: number,
  size: number,
  folder: string,
  tally: KindTally,
  finished: boolean,
): Promise<void> {
  const scene = await timed(tally, 'render', () => makeScene(camera, freshCommission(kind, seed, size), folder));
  tally.scenes += 1;
  tally.megapixels += (scene.plan.canvas.width * scene.plan.canvas.height) / 1e6;
  const faulty = await inspected(scene, kind, scene.faulty, join(folder, 'faulty.json'), tally);
  const clean = await inspected(scene, kind, scene.clean, join(folder, 'clean.json'), tally);
  const nothing: Pick<Report, 'findings' | 'merge'> = { findings: [], merge: { file: '', width: 1, height: 1 } };
  // What could not be inspected found nothing.
  addFaulty(tally, scoreReport(faulty ?? nothing, scene.scored.faulty));
  if (clean) addClean(tally, scoreReport(clean, scene.scored.clean));
  if (faulty) tally.alignmentPx.push(...alignmentErrors(scene, faulty));
  if (finished && clean) await inspectFinished(scene, kind, folder, seed, clean, tally);
  await mergeOwn(camera, scene, kind, folder, tally);
  if (faulty) await repaired(scene, folder, tally);
}

async function inspected(
  scene: EvaluationScene,
  kind: MergeKind,
  merge: string,
  report: string,
  tally: KindTally,
): Promise<Report | null> {
  return asked(tally, 'inspection', async () => {
    await timed(tally, 'inspect', () => inspectCommand(scene.frames, { merge, report, kind }));
    return reportSchema.parse(JSON.parse(await readFile(report, 'utf8')));
  });
}

/** What is mended by itself of the faulty merge, by the report on it. */
async function repaired(scene: EvaluationScene, folder: string, tally: KindTally): Promise<void> {
  const out = join(folder, 'repaired.tif');
  await asked(tally, 'automatic repair', async () => {
    const order = { merge: scene.faulty, report: join(folder, 'faulty.json'), out, over: '20', isQuiet: true };
    await timed(tally, 'repair', () => repairCommand(scene.frames, order));
    const { faulty, clean, faults, scored } = scene;
    const score = await scoreRepairFiles({ faulty, clean, repaired: out }, faults);
    addRepair(tally, score, scored.faulty.truth.faults);
  });
}

/** What is found in the clean merge once it was finished: nothing more than before. */
async function inspectFinished(
  scene: EvaluationScene,
  kind: MergeKind,
  folder: string,
  seed: number,
  clean: Report,
  tally: KindTally,
): Promise<void> {
  for (const finishing of FINISHINGS) {
    const merge = await finishMerge(scene.clean, finishing, folder, seed);
    const report = await inspected(scene, kind, merge, join(folder, `finished ${finishing.name}.json`), tally);
    if (report) addFinished(tally, finishing.name, report.findings.length, clean.findings.length);
  }
}

async function mergeOwn(
  camera: CameraPool,
  scene: EvaluationScene,
  kind: MergeKind,
  folder: string,
  tally: KindTally,
): Promise<void> {
  const out = join(folder, 'own.tif');
  const path = join(folder, 'own.json');
  await asked(tally, 'own merge', async () => {
    await timed(tally, 'merge', () => mergeCommand(scene.frames, { out, report: path, kind }));
    const report = reportSchema.parse(JSON.parse(await readFile(path, 'utf8')));
    // A merge of a set that lacks a slice cannot come near the ideal: that says nothing of the merging.
    if (scene.kept.length < scene.plan.frames.length) return;
    const score = await scoreOwnMerge(camera, scene, kind, out, report, folder, async (frames, to) => {
      await mergeCommand(frames, { out: to, kind });
    });
    tally.merges.push(score);
  });
}

/** What the product refuses to do is part of the result, not a failure of the evaluation. */
async function asked<T>(tally: KindTally, step: string, work: () => Promise<T>): Promise<T | null> {
  try {
    return await work();
  } catch (error) {
    if (!(error instanceof InputError)) throw error;
    tally.refusals.set(step, error.message);
    return null;
  }
}

async function timed<T>(tally: KindTally, step: keyof KindTally['seconds'], work: () => Promise<T>): Promise<T> {
  const start = performance.now();
  try {
    return await work();
  } finally {
    tally.seconds[step] += (performance.now() - start) / 1000;
  }
}
