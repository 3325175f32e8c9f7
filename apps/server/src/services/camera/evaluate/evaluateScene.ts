// One fresh scene: photographed, composed with and without defects, ready to be shown to the product and scored.
import { rmSync } from 'node:fs';
import { basename, join } from 'node:path';
import type { Commission, ScoredMerge } from '@blendrak/evaluate';
import { bestFrames, type SetPlan } from '@blendrak/scene';
import type { CameraPool } from '../cameraPool';
import { composeElsewhere } from '../composeElsewhere';
import { leaveOut } from '../leaveOut';
import { photograph } from '../photograph';
import { writeTruth } from '../truthFile';
import type { FileFault } from './scoreFiles';

/** A scene on disk with all that scoring needs. */
export interface EvaluationScene {
  readonly plan: SetPlan;
  /** Folder that holds nothing but the frames. */
  readonly frames: string;
  readonly faulty: string;
  readonly clean: string;
  /** What a repair is asked for. */
  readonly faults: readonly FileFault[];
  readonly scored: { readonly faulty: ScoredMerge; readonly clean: ScoredMerge };
  readonly names: readonly string[];
  readonly kept: readonly number[];
}

/**
 * Renders a scene into a folder.
 * @throws SettingError for a commission no camera takes
 */
export async function makeScene(camera: CameraPool, commission: Commission, folder: string): Promise<EvaluationScene> {
  const { assignment, leaveOut: missing, faults, subtle } = commission;
  const rawFolder = join(folder, 'raw');
  const frames = join(folder, 'frames');
  const quiet = { rawFolder, onProgress: () => undefined };
  const all = await photograph(camera, assignment, frames, { ...quiet, format: 'jpeg', bits: 8 });
  const made = await composeElsewhere(camera, all, folder, {
    ...quiet,
    faults,
    subtle,
    moments: true,
    leaveOut: missing,
    seed: assignment.seed,
  });
  const set = leaveOut(all, missing);
  writeTruth(join(folder, 'truth.json'), set, made);
  rmSync(rawFolder, { recursive: true });
  const names = made.kept.map((k) => basename(set.files[k]!.path));
  const common = {
    grid: made.survey.grid,
    names,
    bestAt: (cells: readonly number[]) => bestFrames(made.survey, cells),
  };
  return {
    plan: set.plan,
    frames,
    faulty: made.faulty,
    clean: made.clean,
    faults: made.truth.faults.map((fault, k) => ({
      ...fault,
      moments: made.moments
        .filter((m) => m.fault === k)
        .map(({ file, region, moment }) => ({ file: join(folder, file), region, cells: moment.cells })),
    })),
    scored: { faulty: { ...common, truth: made.truth }, clean: { ...common, truth: made.cleanTruth } },
    names,
    kept: made.kept,
  };
}
