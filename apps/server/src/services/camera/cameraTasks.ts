// What the threads of the simulated camera do, one function per task. A task is a pure function of its request and files.
import { readFileSync, writeFileSync } from 'node:fs';
import sharp from 'sharp';
import { tileRegion, type Region } from '@blendrak/core/image';
import {
  cellDifference,
  idealMerge,
  seedRecipes,
  settleTruth,
  surveyOf,
  withFrames,
  composeRegion,
  planSet,
  skyShare,
  surveyRegion,
  takeFrame,
  withHand,
  placeFrame,
  type Assignment,
  type CellFacts,
  type FaultPlan,
  type Mat3,
  type MergeTruth,
  type SeededRecipes,
  type FrameSource,
  type Recipe,
  type SetPlan,
  type Shot,
  type View,
} from '@blendrak/scene';
import { writeTiff, type TiffSettings } from '../../codecs';
import { readRaw, writeRaw, type RawPicture } from './rawFile';
import { exifOf } from './shotSettings';

export type FileFormat = 'jpeg' | 'png' | 'tiff';

export interface ExposeTask {
  readonly assignment: Assignment;
  readonly shot: number;
  /** Show a hand in front of the lens: the separator frame. */
  readonly hand: boolean;
  /** Sharp and without noise: the picture a perfect frame would be. */
  readonly ideal: boolean;
  /** For an ideal: the shot whose place and moment are shown instead of its own. */
  readonly at?: number;
  readonly region: Region;
  readonly out: RawPicture;
}

export interface IdealTask {
  readonly assignment: Assignment;
  /** Instead of the plan's canvas. */
  readonly view: View;
  /** Instead of the plan's moment, s. */
  readonly momentS: number;
  readonly region: Region;
  readonly out: RawPicture;
}

export interface DepthTask {
  readonly assignment: Assignment;
  /** The shot through whose view the world is seen. */
  readonly shot: number;
  readonly region: Region;
}

export interface DevelopTask {
  readonly raw: RawPicture;
  readonly out: string;
  readonly format: FileFormat;
  readonly settings: TiffSettings;
}

export interface BlendTask {
  readonly assignment: Assignment;
  readonly source: FrameSource;
  readonly ground: RawPicture;
  readonly sky: RawPicture;
  readonly region: Region;
  readonly out: RawPicture;
}

export interface SurveyTask {
  readonly assignment: Assignment;
  readonly frames: readonly RawPicture[];
  readonly region: Region;
}

export interface SeedTask {
  readonly assignment: Assignment;
  /** Facts of all frames that were shot, on shared memory. */
  readonly facts: CellFacts;
  readonly kept: readonly number[];
  readonly faults: FaultPlan;
  readonly seed: number;
  readonly subtle: number;
}

export interface SettleTask extends Pick<SeedTask, 'assignment' | 'facts' | 'kept'> {
  readonly recipes: SeededRecipes;
  /** Mean squared difference of the faulty from the clean merge per cell. */
  readonly difference: Float32Array;
}

export interface ComposeTask {
  readonly assignment: Assignment;
  /** Delivered frames that are at hand, by their number in the plan, and their pictures. */
  readonly kept: readonly number[];
  readonly frames: readonly RawPicture[];
  readonly recipes: readonly [clean: Recipe, faulty: Recipe];
  readonly region: Region;
  readonly out: readonly [clean: RawPicture, faulty: RawPicture];
}

export interface MomentTask extends Pick<ComposeTask, 'assignment' | 'kept' | 'frames' | 'region'> {
  readonly recipe: Recipe;
  /** TIFF of the region. */
  readonly out: string;
}

// Blocks of this size keep a task's memory small whatever the size of the picture.
const BLOCK_PX = 512;

/** Where the optical axis meets the world, in scene units. */
function aimOf({ world, tangentPerUnit }: SetPlan['stage'], rotation: Mat3): readonly [number, number] {
  const [x, y, z] = [rotation[6], rotation[7], rotation[8]];
  const [cx, cy] = world.centre;
  return [cx + x / z / tangentPerUnit, cy + y / z / tangentPerUnit];
}

/** Renders a region of a shot into its raw picture. */
export function expose({ assignment, shot, hand, ideal, at = shot, region, out }: ExposeTask): void {
  const plan = planSet(assignment);
  const planned = plan.shots[shot]!;
  const { width, focalPx, rotation } = planned.view;
  const { stage } = plan;
  const world = hand
    ? withHand(stage.world, width / focalPx / stage.tangentPerUnit, aimOf(stage, rotation))
    : stage.world;
  const { view, startS } = plan.shots[at]!;
  const still: Shot = {
    ...planned,
    view,
    startS,
    focusMm: null,
    shutterS: 0,
    shakePx: [0, 0],
    sensor: { photonNoise: 0, readNoise: 0, dust: [] },
  };
  for (const block of tileRegion(region, BLOCK_PX)) {
    writeRaw(out, block, takeFrame({ ...stage, world }, ideal ? still : planned, block, out.bits));
  }
}

/** Renders a region of the picture that a perfect merge would show through a view of its own. */
export function ideal({ assignment, view, momentS, region, out }: IdealTask): void {
  const plan = { ...planSet(assignment), canvas: view, referenceS: momentS };
  for (const block of tileRegion(region, BLOCK_PX)) {
    writeRaw(out, block, deepCodes(idealMerge(plan, block).rgb));
  }
}

/** How far away what a region of a shot shows is, mm, row by row; Infinity for the sky. */
export function depth({ assignment, shot, region }: DepthTask): Float32Array {
  const plan = planSet(assignment);
  const { view, startS } = plan.shots[shot]!;
  const seen = { ...plan, canvas: view, referenceS: startS };
  const out = new Float32Array(region.width * region.height);
  for (const block of tileRegion(region, BLOCK_PX)) {
    const { depthMm } = idealMerge(seen, block);
    for (let y = 0; y < block.height; y++) {
      const to = (block.y - region.y + y) * region.width + block.x - region.x;
      out.set(depthMm.subarray(y * block.width, (y + 1) * block.width), to);
    }
  }
  return out;
}

/** Turns a raw picture into a file with its settings; a JPEG's losses go back into the raw picture. */
export async function develop({ raw, out, format, settings }: DevelopTask): Promise<void> {
  const { width, height, bits } = raw;
  if (format === 'tiff') {
    writeTiff(
      out,
      width,
      height,
      bits,
      null,
      (y, rows) => {
        const { data } = readRaw(raw, { x: 0, y, width, height: rows });
        return { width, height: rows, data };
      },
      settings,
    );
    return;
  }
  const bytes = readFileSync(raw.path);
  const pixels = bits === 8 ? bytes : new Uint16Array(bytes.buffer, bytes.byteOffset, bytes.byteLength / 2);
  const image = sharp(pixels, { raw: { width, height, channels: 3 } }).withExif(exifOf(settings));
  if (format === 'png') {
    const deep = bits === 16 ? image.toColourspace('rgb16') : image;
    writeFileSync(out, await deep.png({ compressionLevel: 3 }).toBuffer());
    return;
  }
  const jpeg = await image.jpeg({ quality: 95, chromaSubsampling: '4:4:4' }).toBuffer();
  writeFileSync(out, jpeg);
  writeFileSync(raw.path, await sharp(jpeg).raw().toBuffer());
}

/** Blends a darker sky into the upper part of a frame: the inner merge of a nested set. */
export function blend({ assignment, source, ground, sky, region, out }: BlendTask): void {
  const plan = planSet(assignment);
  const base = plan.shots[source.shot]!;
  const aligned: SetPlan = { ...plan, frames: [{ shot: source.sky!, sky: null }] };
  for (const block of tileRegion(region, BLOCK_PX)) {
    const data = readRaw(ground, block).data.slice();
    const top = out.bits === 8 ? 255 : 65535;
    // The sky's own codes, unchanged: a blend of two developed pictures, not of light.
    const codes = Float32Array.from({ length: top + 1 }, (_, i) => i / top);
    const placed = placeFrame(aligned, base.view, block, 0, codes, (_, part) => readRaw(sky, part));
    for (let y = 0; y < block.height; y++) {
      const share = skyShare(base.view.height, block.y + y + 0.5);
      if (share === 0 || !placed) continue;
      for (let x = 0; x < block.width; x++) {
        const i = y * block.width + x;
        if (!placed.inside[i]) continue;
        for (let c = 3 * i; c < 3 * i + 3; c++) {
          const mixed = data[c]! + share * (placed.rgb[c]! * top - data[c]!);
          data[c] = Math.min(top, Math.max(0, mixed + 0.5));
        }
      }
    }
    writeRaw(out, block, data);
  }
}

/** Holds all frames against the ideal in a region of the canvas. */
export function survey({ assignment, frames, region }: SurveyTask): CellFacts {
  return surveyRegion(planSet(assignment), region, frames[0]!.bits, (k, part) => readRaw(frames[k]!, part));
}

/** Composes a region of the clean and the faulty merge; returns how they differ per cell. */
export function compose({ assignment, kept, frames, recipes, region, out }: ComposeTask): Float32Array {
  const whole = planSet(assignment);
  const plan: SetPlan = { ...whole, frames: kept.map((k) => whole.frames[k]!) };
  const pictures = composeRegion(plan, recipes, region, frames[0]!.bits, (k, part) => readRaw(frames[k]!, part));
  pictures.forEach((picture, m) => writeRaw(out[m]!, region, deepCodes(picture)));
  return cellDifference(pictures[0]!, pictures[1]!, region);
}

/** Writes what the merge without faults shows of a region, with what moves there as another frame caught it. */
export function moment({ assignment, kept, frames, recipe, region, out }: MomentTask): void {
  const whole = planSet(assignment);
  const plan: SetPlan = { ...whole, frames: kept.map((k) => whole.frames[k]!) };
  const [picture] = composeRegion(plan, [recipe], region, frames[0]!.bits, (k, part) => readRaw(frames[k]!, part));
  const { width, height } = region;
  const data = deepCodes(picture!);
  const row = width * 3;
  writeTiff(out, width, height, 16, null, (y, rows) => ({
    ...{ width, height: rows },
    data: data.subarray(y * row, (y + rows) * row),
  }));
}

/** Code values 0..1 as 16 bits. */
function deepCodes(picture: Float32Array): Uint16Array {
  return Uint16Array.from(picture, (v) => Math.min(65535, Math.max(0, v * 65535 + 0.5)));
}

/** Drafts a merge with defects; the recipes lie on shared memory. */
export function seed({ assignment, facts, kept, faults, seed: number, subtle }: SeedTask): SeededRecipes {
  const survey = withFrames(surveyOf(planSet(assignment), facts), kept);
  const made = seedRecipes(survey, faults, number, subtle);
  return { ...made, clean: shareRecipe(made.clean), faulty: shareRecipe(made.faulty) };
}

/** What is true of the faulty merge, and of the clean one. */
export function settle({ assignment, facts, kept, recipes, difference }: SettleTask): {
  truth: MergeTruth;
  cleanTruth: MergeTruth;
} {
  const full = surveyOf(planSet(assignment), facts);
  const at = withFrames(full, kept);
  const none = { ...recipes, faulty: recipes.clean, drafts: [] };
  return {
    truth: settleTruth(at, full, recipes, difference),
    cleanTruth: settleTruth(at, full, none, new Float32Array(difference.length)),
  };
}

/** A recipe whose arrays all threads read without copying. */
function shareRecipe(recipe: Recipe): Recipe {
  const bytes = (a: Uint8Array): Uint8Array => {
    const out = new Uint8Array(new SharedArrayBuffer(a.byteLength));
    out.set(a);
    return out;
  };
  const floats = (a: Float32Array): Float32Array => {
    const out = new Float32Array(new SharedArrayBuffer(a.byteLength));
    out.set(a);
    return out;
  };
  const [r, g, b] = recipe.gain;
  return {
    labels: bytes(recipe.labels),
    second: bytes(recipe.second),
    shiftX: floats(recipe.shiftX),
    shiftY: floats(recipe.shiftY),
    share: floats(recipe.share),
    gain: [floats(r), floats(g), floats(b)],
    edge: recipe.edge,
  };
}
