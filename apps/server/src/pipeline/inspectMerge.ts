// Step: a merge of any kind inspected against its frames.
import type { FirstLook } from '@blendrak/contract';
import {
  drawLookMaps,
  explanation,
  mapInFullPx,
  type ExplanationMaps,
  type LookMaps,
  type SetFacts,
  type Yardsticks,
} from '@blendrak/core/inspect';
import { lookThrough, type InspectedFinding, type LookOrder } from './lookThrough';
import type { StepContext } from './types';
import { workingPxIn, workingPxOf } from './workingPx';

/** What an inspection knows of its merge, whatever it found. */
export interface Inspection {
  readonly facts: SetFacts;
  readonly yardsticks: Yardsticks;
  /** Cells across and down. */
  readonly width: number;
  readonly height: number;
  /** Which frame each cell shows, as far as the pictures tell. */
  readonly explanation: ExplanationMaps;
  /** What people look at of the evidence. */
  readonly lookMaps: LookMaps;
  /** Most visible first. */
  readonly findings: readonly InspectedFinding[];
  /** Share of the merge that each frame supplied, by inferred provenance. */
  readonly shares: readonly number[];
}

/** What a first look at a small picture of a merge shows, in px of the merge. */
export type FirstSeen = Omit<FirstLook, 'pictureId'>;

/** Told of a first look, where the whole takes long enough for one. */
export type OnFirst = (seen: FirstSeen) => void;

/** A merge that is to be inspected. */
export interface InspectionOrder extends LookOrder {
  readonly onFirst?: OnFirst;
}

/** The first look is in px of so many by as many: a sixteenth of the work. */
const FIRST_PX = 4;
/** It has to be worth its time, and its picture large enough to show anything: long side of the merge, px. */
const FIRST_FROM = 4000;

/** Looks at the whole merge; where that takes long, at a small picture of it before. */
export async function inspectMerge(order: InspectionOrder, context: StepContext): Promise<Inspection> {
  const { merge, width, height, frames, onFirst } = order;
  const { run, signal, onProgress } = context;
  const mat = await run('mat', { merge }, signal);
  const whole = mat ?? { x: 0, y: 0, width, height };
  const working = await workingPxOf(frames, whole, context);
  if (onFirst && working.unitPx === 1 && Math.max(whole.width, whole.height) >= FIRST_FROM) {
    onProgress(0.01, 'first look, at a small picture');
    const first = await workingPxIn(frames, FIRST_PX, context);
    const quiet = { ...context, onProgress: () => undefined };
    const { findings } = await lookThrough(order, mat, first, false, quiet);
    onFirst({ width, height, findings: findings.map(glimpse) });
  }
  const { grids, facts, yardsticks, maps, findings } = await lookThrough(order, mat, working, true, context);
  onProgress(1, 'inspected');
  const inFullPx = <M extends LookMaps | ExplanationMaps>(all: M): M =>
    Object.fromEntries(Object.entries(all).map(([name, map]) => [name, mapInFullPx(map, grids)])) as M;
  const explained = inFullPx(maps.layers[explanation.name] as ExplanationMaps);
  return {
    facts,
    yardsticks,
    ...grids.full,
    explanation: explained,
    lookMaps: inFullPx(drawLookMaps(maps, facts, yardsticks)),
    findings,
    shares: sharesOf(explained.closest, frames.length),
  };
}

function glimpse({ detection, traced }: InspectedFinding): FirstSeen['findings'][number] {
  return { defect: detection.defect, bbox: detection.bbox, severity: traced.severity };
}

function sharesOf(closest: Uint8Array, count: number): number[] {
  const counts = new Array<number>(count).fill(0);
  for (const label of closest) if (label < count) counts[label]!++;
  return counts.map((c) => c / closest.length);
}
