// What is kept of a processed set: the record of its merge.
import type { MergeFacts, MergeFrame } from '@blendrak/contract';
import { centreShift, coveredShare, rotationDegOf, scaleOf, touchingSimilarity } from '@blendrak/core/frame';
import { measureBorders } from '@blendrak/core/merge';
import { fieldBend, type FailedFrame, type PlacedFrame, type ProcessedSet } from '../../pipeline';
import type { MergeBody } from '../../storage';
import type { MergeRequest } from './mergeOrder';

/** Residual places kept per frame, and of all frames: enough for a map. */
const MOST_RESIDUALS = 240;
const MOST_OF_ALL = 12_000;

/** The record of a merge. */
export function mergeRecord(processed: ProcessedSet, request: MergeRequest): MergeBody {
  const { merge, frames, inspection, shares, own } = processed;
  const { id, elsewhere, mergeOptions, alignment, wantedReference, pictures } = request;
  const idOf = new Map(pictures.map((p) => [p.tiles, p.id]));
  const evs = evsOf(processed);
  const residuals = residualsOf(processed);
  return {
    fileName: merge.name,
    width: merge.width,
    height: merge.height,
    bits: merge.bits,
    noise: [...merge.noise],
    tilesId: elsewhere ? elsewhere.id : id,
    options: mergeOptions,
    wantedReference,
    alignment,
    reference: own ? own.profileOf : referenceOf(processed),
    inspection: inspection && {
      axis: inspection.facts.axis && {
        positions: [...inspection.facts.axis.positions],
        source: inspection.facts.axis.source,
      },
      surveys: { ...inspection.facts.surveys },
      yardsticks: { ...inspection.yardsticks },
    },
    cameras: own ? camerasOf(processed) : null,
    facts: factsOf(processed),
    frames: frames.map((f, k): MergeFrame => ({
      ...mergeFrame(f, idOf.get(f.tiles)!, shares?.[k] ?? 0, merge.width, merge.height),
      ev: evs[k] ?? null,
      focusPosition: inspection?.facts.axis?.positions[k] ?? k,
      residuals: thinned(residuals(f, k), frames.length),
    })),
  };
}

/** A placed frame as a merge keeps it. */
function mergeFrame(
  frame: PlacedFrame,
  pictureId: string,
  share: number,
  width: number,
  height: number,
): Omit<MergeFrame, 'focusPosition' | 'ev' | 'residuals'> {
  const { geometry, tone } = frame;
  const touching = touchingSimilarity(geometry, frame.width, frame.height);
  return {
    pictureId,
    fileName: frame.name,
    geometry: JSON.parse(JSON.stringify(geometry)) as MergeFrame['geometry'],
    tone: [[...tone[0]], [...tone[1]], [...tone[2]]],
    scale: scaleOf(touching),
    shiftPx: centreShift(touching, frame.width, frame.height),
    rotationDeg: rotationDegOf(touching),
    residualPx: Number.isFinite(frame.residualPx) ? frame.residualPx : 0,
    correlation: frame.correlation,
    coverage: coveredShare(geometry, frame, { width, height }),
    share,
  };
}

type Place = readonly [x: number, y: number, offPx: number];

/** Where each frame of the merge misses others. */
function residualsOf({ aligned, own }: ProcessedSet): (frame: PlacedFrame, index: number) => Place[] {
  if (aligned.kind !== 'panorama')
    return ({ blocks }) => (blocks ?? []).map((b) => [b.x, b.y, Math.hypot(b.shiftX, b.shiftY)]);
  const { residuals, pictures } = aligned.set;
  const at = new Map(pictures.map((p, k) => [p.tiles, k]));
  return ({ tiles }, index) => (residuals[own ? index : at.get(tiles)!] ?? []).map(({ x, y, offPx }) => [x, y, offPx]);
}

function evsOf({ aligned }: ProcessedSet): readonly number[] {
  return aligned.kind === 'bracket' ? aligned.set.frames.map((f) => f.ev) : [];
}

function referenceOf({ aligned }: ProcessedSet): number {
  return aligned.kind === 'panorama' ? 0 : aligned.set.reference;
}

function camerasOf({ aligned }: ProcessedSet): MergeBody['cameras'] {
  if (aligned.kind !== 'panorama') return null;
  const { rig, down, uprightSupport, pairs, lines } = aligned.set;
  return {
    rotations: rig.rotations.map((r) => [...r]),
    focalPx: [...rig.focalPx],
    distortion: [...rig.distortion],
    down: [...down],
    uprightSupport,
    pairs: pairs.map(([i, j]) => [i, j]),
    lines: lines.map((of) => of.map(([x, y, u, v]) => [x, y, u, v])),
  };
}

function factsOf({ aligned, own, shown, failed, remarks }: ProcessedSet): MergeFacts {
  const borders =
    shown && aligned.kind !== 'bracket'
      ? measureBorders({ width: shown.width, height: shown.height, labels: shown.shown })
      : null;
  return {
    parts: borders?.parts ?? null,
    bordersPx: borders?.lengthPx ?? null,
    failed: said(failed),
    remarks: said(remarks),
    panorama: own?.kind === 'panorama' ? panoramaFacts(own) : null,
    moving: own?.kind === 'bracket' ? own.merged.moving : null,
    model: aligned.kind === 'panorama' ? null : aligned.set.model,
    bendPx: aligned.kind === 'panorama' ? fieldBend(aligned.set.locals) : aligned.set.bendPx,
  };
}

function panoramaFacts({ set, merged }: Extract<NonNullable<ProcessedSet['own']>, { kind: 'panorama' }>) {
  const { layout, light } = merged;
  return {
    projection: merged.projection,
    projections: [...merged.projections],
    focalPx: layout.focalPx,
    lines: set.lines.reduce((n, of) => n + of.length, 0),
    distortion: [...set.rig.distortion] as [number, number],
    vignetting: [...light.vignetting] as [number, number],
    lightResidual: light.residual,
    disagreement: merged.disagreement,
    uprightSupport: set.uprightSupport,
    cropLoss: layout.cropLoss,
  };
}

function said(frames: readonly FailedFrame[]): { fileName: string; why: string }[] {
  return frames.map(({ name, why }) => ({ fileName: name, why }));
}

function thinned(places: readonly Place[], frames: number): [number, number, number][] {
  const most = Math.min(MOST_RESIDUALS, Math.ceil(MOST_OF_ALL / frames));
  const every = Math.max(1, Math.ceil(places.length / most));
  return places
    .filter((_, i) => i % every === 0)
    .map(([x, y, off]) => [Number(x.toFixed(1)), Number(y.toFixed(1)), Number(off.toFixed(3))]);
}
