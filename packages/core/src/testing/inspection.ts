// A small merge inspected in one go: cells, all layers of its kind, all detectors.
import { FULL_SIZE } from '../cells';
import { gatherCells, grainOf, grainSamples, type CellStack } from '../cells';
import type { AlignedFrame } from '../frame';
import type { Kernels } from '../kernels';
import {
  calibrate,
  evidenceOf,
  findDefects,
  isRelated,
  joinSurveys,
  measureRegion,
  surveyFrame,
  type Detection,
  type MergeKind,
  type SetFacts,
} from '../inspect';
import type { Plane } from '../image';
import { traceDetection, type TracedFinding } from '../trace';

export interface SmallInspection {
  readonly stack: CellStack;
  readonly found: readonly Detection[];
  trace(detection: Detection): TracedFinding;
}

/**
 * @param lumas of the frames as the surveys see them; none for sets that are not surveyed
 */
export function inspectSmall(
  kernels: Kernels,
  kind: MergeKind,
  merge: AlignedFrame,
  frames: readonly AlignedFrame[],
  lumas: readonly Plane[] = [],
): SmallInspection {
  const { width, height } = merge.source;
  const region = { x: 0, y: 0, width: width - (width % 4), height: height - (height % 4) };
  const relate = isRelated(kind);
  const plain = gatherCells(kernels, merge, frames, region, { relate });
  const grain = grainOf(grainSamples(plain), plain.noise);
  const stack = grain ? gatherCells(kernels, merge, frames, region, { relate, grain }) : plain;
  const looks = lumas.map((luma) =>
    surveyFrame(kind, { luma, unitPx: 1, noise: 1e-5, width: luma.width, height: luma.height }),
  );
  const sized = frames.map((f) => ({ geometry: f.geometry, width: f.source.width, height: f.source.height }));
  const facts: SetFacts = {
    kind,
    axis: kind === 'focus-stack' ? { positions: frames.map((_, k) => k), source: 'equal-steps' } : null,
    grain,
    inside: null,
    working: FULL_SIZE,
    surveys: looks.length > 0 ? joinSurveys(kind, looks, sized, FULL_SIZE) : {},
  };
  const { maps, samples } = measureRegion(stack, facts);
  const yardsticks = calibrate(kind, [samples]);
  const found = findDefects(evidenceOf(maps, facts, yardsticks));
  const names = frames.map((_, k) => `frame${k}`);
  return { stack, found, trace: (d) => traceDetection(d, stack, maps.width, yardsticks, names) };
}
