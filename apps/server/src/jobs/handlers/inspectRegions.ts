// Tasks of inspecting a merge beside its frames.
import {
  detectionInFullPx,
  detectionInWorkingPx,
  mergeDefects,
  isRelated,
  regionDefects,
  regionEvidence,
  regionInWorkingPx,
  surveyFrame,
  twoGrids,
  type Detection,
  type MergeKind,
  type SetFacts,
  type TwoGrids,
} from '@blendrak/core/inspect';
import { finenessSamples, FULL_SIZE, gatherCells, grainSamples, type CellStack } from '@blendrak/core/cells';
import { findMat, type Region } from '@blendrak/core/image';
import { CELL_PX } from '@blendrak/core/kernels';
import { probeCells, traceDetection } from '@blendrak/core/trace';
import { threadKernels } from '../kernelHost';
import type { InspectionScene, TaskRequest, TaskResponse } from '../protocol';
import { donorFrames, placedFrame, plainFrame, repairedFrame, tileFile } from '../sources';
import { colourPlanes, levelFor, levelNoise, lumaPlane } from '../workingLevels';
import { withMargin } from './mergeRegions';
import { measureNoise } from './storePicture';
import { renderPatches } from './renderTile';

/** Surveys look at frames of at most so many px: what is fixed on a sensor is larger than a few of its pixels. */
const SURVEY_LONG_SIDE = 1700;

export function surveyTask({ kind, picture }: TaskRequest<'survey'>): TaskResponse<'survey'> {
  const file = tileFile(picture.tiles);
  const level = levelFor(file, SURVEY_LONG_SIDE);
  return surveyFrame(kind, {
    width: file.width,
    height: file.height,
    luma: lumaPlane(file, level),
    unitPx: 2 ** level,
    noise: levelNoise(picture, level),
  });
}

/** A mat is looked for on a level of about this size; where it ends is known to a px of it. */
const MAT_LONG_SIDE = 1700;
/** What a mat's edge may lend to the cells beside it. */
const MAT_REACH_PX = 28;

export function matTask({ merge }: TaskRequest<'mat'>): Region | null {
  const file = tileFile(merge.tiles);
  const { unit, planes } = colourPlanes(file, levelFor(file, MAT_LONG_SIDE));
  const found = findMat(planes);
  if (!found) return null;
  const inward = (v: number): number => Math.ceil((v * unit + unit + MAT_REACH_PX) / CELL_PX) * CELL_PX;
  const [x, y] = [inward(found.x), inward(found.y)];
  const outward = (v: number): number => Math.floor((v * unit - unit - MAT_REACH_PX) / CELL_PX) * CELL_PX;
  return { x, y, width: outward(found.x + found.width) - x, height: outward(found.y + found.height) - y };
}

export function finenessTask({ frames, unitPx, region }: TaskRequest<'fineness'>): TaskResponse<'fineness'> {
  // Frames alone tell: the merge need not be read, nor anything compared with it.
  const working = { unitPx, noiseShare: 1 };
  return finenessSamples(gatherCells(threadKernels(), null, frames.map(placedFrame), region, { working }));
}

export function noiseInTask({ picture, unitPx }: TaskRequest<'noiseIn'>): TaskResponse<'noiseIn'> {
  return measureNoise(threadKernels(), tileFile(picture.tiles), unitPx);
}

export function grainTask({ scene, kind, working, region }: TaskRequest<'grain'>): TaskResponse<'grain'> {
  return grainSamples(readCells(scene, kind, region, { ...PLAIN, working }));
}

export function evidenceTask({ scene, facts, region, looking }: TaskRequest<'evidence'>): TaskResponse<'evidence'> {
  return regionEvidence(readCells(scene, facts.kind, region, facts), facts, region, looking);
}

export function detectTask({ maps, facts, yardsticks }: TaskRequest<'detect'>): readonly Detection[] {
  return mergeDefects(maps, facts, yardsticks);
}

export function traceTask(request: TaskRequest<'trace'>): TaskResponse<'trace'> {
  const { scene, facts, yardsticks, names } = request;
  const grids = gridsOf(scene, facts);
  const detection = detectionInWorkingPx(request.detection, grids);
  const stack = readCells(scene, facts.kind, onCells(detection.bbox), facts);
  return traceDetection(detection, stack, grids.working.width, yardsticks, names);
}

export function recheckTask(request: TaskRequest<'recheck'>): TaskResponse<'recheck'> {
  const { scene, facts, yardsticks, region } = request;
  const grids = gridsOf(scene, facts);
  const stack = readCells(scene, facts.kind, onCells(regionInWorkingPx(region, grids.unitPx)), facts);
  return regionDefects(stack, facts, yardsticks, grids.working.width, grids.working.height).map((d) =>
    detectionInFullPx(d, grids),
  );
}

function gridsOf({ merge }: InspectionScene, { working }: SetFacts): TwoGrids {
  const { width, height } = tileFile(merge.tiles);
  return twoGrids(width, height, working.unitPx);
}

export async function probeTask(request: TaskRequest<'probe'>): Promise<TaskResponse<'probe'>> {
  const { scene, kind, x, y, sizePx, icc } = request;
  const half = Math.max(CELL_PX, sizePx / 2);
  const region = onCells({ x: x - half, y: y - half, width: 2 * half, height: 2 * half });
  const measures = probeCells(readCells(scene, kind, clampTo(region, scene)), x, y, half);
  return { ...measures, ...(await renderPatches(donorFrames(scene), patchAt(request), icc)) };
}

/** The place whose pixels the frames are compared in: square, whole px, inside the merge. */
function patchAt({ scene, x, y, sizePx }: TaskRequest<'probe'>): Region {
  const { width, height } = plainFrame(scene.merge).source;
  const side = Math.min(Math.round(sizePx), width, height);
  const clamped = (middle: number, size: number): number =>
    Math.round(Math.min(size - side, Math.max(0, middle - side / 2)));
  return { x: clamped(x, width), y: clamped(y, height), width: side, height: side };
}

type Reading = Pick<SetFacts, 'grain' | 'inside' | 'working'>;

/** A merge as it lies there. */
const PLAIN: Reading = { grain: null, inside: null, working: FULL_SIZE };

/** Cells of a region, in working px, and a margin around it: the merge as repaired so far, and all frames. */
export function readCells(
  scene: InspectionScene,
  kind: MergeKind,
  region: Region,
  { grain, inside, working }: Reading = PLAIN,
): CellStack {
  const merge = repairedFrame(scene);
  const { width, height } = merge.source;
  const wide = withMargin(region, Math.floor(width / working.unitPx), Math.floor(height / working.unitPx));
  return gatherCells(threadKernels(), merge, scene.frames.map(placedFrame), wide, {
    relate: isRelated(kind),
    grain,
    inside,
    working,
  });
}

function onCells(r: Region): Region {
  const x = Math.floor(r.x / CELL_PX) * CELL_PX;
  const y = Math.floor(r.y / CELL_PX) * CELL_PX;
  return {
    x,
    y,
    width: Math.ceil((r.x + r.width - x) / CELL_PX) * CELL_PX,
    height: Math.ceil((r.y + r.height - y) / CELL_PX) * CELL_PX,
  };
}

function clampTo(r: Region, scene: InspectionScene): Region {
  const { width, height } = plainFrame(scene.merge).source;
  const x = Math.max(0, Math.min(r.x, Math.floor(width / CELL_PX) * CELL_PX - r.width));
  const y = Math.max(0, Math.min(r.y, Math.floor(height / CELL_PX) * CELL_PX - r.height));
  return { ...r, x, y };
}
