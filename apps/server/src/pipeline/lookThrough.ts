// Step within an inspection: all of a merge looked through once in px of one size, up to findings with the frames behind them.
import { grainOf, type Grain, type GrainSample, type WorkingPx } from '@blendrak/core/cells';
import { focusAxis } from '@blendrak/core/defocus';
import {
  calibrate,
  detectionInFullPx,
  emptyEvidence,
  hasSurveys,
  joinSurveys,
  missedLooking,
  narrowLooking,
  placeEvidence,
  startLooking,
  surenessOf,
  twoGrids,
  type Detection,
  type EvidenceMaps,
  type Looking,
  type MergeKind,
  type RegionEvidence,
  type SetFacts,
  type TwoGrids,
  type Yardsticks,
} from '@blendrak/core/inspect';
import { noticeableSteps, ON_SCREEN } from '@blendrak/core/print';
import { leastNoise, type Region } from '@blendrak/core/image';
import { CELL_PX } from '@blendrak/core/kernels';
import type { TracedFinding } from '@blendrak/core/trace';
import type { InspectionScene, StoredPicture } from '../jobs';
import { cellRegions } from './mergeStack';
import { placesOver } from './placesOver';
import { inParallel, saidDistance, type PlacedFrame, type StepContext } from './types';

export interface InspectedFinding {
  readonly detection: Detection;
  readonly traced: TracedFinding;
  /** How often findings like it are real, 0..1; what is reported is likelier real than not. */
  readonly confidence: number;
}

/** A merge with its frames, and how it is looked at. */
export interface LookOrder {
  readonly kind: MergeKind;
  readonly merge: StoredPicture;
  /** Of the merge, px. */
  readonly width: number;
  readonly height: number;
  readonly frames: readonly PlacedFrame[];
  /** Whether findings are told that nobody sees on a screen at full size; default not. */
  readonly alsoUnseen?: boolean;
}

/** What was seen. */
export interface LookedThrough {
  readonly grids: TwoGrids;
  readonly facts: SetFacts;
  readonly yardsticks: Yardsticks;
  readonly maps: EvidenceMaps;
  /** Most visible first, in px of the merge. */
  readonly findings: readonly InspectedFinding[];
}

const LIKELY = 0.5;
/** Frames that a survey looks at, spread over the set. */
const MOST_SURVEYED = 16;

/**
 * Surveys of the frames, one pass over all regions, detectors, and the frames behind each finding.
 * @param mat what of the merge is picture, px; null for all of it
 * @param surveyed whether frames are looked at by themselves as well; without, what lies on a sensor is not told
 * Memory: maps of 20 to 50 bytes per 16 px, and per running task what one 1 MP region of the frames that reach it needs.
 */
export async function lookThrough(
  { kind, merge, width, height, frames, alsoUnseen = false }: LookOrder,
  mat: Region | null,
  working: WorkingPx,
  surveyed: boolean,
  context: StepContext,
): Promise<LookedThrough> {
  const { run, signal, onProgress, parallel } = context;
  const scene = { merge, frames, operations: [] };
  const grids = twoGrids(width, height, working.unitPx);
  const size = { width: Math.floor(width / working.unitPx), height: Math.floor(height / working.unitPx) };
  const inside = mat && within(mat, working.unitPx);
  // What surveys saw is joined in this thread, while others look for grain.
  const [seen, grain] = await Promise.all([
    surveyed ? surveys(kind, frames, working, context) : {},
    ownGrain(kind, scene, working, inside ?? { x: 0, y: 0, ...size }, context),
  ]);
  const axis = kind === 'focus-stack' ? focusAxis(frames, frames.map(saidDistance)) : null;
  const facts: SetFacts = { kind, inside, working, axis, surveys: seen, grain };
  const maps = shared(emptyEvidence(kind, grids.working.width, grids.working.height));
  const yardsticks = await onePass(scene, facts, maps, size.width, size.height, context);
  const found = await run('detect', { maps, facts, yardsticks }, signal);
  const detections = found.map((d) => detectionInFullPx(d, grids));
  onProgress(0.85, 'defects looked for');
  const names = frames.map((f) => f.name);
  let done = 0;
  const all = await inParallel(detections, parallel, async (detection): Promise<InspectedFinding> => {
    const traced = await run('trace', { scene, facts, yardsticks, detection, names }, signal);
    onProgress(0.85 + (0.15 * ++done) / detections.length, `traced ${done} of ${detections.length} findings`);
    const { defect, confidence: evidence } = detection;
    const steps = noticeableSteps(traced.sight, ON_SCREEN);
    return { detection, traced, confidence: surenessOf({ kind, defect, evidence, steps }) };
  });
  const findings = all
    .filter(({ traced, confidence }) => confidence >= LIKELY && (alsoUnseen ? traced.isReal : traced.isVisible))
    .sort((a, b) => b.traced.severity - a.traced.severity);
  return { grids, facts, yardsticks, maps, findings };
}

async function surveys(
  kind: MergeKind,
  frames: readonly PlacedFrame[],
  working: WorkingPx,
  { run, signal, onProgress, parallel }: StepContext,
): Promise<SetFacts['surveys']> {
  if (!hasSurveys(kind)) return {};
  const every = Math.max(1, Math.ceil(frames.length / MOST_SURVEYED));
  const isLookedAt = (k: number): boolean => k % every === 0;
  const some = frames.filter((_, k) => isLookedAt(k)).length;
  let done = 0;
  const looks = await inParallel([...frames.entries()], parallel, async ([k, picture]) => {
    if (!isLookedAt(k)) return null;
    const look = await run('survey', { kind, picture }, signal);
    onProgress((0.1 * ++done) / some, `looked at ${done} of ${some} frames by themselves`);
    return look;
  });
  return joinSurveys(kind, looks, frames, working);
}

/** Largest region of whole cells in working px that lies within one of the merge. */
function within({ x, y, width, height }: Region, unitPx: number): Region {
  const px = CELL_PX * unitPx;
  const [left, top] = [Math.ceil(x / px) * CELL_PX, Math.ceil(y / px) * CELL_PX];
  return {
    x: left,
    y: top,
    width: Math.floor((x + width) / px) * CELL_PX - left,
    height: Math.floor((y + height) / px) * CELL_PX - top,
  };
}

/**
 * The grain that a merge has of its own, told from places all over it.
 * @param whole what of it is picture, working px
 */
async function ownGrain(
  kind: MergeKind,
  scene: InspectionScene,
  working: WorkingPx,
  whole: Region,
  { run, signal, parallel }: StepContext,
): Promise<Grain | null> {
  const samples: GrainSample[] = [];
  await inParallel(placesOver(whole), parallel, async (region) => {
    samples.push(...(await run('grain', { scene, kind, working, region }, signal)));
  });
  return grainOf(samples, leastNoise(scene.frames.map((f) => f.noise)));
}

/** Measures all regions; once more where layers that narrowed their search had looked for too little. */
async function onePass(
  scene: InspectionScene,
  facts: SetFacts,
  maps: EvidenceMaps,
  width: number,
  height: number,
  { run, signal, onProgress, parallel }: StepContext,
): Promise<Yardsticks> {
  const { kind } = facts;
  const regions = cellRegions(width, height);
  const lookAtAll = async (start: Looking): Promise<{ looked: Looking; yardsticks: Yardsticks }> => {
    let looking = start;
    let done = 0;
    const seen: RegionEvidence['samples'][] = [];
    await inParallel(regions, parallel, async (region) => {
      const part = await run('evidence', { scene, facts, region, looking }, signal);
      placeEvidence(maps, part.maps, region, region);
      onProgress(0.1 + (0.7 * ++done) / regions.length, `inspected part ${done} of ${regions.length}`);
      seen.push(part.samples);
      looking = narrowLooking(kind, looking, seen);
    });
    return { looked: looking, yardsticks: calibrate(kind, seen) };
  };
  const first = await lookAtAll(startLooking(kind));
  const missed = missedLooking(kind, first.looked, first.yardsticks);
  return missed ? (await lookAtAll(missed)).yardsticks : first.yardsticks;
}

/** The same maps on memory that workers see without copying. */
function shared(maps: EvidenceMaps): EvidenceMaps {
  const move = <T extends Uint8Array | Float32Array>(data: T): Uint8Array | Float32Array => {
    const buffer = new SharedArrayBuffer(data.byteLength);
    const out = data instanceof Uint8Array ? new Uint8Array(buffer) : new Float32Array(buffer);
    out.set(data);
    return out;
  };
  const layers = Object.fromEntries(
    Object.entries(maps.layers).map(([name, layer]) => [
      name,
      Object.fromEntries(Object.entries(layer).map(([key, data]) => [key, move(data)])),
    ]),
  );
  return { ...maps, layers };
}
