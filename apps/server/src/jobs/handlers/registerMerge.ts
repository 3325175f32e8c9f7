// Tasks `matchMerge`, `canvas` and `mergeTies`: where frames lie in a merge made elsewhere.
import {
  alignLevel,
  fitCanvas,
  matchPoints,
  measureTies,
  estimateHomography,
  type AlignLevel,
  type FittedCanvas,
  type ShiftTie,
} from '@blendrak/core/align';
import {
  canTouch,
  coveredCells,
  footprintOf,
  invertMatrix,
  warpFrameLuma,
  type AlignedFrame,
} from '@blendrak/core/frame';
import type { Plane, Region } from '@blendrak/core/image';
import { CELL_PX, planeView } from '@blendrak/core/kernels';
import { threadKernels } from '../kernelHost';
import type { MatchedMerge, TaskRequest } from '../protocol';
import { placedFrame, plainFrame } from '../sources';
import { levelNoise, WORK_LONG_SIDE } from '../workingLevels';

/** A match may lie this share of the frame's length from its place: a homography does not bend as a canvas does. */
const TOLERANCE = 0.012;

export function matchMergeTask({ merge, frame, size }: TaskRequest<'matchMerge'>): MatchedMerge | null {
  const matches = matchPoints(threadKernels(), merge, frame);
  const related = estimateHomography(
    merge,
    frame,
    matches,
    TOLERANCE * Math.max(size.width, size.height),
    size.width,
    size.height,
  );
  if (!related) return null;
  return {
    matrix: invertMatrix(related.matrix),
    scale: 1 / related.scale,
    turnRad: -related.turnRad,
    places: related.inliers.map((m) => {
      const [p, q] = [merge[m.a]!, frame[m.b]!];
      return [p.x, p.y, q.x, q.y] as const;
    }),
  };
}

export function canvasTask({ ties, down, focalPx, unitPx }: TaskRequest<'canvas'>): FittedCanvas | null {
  return fitCanvas(ties, down, focalPx, unitPx);
}

const COARSE_LONG_SIDE = 450;
const LEAST_SIDE_PX = 48;
/** Detail beside the frame's own rim leans on what is not there. */
const RIM_CELLS = 3;

export function mergeTiesTask({ merge, frame, fine }: TaskRequest<'mergeTies'>): readonly ShiftTie[] {
  const whole = plainFrame(merge);
  const placed = placedFrame(frame);
  const region = commonRegion(whole, placed);
  if (!region) return [];
  const unit = 2 ** Math.max(0, Math.ceil(Math.log2(Math.max(region.width, region.height) / WORK_LONG_SIDE)));
  const part = {
    x: Math.floor(region.x / unit),
    y: Math.floor(region.y / unit),
    width: Math.floor(region.width / unit),
    height: Math.floor(region.height / unit),
  };
  if (Math.min(part.width, part.height) < LEAST_SIDE_PX) return [];
  const level = Math.log2(unit);
  const of = (picture: AlignedFrame, noise: number): AlignLevel =>
    alignLevel(threadKernels(), lumaOf(picture, part, unit), noise, fine ? Infinity : COARSE_LONG_SIDE);
  const [pick, moving] = [of(whole, levelNoise(merge, level)), of(placed, levelNoise(frame, level))];
  const { width, height } = pick.detail;
  const use = coverage(placed, part, unit, pick.factor, width, height);
  const px = unit * pick.factor;
  const [left, top] = [part.x * unit, part.y * unit];
  return measureTies({ ...pick, use }, moving, px, (x, y) => [x, y]).map(({ x, y, u, v, hxx, hyy }) => ({
    x: x + left,
    y: y + top,
    u: u + left,
    v: v + top,
    weight: (hxx + hyy) / 2,
  }));
}

/** The part of the merge that a frame can be seen in, full-size px; null for none. */
function commonRegion(whole: AlignedFrame, frame: AlignedFrame): Region | null {
  const { width, height } = whole.source;
  const all = { x: 0, y: 0, width, height };
  const footprint = footprintOf(frame.geometry, frame.source);
  if (!footprint) return all;
  if (!canTouch(footprint, all)) return null;
  const x = Math.max(0, footprint.x);
  const y = Math.max(0, footprint.y);
  return {
    x,
    y,
    width: Math.min(width, footprint.x + footprint.width) - x,
    height: Math.min(height, footprint.y + footprint.height) - y,
  };
}

function lumaOf(picture: AlignedFrame, part: Region, unit: number): Plane {
  const kernels = threadKernels();
  const data = kernels.scope(() => planeView(kernels, warpFrameLuma(kernels, picture, part, unit)).slice());
  return { width: part.width, height: part.height, data };
}

/** 1 where the frame covers a px of the level and its surroundings. */
function coverage(
  { geometry, source }: AlignedFrame,
  part: Region,
  unit: number,
  factor: number,
  width: number,
  height: number,
): Uint8Array {
  const perCell = CELL_PX / (unit * factor);
  const cells: Region = {
    x: Math.floor((part.x * unit) / CELL_PX) - RIM_CELLS,
    y: Math.floor((part.y * unit) / CELL_PX) - RIM_CELLS,
    width: Math.ceil((part.width * unit) / CELL_PX) + 2 * RIM_CELLS + 1,
    height: Math.ceil((part.height * unit) / CELL_PX) + 2 * RIM_CELLS + 1,
  };
  const covered = coveredCells(geometry, source, cells);
  const reach = Math.max(RIM_CELLS, Math.ceil(6 / perCell));
  const [right, bottom] = [cells.width - 1, cells.height - 1];
  const at = (x: number, y: number): number =>
    covered[Math.min(bottom, Math.max(0, y)) * cells.width + Math.min(right, Math.max(0, x))]!;
  const inner = covered.map((_, i) => {
    const [x, y] = [i % cells.width, Math.floor(i / cells.width)];
    return at(x, y) & at(x - reach, y) & at(x + reach, y) & at(x, y - reach) & at(x, y + reach);
  });
  const cellAlong = (length: number, offset: number, last: number): Int32Array =>
    Int32Array.from({ length }, (_, k) => Math.min(last, Math.max(0, Math.floor((k + 0.5) / perCell + offset))));
  const columns = cellAlong(width, (part.x * unit) / CELL_PX - cells.x, right);
  const rows = cellAlong(height, (part.y * unit) / CELL_PX - cells.y, bottom);
  const use = new Uint8Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) use[y * width + x] = inner[rows[y]! * cells.width + columns[x]!]!;
  return use;
}
