// One fresh scene: photographed, composed with and without defects, ready to be shown to the product and scored.
import { rmSync } from 'node:fs';
import { basename, join } from 'node:path';
import type { Report } from '@blendrak/contract';
import { frameToMerge } from '@blendrak/core/frame';
import { median } from '@blendrak/core/image';
import { bestFrames, castRow, makeRayRow, projectRay, shotOf, type SetPlan } from '@blendrak/scene';
import { geometryOf } from '../../../pipeline';
import type { CameraPool } from '../cameraPool';
import type { Commission } from '../commission';
import { composeElsewhere } from '../composeElsewhere';
import { leaveOut } from '../leaveOut';
import { photograph } from '../photograph';
import { writeTruth } from '../truthFile';
import type { ScoredMerge } from './scoreReport';

/** A scene on disk with all that scoring needs. */
export interface EvaluationScene {
  readonly plan: SetPlan;
  /** Folder that holds nothing but the frames. */
  readonly frames: string;
  readonly faulty: string;
  readonly clean: string;
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
    scored: { faulty: { ...common, truth: made.truth }, clean: { ...common, truth: made.cleanTruth } },
    names,
    kept: made.kept,
  };
}

/** Distance between where a report places each frame in the merge and where it is, median over the frame, px. */
export function alignmentErrors({ plan, kept, names }: EvaluationScene, report: Report): number[] {
  const rays = makeRayRow(1);
  return report.frames.flatMap((frame) => {
    const index = names.indexOf(frame.file);
    if (index < 0) return [];
    const { view } = shotOf(plan, kept[index]!);
    const geometry = geometryOf(frame.alignment);
    const errors = Array.from({ length: 25 }, (_, n) => {
      const x = ((n % 5) / 4) * view.width;
      const y = (Math.floor(n / 5) / 4) * view.height;
      castRow(view, y, x - 0.5, 1, 1, rays);
      const at = projectRay(plan.canvas, rays.x[0]!, rays.y[0]!, rays.z[0]!);
      const found = frameToMerge(geometry, x, y);
      return at && found ? Math.hypot(found[0] - at[0], found[1] - at[1]) : Infinity;
    });
    return [median(errors)];
  });
}
