// A focus stack of a scene with its ground truth, one frame at a time.
import type { Raster } from '@blendrak/core/image';
import { blurDiameterPx, planShots, type CameraSettings, type Shot } from './camera';
import { cellError, cellGrid, CELL, smoothCells, type CellGrid } from './cells';
import { developCanonical, exposeCanvas, exposeFrame } from './exposeFrame';
import type { Scene } from './lampScene';
import { depthMap, paintScene, type Canvas } from './paintScene';

/** A scene painted for a size, ready to be photographed. */
export interface Studio {
  readonly scene: Scene;
  readonly camera: CameraSettings;
  readonly width: number;
  readonly height: number;
  readonly canvas: Canvas;
  readonly shots: readonly Shot[];
  /** The all-sharp picture, noise-free, sRGB-encoded, in canonical geometry. */
  readonly ideal: Raster;
}

/** One frame and what is known about it. */
export interface RenderedFrame {
  readonly index: number;
  readonly focusMm: number;
  readonly pixels: Uint8Array | Uint16Array;
  /** Mean squared error against the ideal per cell, in canonical geometry, without noise, lightly smoothed. */
  readonly cellError: Float32Array;
}

/** What the frames of a set look like beside the ideal. */
export interface StackTruth {
  readonly grid: CellGrid;
  /** Depth in mm at each cell's centre. */
  readonly depthMm: Float32Array;
  readonly focusMm: readonly number[];
  readonly cellErrors: readonly Float32Array[];
  /** Frame with the least error per cell. */
  readonly best: Uint8Array;
}

/**
 * Paints a scene and plans the series.
 * @param count frames of the series, evenly spaced in dioptres
 * @param seed of pose, flicker and noise; the scene has its own
 */
export function openStudio(
  scene: Scene,
  camera: CameraSettings,
  width: number,
  height: number,
  count: number,
  seed: number,
  onProgress?: (share: number) => void,
): Studio {
  // Breathing shows up to 2.5 % more at the far end, blur draws from beyond that, jitter adds its share.
  const rimPx = Math.ceil(Math.max(width, height) * 0.02 + 40);
  const canvas = paintScene(scene, width, height, rimPx, onProgress);
  const shots = planShots(camera, scene.nearMm, scene.farMm, count, seed, width, height);
  const ideal = developCanonical(exposeCanvas(canvas, camera, width, null), rimPx, width, height);
  return { scene, camera, width, height, canvas, shots, ideal };
}

/** Photographs frame `index` of the series. */
export function shootFrame(studio: Studio, index: number, bits: 8 | 16): RenderedFrame {
  const { canvas, camera, width, height, ideal } = studio;
  const shot = studio.shots[index]!;
  const light = exposeCanvas(canvas, camera, width, shot.focusMm);
  const pixels = exposeFrame(light, canvas.rimPx, width, height, camera, shot, bits);
  const canonical = developCanonical(light, canvas.rimPx, width, height);
  return {
    index,
    focusMm: shot.focusMm,
    pixels,
    cellError: smoothCells(cellError(canonical, ideal), cellGrid(width, height)),
  };
}

/** Depth in mm at each cell's centre. */
export function cellDepths(studio: Studio): Float32Array {
  const grid = cellGrid(studio.width, studio.height);
  const depths = depthMap(studio.canvas, studio.width);
  const out = new Float32Array(grid.width * grid.height);
  for (let y = 0; y < grid.height; y++) {
    for (let x = 0; x < grid.width; x++) {
      const row = y * CELL + 2 + studio.canvas.rimPx;
      out[y * grid.width + x] = depths[row * studio.canvas.width + x * CELL + 2 + studio.canvas.rimPx]!;
    }
  }
  return out;
}

/**
 * Gathers the truth of a set.
 * @param depthMm depth per cell
 * @param frames focus distance and error per cell of each frame, in shooting order; frames may be left out
 */
export function gatherTruth(
  grid: CellGrid,
  depthMm: Float32Array,
  frames: readonly { readonly focusMm: number; readonly cellError: Float32Array }[],
): StackTruth {
  const cellErrors = frames.map((f) => f.cellError);
  const best = new Uint8Array(depthMm.length);
  for (let i = 0; i < best.length; i++) {
    for (let k = 1; k < cellErrors.length; k++) {
      if (cellErrors[k]![i]! < cellErrors[best[i]!]![i]!) best[i] = k;
    }
  }
  return { grid, depthMm, focusMm: frames.map((f) => f.focusMm), cellErrors, best };
}

/** Radius in px of the blur disc of a cell in a frame of the truth's set. */
export function blurRadiusPx(camera: CameraSettings, truth: StackTruth, frame: number, cell: number): number {
  return blurDiameterPx(camera, truth.depthMm[cell]!, truth.focusMm[frame]!) / 2;
}
