// A merge "made elsewhere" from a photographed set, clean and with seeded defects, and the truth about it.
import { join } from 'node:path';
import { tileRegion, type Region } from '@blendrak/core/image';
import {
  cellGrid,
  joinFacts,
  surveyOf,
  withFrames,
  type FaultPlan,
  type MergeTruth,
  type Survey,
} from '@blendrak/scene';
import { writeTiff } from '../../codecs';
import { inParallel } from '../../pipeline';
import type { CameraPool } from './cameraPool';
import type { Photographed } from './photograph';
import { createRaw, readRaw, type RawPicture } from './rawFile';

export interface SeedingOptions {
  readonly faults: FaultPlan;
  readonly seed: number;
  /** Share of faults that are made faint. */
  readonly subtle: number;
  /** Frame that was photographed but is not delivered: a slice that was never shot. */
  readonly leaveOut: number | null;
  readonly rawFolder: string;
  readonly signal?: AbortSignal;
  readonly onProgress: (share: number, message: string) => void;
}

/** Where the merges lie and what is true of the faulty one. */
export interface MadeElsewhere {
  /** Numbers of the delivered frames in the plan. */
  readonly kept: readonly number[];
  readonly survey: Survey;
  readonly truth: MergeTruth;
  /** What also is in the clean merge. */
  readonly cleanTruth: MergeTruth;
  readonly clean: string;
  readonly faulty: string;
}

const PART_PX = 512;

/**
 * Surveys the frames, drafts the defects, composes both merges part by part.
 * @param folder receives the merges: clean.tif and "merge made elsewhere.tif"
 * Memory: per thread a part of all frames; the survey holds about 14 bytes per frame and 16 px.
 */
export async function composeElsewhere(
  camera: CameraPool,
  set: Photographed,
  folder: string,
  options: SeedingOptions,
): Promise<MadeElsewhere> {
  const { plan } = set;
  const { signal, onProgress } = options;
  const { assignment, canvas } = plan;
  const all = set.files.map((f) => f.raw);
  const parts = tileRegion({ x: 0, y: 0, width: canvas.width, height: canvas.height }, PART_PX);
  let done = 0;
  const facts = await inParallel(parts, camera.threads, async (region) => {
    const seen = await camera.run('survey', { assignment, frames: all, region }, signal);
    done += 1;
    onProgress((0.5 * done) / parts.length, 'looking at the frames');
    return { region, facts: seen };
  });
  const joined = joinFacts(plan, facts, (length) => new SharedArrayBuffer(length));
  const kept = plan.frames.map((_, k) => k).filter((k) => k !== options.leaveOut);
  const { faults, seed, subtle } = options;
  const shot = { assignment, facts: joined, kept };
  const recipes = await camera.run('seed', { ...shot, faults, seed, subtle }, signal);
  const pair = [recipes.clean, recipes.faulty] as const;
  const raw = (name: string): RawPicture => ({
    path: join(options.rawFolder, `${name}.raw`),
    width: canvas.width,
    height: canvas.height,
    bits: 16,
  });
  const out = [raw('clean'), raw('faulty')] as const;
  out.forEach(createRaw);
  done = 0;
  const grid = cellGrid(canvas.width, canvas.height);
  const difference = new Float32Array(grid.width * grid.height);
  const frames = kept.map((k) => all[k]!);
  await inParallel(parts, camera.threads, async (region) => {
    const cells = await camera.run('compose', { assignment, kept, frames, recipes: pair, region, out }, signal);
    placeCells(difference, grid.width, cells, region);
    done += 1;
    onProgress(0.5 + (0.45 * done) / parts.length, 'composing the merge');
  });
  const clean = join(folder, 'clean.tif');
  const faulty = join(folder, 'merge made elsewhere.tif');
  writeMerge(out[0], clean);
  writeMerge(out[1], faulty);
  const { truth, cleanTruth } = await camera.run('settle', { ...shot, recipes, difference }, signal);
  onProgress(1, 'merge composed');
  return { kept, survey: withFrames(surveyOf(plan, joined), kept), truth, cleanTruth, clean, faulty };
}

function placeCells(to: Float32Array, across: number, cells: Float32Array, region: Region): void {
  const part = cellGrid(region.width, region.height);
  for (let y = 0; y < part.height; y++) {
    to.set(cells.subarray(y * part.width, (y + 1) * part.width), (region.y / 4 + y) * across + region.x / 4);
  }
}

function writeMerge(raw: RawPicture, path: string): void {
  const { width, height } = raw;
  writeTiff(path, width, height, 16, null, (y, rows) => ({
    width,
    height: rows,
    data: readRaw(raw, { x: 0, y, width, height: rows }).data,
  }));
}
