// A merge "made elsewhere" from a photographed set, clean and with seeded defects, and the truth about it.
import { join } from 'node:path';
import { tileRegion, type Region } from '@blendrak/core/image';
import {
  CELL,
  cellGrid,
  joinFacts,
  momentRecipe,
  surveyOf,
  withFrames,
  type FaultPlan,
  type MergeTruth,
  type Moment,
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
  /** Whether repairs will be scored: then what moves is also pictured as the other frames have it. */
  readonly moments: boolean;
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
  readonly moments: readonly MomentPicture[];
}

/** What may stand in a fault's place as well, from another moment. */
export interface MomentPicture {
  /** Number of the fault in the truth. */
  readonly fault: number;
  readonly moment: Moment;
  /** Of the merge. */
  readonly region: Region;
  /** Name beside the merges. */
  readonly file: string;
}

const PART_PX = 512;

/**
 * Surveys the frames, drafts the defects, composes both merges part by part.
 * @param folder receives the merges: clean.tif and "merge made elsewhere.tif", and moments if they are asked for
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
  const moments = options.moments
    ? await composeMoments(camera, truth, folder, canvas, (recipe, region, out) => {
        const task = { assignment, kept, frames, recipe: momentRecipe(recipes, recipe), region, out };
        return camera.run('moment', task, signal);
      })
    : [];
  onProgress(1, 'merge composed');
  return { kept, survey: withFrames(surveyOf(plan, joined), kept), truth, cleanTruth, clean, faulty, moments };
}

/** Pictures of all moments of what moves. */
async function composeMoments(
  camera: CameraPool,
  { faults }: MergeTruth,
  folder: string,
  canvas: { readonly width: number; readonly height: number },
  compose: (moment: Moment, region: Region, out: string) => Promise<void>,
): Promise<MomentPicture[]> {
  const wanted = faults.flatMap((fault, k) => fault.moments.map((moment) => ({ fault: k, moment })));
  const made = wanted.map(({ fault, moment }): MomentPicture => {
    const region = regionOf(moment.cells, canvas);
    return { fault, moment, region, file: `moment-${fault}-${moment.frame}.tif` };
  });
  await inParallel(made, camera.threads, ({ moment, region, file }) => compose(moment, region, join(folder, file)));
  return made;
}

/** Smallest part of the canvas in which cells lie whole. */
function regionOf(
  cells: readonly number[],
  { width, height }: { readonly width: number; readonly height: number },
): Region {
  const across = cellGrid(width, height).width;
  let [x0, y0, x1, y1] = [Infinity, Infinity, 0, 0];
  for (const c of cells) {
    const [x, y] = [c % across, Math.floor(c / across)];
    [x0, y0, x1, y1] = [Math.min(x0, x), Math.min(y0, y), Math.max(x1, x), Math.max(y1, y)];
  }
  return { x: CELL * x0, y: CELL * y0, width: CELL * (x1 - x0 + 1), height: CELL * (y1 - y0 + 1) };
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
