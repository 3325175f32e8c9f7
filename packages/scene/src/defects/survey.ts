// What each cell of a merge's canvas could be taken from: every frame held against the ideal.
import type { Region } from '@blendrak/core/image';
import { dustAt } from '../render/sensor';
import { projectRay } from '../optics/view';
import { castRow, makeRayRow } from '../optics/view';
import { blurRadiusPx, type SetPlan } from '../shoot/planSet';
import { CELL, cellGrid, smoothCells, type CellGrid } from './cells';
import { cellDifference } from './composeMerge';
import { idealMerge, movingThings } from './idealMerge';
import { placeFrame, shotOf, toneTable, type ReadFrame } from './placeFrame';

/** Facts per cell, one entry per delivered frame where they differ by frame. */
export interface CellFacts {
  /** Mean squared difference from the ideal in code values; noise included. */
  readonly errors: readonly Float32Array[];
  /** 1 where the frame covers the whole cell. */
  readonly covers: readonly Uint8Array[];
  /** Share of pixels whose file value is full. */
  readonly clipped: readonly Float32Array[];
  /** Coverage by moving things in the frame. */
  readonly moving: readonly Float32Array[];
  /** Share of light that dust takes away in the frame. */
  readonly dust: readonly Float32Array[];
  readonly depthMm: Float32Array;
  /** Distance of what moves there in some frame, mm; 0 where nothing does. */
  readonly thingMm: Float32Array;
  /** Standard deviation of the ideal within the cell: how much there is to see. */
  readonly detail: Float32Array;
  /** Root mean square of what lateral colour changes. */
  readonly fringe: Float32Array;
  /** Share of pixels clipped in every frame. */
  readonly clippedEverywhere: Float32Array;
}

/** The whole canvas. */
export interface Survey extends CellFacts {
  readonly plan: SetPlan;
  readonly grid: CellGrid;
}

/**
 * Surveys a region of the canvas; its edges lie on cells.
 * Memory: some 40 bytes per pixel of the region, for one frame at a time.
 */
export function surveyRegion(plan: SetPlan, region: Region, bits: 8 | 16, read: ReadFrame): CellFacts {
  const grid = cellGrid(region.width, region.height);
  const ideal = idealMerge(plan, region);
  const errors: Float32Array[] = [];
  const covers: Uint8Array[] = [];
  const clipped: Float32Array[] = [];
  const moving: Float32Array[] = [];
  const dust: Float32Array[] = [];
  const thingMm = new Float32Array(grid.width * grid.height);
  plan.frames.forEach((source, k) => {
    const placed = placeFrame(plan, plan.canvas, region, k, toneTable(plan, k, bits), read);
    const n = grid.width * grid.height;
    const target = ideal.fringed ?? ideal.rgb;
    errors.push(placed ? cellDifference(placed.rgb, target, region) : new Float32Array(n).fill(1));
    const inside = placed ? meanCells(grid, region, 1, (i) => placed.inside[i]!) : new Float32Array(n);
    covers.push(Uint8Array.from(inside, (v) => (v > 0.999 ? 1 : 0)));
    clipped.push(placed ? meanCells(grid, region, 1, (i) => placed.clipped[i]!) : new Float32Array(n));
    const { cover, depthMm } = movingThings(plan, source.shot, region);
    moving.push(meanCells(grid, region, 1, (i) => cover[i]!));
    for (let c = 0; c < thingMm.length; c++) thingMm[c] ||= depthMm[centreOf(grid, region, c)]!;
    dust.push(dustCells(plan, k, region, grid));
  });
  const mean = meanCells(grid, region, 3, (i) => ideal.rgb[i]!);
  const square = meanCells(grid, region, 3, (i) => ideal.rgb[i]! ** 2);
  const { fringed } = ideal;
  return {
    errors,
    covers,
    clipped,
    moving,
    dust,
    depthMm: Float32Array.from(mean, (_, c) => ideal.depthMm[centreOf(grid, region, c)]!),
    thingMm,
    detail: square.map((v, i) => Math.sqrt(Math.max(0, v - mean[i]! ** 2))),
    fringe: fringed
      ? meanCells(grid, region, 3, (i) => (fringed[i]! - ideal.rgb[i]!) ** 2).map(Math.sqrt)
      : new Float32Array(mean.length),
    clippedEverywhere: meanCells(grid, region, 1, (i) => (ideal.leastExposed[i]! >= 1 ? 1 : 0)),
  };
}

function centreOf(grid: CellGrid, region: Region, cell: number): number {
  const x = cell % grid.width;
  const y = (cell - x) / grid.width;
  return (y * CELL + 2) * region.width + x * CELL + 2;
}

/** Mean over each cell of a value per sample, `channels` samples to a pixel. */
function meanCells(grid: CellGrid, region: Region, channels: number, value: (i: number) => number): Float32Array {
  const out = new Float32Array(grid.width * grid.height);
  const weight = 1 / (CELL * CELL * channels);
  for (let y = 0; y < grid.height * CELL; y++) {
    const row = Math.floor(y / CELL) * grid.width;
    for (let x = 0; x < grid.width * CELL; x++) {
      const cell = row + Math.floor(x / CELL);
      const at = (y * region.width + x) * channels;
      for (let c = 0; c < channels; c++) out[cell] = out[cell]! + weight * value(at + c);
    }
  }
  return out;
}

function dustCells(plan: SetPlan, frame: number, region: Region, grid: CellGrid): Float32Array {
  const out = new Float32Array(grid.width * grid.height);
  const { view, sensor } = shotOf(plan, frame);
  if (sensor.dust.length === 0) return out;
  const rays = makeRayRow(1);
  for (let c = 0; c < out.length; c++) {
    const x = c % grid.width;
    const y = (c - x) / grid.width;
    castRow(plan.canvas, region.y + y * CELL + 2, region.x + x * CELL + 1.5, 1, 1, rays);
    const at = projectRay(view, rays.x[0]!, rays.y[0]!, rays.z[0]!);
    if (at) out[c] = 1 - dustAt(sensor.dust, at[0], at[1]);
  }
  return out;
}

/**
 * Lays surveys of regions together and smooths the errors over 3 × 3 cells.
 * @param bytes allocates memory; on shared memory the facts can be handed to other threads without copying
 */
export function joinFacts(
  plan: SetPlan,
  parts: readonly { readonly region: Region; readonly facts: CellFacts }[],
  bytes: (length: number) => ArrayBufferLike = (length) => new ArrayBuffer(length),
): CellFacts {
  const grid = cellGrid(plan.canvas.width, plan.canvas.height);
  const n = grid.width * grid.height;
  const place = <T extends Float32Array | Uint8Array>(out: T, pick: (facts: CellFacts) => T): T => {
    for (const { region, facts } of parts) {
      const width = Math.floor(region.width / CELL);
      const height = Math.floor(region.height / CELL);
      for (let y = 0; y < height; y++) {
        const at = (region.y / CELL + y) * grid.width + region.x / CELL;
        out.set(pick(facts).subarray(y * width, (y + 1) * width), at);
      }
    }
    return out;
  };
  const floats = (pick: (facts: CellFacts) => Float32Array): Float32Array =>
    place(new Float32Array(bytes(4 * n)), pick);
  const smoothed = (pick: (facts: CellFacts) => Float32Array): Float32Array => {
    const out = floats(pick);
    out.set(smoothCells(out, grid));
    return out;
  };
  const frames = plan.frames.map((_, k) => k);
  return {
    errors: frames.map((k) => smoothed((f) => f.errors[k]!)),
    covers: frames.map((k) => place(new Uint8Array(bytes(n)), (f) => f.covers[k]!)),
    clipped: frames.map((k) => floats((f) => f.clipped[k]!)),
    moving: frames.map((k) => floats((f) => f.moving[k]!)),
    dust: frames.map((k) => floats((f) => f.dust[k]!)),
    depthMm: floats((f) => f.depthMm),
    thingMm: floats((f) => f.thingMm),
    detail: floats((f) => f.detail),
    fringe: floats((f) => f.fringe),
    clippedEverywhere: floats((f) => f.clippedEverywhere),
  };
}

/** The whole canvas from its facts. */
export function surveyOf(plan: SetPlan, facts: CellFacts): Survey {
  return { ...facts, plan, grid: cellGrid(plan.canvas.width, plan.canvas.height) };
}

/** The survey with only some of the frames: what it would be had the others never been taken. */
export function withFrames(survey: Survey, kept: readonly number[]): Survey {
  const pick = <T>(list: readonly T[]): T[] => kept.map((k) => list[k]!);
  return {
    ...survey,
    plan: { ...survey.plan, frames: pick(survey.plan.frames) },
    errors: pick(survey.errors),
    covers: pick(survey.covers),
    clipped: pick(survey.clipped),
    moving: pick(survey.moving),
    dust: pick(survey.dust),
  };
}

/** Radius in px of the blur disc of a cell in a delivered frame. */
export function cellBlurPx({ plan, depthMm }: Survey, frame: number, cell: number): number {
  return blurRadiusPx(shotOf(plan, frame), depthMm[cell]!);
}
