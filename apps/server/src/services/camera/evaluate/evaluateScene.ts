// One fresh scene: photographed, composed with and without defects, ready to be shown to the product and scored.
import { rmSync } from 'node:fs';
import { basename, join } from 'node:path';
import sharp from 'sharp';
import type { Report } from '@blendrak/contract';
import { median } from '@blendrak/core/image';
import { bestFrames, castRow, makeRayRow, projectRay, shotOf, type SetPlan } from '@blendrak/scene';
import { inParallel } from '../../pipeline';
import type { CameraPool } from '../cameraPool';
import type { Commission } from '../commission';
import { composeElsewhere } from '../composeElsewhere';
import { leaveOut } from '../leaveOut';
import { photograph, stripsOf } from '../photograph';
import { createRaw, readRaw, type RawPicture } from '../rawFile';
import { writeTruth } from '../truthFile';
import type { ScoredMerge } from './scoreReport';
import { structuralSimilarity } from './structuralSimilarity';

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
    const [a, b, c, d, e, f, g, h, i] = frame.alignment.matrix as [
      number,
      number,
      number,
      number,
      number,
      number,
      number,
      number,
      number,
    ];
    const errors = Array.from({ length: 25 }, (_, n) => {
      const x = ((n % 5) / 4) * view.width;
      const y = (Math.floor(n / 5) / 4) * view.height;
      castRow(view, y, x - 0.5, 1, 1, rays);
      const at = projectRay(plan.canvas, rays.x[0]!, rays.y[0]!, rays.z[0]!);
      const w = g * x + h * y + i;
      return at ? Math.hypot((a * x + b * y + c) / w - at[0], (d * x + e * y + f) / w - at[1]) : Infinity;
    });
    return [median(errors)];
  });
}

/**
 * SSIM of the product's own merge against the picture that a perfect frame would be from where its reference frame stood.
 * @param report of that merge; the reference frame is the one it maps to itself
 */
export async function ownMergeSimilarity(
  camera: CameraPool,
  scene: EvaluationScene,
  file: string,
  report: Report,
  folder: string,
): Promise<number> {
  const { assignment } = scene.plan;
  const { width, height } = assignment;
  const reference = report.frames.find((f) => {
    const [a, b, c, , e, g] = f.alignment.matrix;
    return Math.abs(a! - 1) + Math.abs(b!) + Math.abs(e! - 1) < 1e-9 && Math.abs(c!) + Math.abs(g!) < 1e-6;
  });
  if (!reference) throw new Error(`no frame of the report of ${file} is the reference`);
  const shot = scene.plan.frames[scene.kept[scene.names.indexOf(reference.file)]!]!.shot;
  const out: RawPicture = { path: join(folder, 'ideal.raw'), width, height, bits: 16 };
  createRaw(out);
  await inParallel(stripsOf(width, height), camera.threads, (region) =>
    camera.run('expose', { assignment, shot, region, hand: false, ideal: true, out }),
  );
  const ideal = lumaOf(readRaw(out, { x: 0, y: 0, width, height }).data, 65535);
  const { data, info } = await sharp(file)
    .toColourspace('rgb16')
    .raw({ depth: 'ushort' })
    .toBuffer({ resolveWithObject: true });
  if (info.width !== width || info.height !== height)
    throw new Error(`${file} has another size than its reference frame`);
  const own = lumaOf(new Uint16Array(data.buffer, data.byteOffset, data.byteLength / 2), 65535);
  rmSync(out.path);
  // The rim that some frames do not reach is judged by the border defect, not here.
  return structuralSimilarity(own, ideal, width, height, Math.round(width * 0.02));
}

function lumaOf(rgb: Uint8Array | Uint16Array, top: number): Float32Array {
  const out = new Float32Array(rgb.length / 3);
  for (let i = 0; i < out.length; i++) {
    out[i] = (0.2126 * rgb[3 * i]! + 0.7152 * rgb[3 * i + 1]! + 0.0722 * rgb[3 * i + 2]!) / top;
  }
  return out;
}
