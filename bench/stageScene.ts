// A freshly rendered stack with its faulty and its clean merge and their truth; kept on disk when a folder is named.
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { deserialize, serialize } from 'node:v8';
import type { Similarity } from '@blendrak/core/image';
import {
  cellDepths,
  cellGrid,
  composeFaultyMerge,
  DEFAULT_CAMERA,
  gatherTruth,
  lampScene,
  makeRandom,
  openStudio,
  PLAIN_FAULTS,
  shootFrame,
  type SeededFault,
  type StackTruth,
} from '@blendrak/scene';

/** Exposures of the series; one of them is left out, so that a slice is missing. */
export const SHOTS = 11;

export interface StagedFrame {
  readonly pixels: Uint8Array;
  /** Canonical px → frame px. */
  readonly toFrame: Similarity;
  readonly gain: number;
}

/** Everything a score needs; merges are 8-bit RGB in canonical geometry. */
export interface StagedScene {
  readonly width: number;
  readonly height: number;
  readonly frames: readonly StagedFrame[];
  readonly faulty: Uint8Array;
  readonly clean: Uint8Array;
  readonly faults: readonly SeededFault[];
  readonly unavoidable: Uint8Array;
  readonly truth: StackTruth;
}

/**
 * Renders a scene, or reads it back.
 * @param folder where scenes are kept between runs; rendered anew each time without one
 */
export async function stageScene(
  seed: number,
  width: number,
  height: number,
  folder: string | undefined,
): Promise<StagedScene> {
  const file = folder ? join(folder, `${seed}-${width}x${height}.scene`) : null;
  if (file && existsSync(file)) return deserialize(readFileSync(file)) as StagedScene;
  const scene = await renderScene(seed, width, height);
  if (file) {
    mkdirSync(folder!, { recursive: true });
    writeFileSync(file, serialize(scene));
  }
  return scene;
}

async function renderScene(seed: number, width: number, height: number): Promise<StagedScene> {
  const studio = openStudio(lampScene(seed, height / width), DEFAULT_CAMERA, width, height, SHOTS, seed);
  const all = Array.from({ length: SHOTS }, (_, k) => shootFrame(studio, k, 8));
  const missing = 2 + Math.floor(makeRandom(seed * 7 + 1)() * (SHOTS - 4));
  const kept = all.filter((f) => f.index !== missing);
  const grid = cellGrid(width, height);
  const depths = cellDepths(studio);
  const truth = gatherTruth(grid, depths, kept);
  const frames = kept.map((f): StagedFrame => {
    const { toFrame, gain } = studio.shots[f.index]!;
    return { pixels: f.pixels as Uint8Array, toFrame, gain };
  });
  const merge = await composeFaultyMerge(
    studio,
    truth,
    gatherTruth(grid, depths, all),
    PLAIN_FAULTS,
    seed,
    (k) => frames[k]!,
  );
  return {
    width,
    height,
    frames,
    faulty: toBytes(merge.faulty),
    clean: toBytes(merge.clean),
    faults: merge.faults,
    unavoidable: merge.unavoidable,
    truth,
  };
}

function toBytes(picture: Float32Array): Uint8Array {
  return Uint8Array.from(picture, (v) => Math.min(255, Math.max(0, v * 255 + 0.5)));
}
