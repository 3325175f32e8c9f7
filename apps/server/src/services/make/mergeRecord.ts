// What is kept of a processed set: the record of its merge.
import type { MergeFrame } from '@blendrak/contract';
import type { Grain } from '@blendrak/core/cells';
import { centreShift, coveredShare, rotationDegOf, scaleOf, touchingSimilarity } from '@blendrak/core/frame';
import { LOOK_MAPS, type LookMapName } from '@blendrak/core/inspect';
import { measureBorders } from '@blendrak/core/merge';
import {
  fieldBend,
  knownResidual,
  type AlignedPanorama,
  type FailedFrame,
  type PlacedFrame,
  type ProcessedSet,
} from '../../pipeline';
import type { MergeBody, PanoramaCameras } from '../../storage';
import type { MergeRequest } from './mergeOrder';

/** Residual places kept per frame, and of all frames: enough for a map. */
const MOST_RESIDUALS = 240;
const MOST_OF_ALL = 12_000;

type FocusFacts = Extract<MergeBody['facts'], { kind: 'focus-stack' }>['focus'];

/** The record of a merge. */
export function mergeRecord(processed: ProcessedSet, request: MergeRequest): MergeBody {
  const { merge, frames, inspection, shares, own } = processed;
  const { id, elsewhere, mergeOptions, alignment, wantedReference, pictures } = request;
  const idOf = new Map(pictures.map((p) => [p.tiles, p.id]));
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
      surveys: { ...inspection.facts.surveys },
      working: inspection.facts.working,
      inside: inspection.facts.inside,
      grain: inspection.facts.grain && grainRecord(inspection.facts.grain),
      yardsticks: { ...inspection.yardsticks },
    },
    maps: lookMapsOf(processed).map(([name]) => name),
    facts: factsOf(processed),
    contrast: contrastOf(frames),
    frames: frames.map((f, k): MergeFrame => ({
      ...mergeFrame(f, idOf.get(f.tiles)!, shares?.[k] ?? 0, merge.width, merge.height),
      residuals: thinned(residuals(f, k), frames.length),
    })),
  };
}

/** The maps that people look at, in the order in which they are kept behind the label maps; none where those are of another grid. */
export function lookMapsOf({ shown, inspection }: ProcessedSet): readonly (readonly [LookMapName, Uint8Array])[] {
  if (!inspection || shown?.width !== inspection.width || shown.height !== inspection.height) return [];
  const { lookMaps } = inspection;
  return LOOK_MAPS.flatMap((name) => (lookMaps[name] ? [[name, lookMaps[name]] as const] : []));
}

function grainRecord({ pixel, bands: [fine, middle, coarse] }: Grain) {
  return { pixel: [...pixel], bands: [[...fine], [...middle], [...coarse]] satisfies [number[], number[], number[]] };
}

/** The local contrast of a merge: all of its frames have the same. */
function contrastOf([first]: readonly PlacedFrame[]): MergeBody['contrast'] {
  return first?.contrast ? { ...first.contrast, values: [...first.contrast.values] } : null;
}

/** A placed frame as a merge keeps it. */
function mergeFrame(
  frame: PlacedFrame,
  pictureId: string,
  share: number,
  width: number,
  height: number,
): Omit<MergeFrame, 'residuals'> {
  const { geometry, tone, grey, mix } = frame;
  const touching = touchingSimilarity(geometry, frame.width, frame.height);
  return {
    pictureId,
    fileName: frame.name,
    geometry: JSON.parse(JSON.stringify(geometry)) as MergeFrame['geometry'],
    tone: [[...tone[0]], [...tone[1]], [...tone[2]]],
    grey: grey ? [...grey] : null,
    mix: mix ? [...mix] : null,
    scale: scaleOf(touching),
    shiftPx: centreShift(touching, frame.width, frame.height),
    rotationDeg: rotationDegOf(touching),
    residualPx: knownResidual(frame),
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

function referenceOf({ aligned }: ProcessedSet): number {
  return aligned.kind === 'panorama' ? 0 : aligned.set.reference;
}

function camerasOf({ rig, down, uprightSupport, pairs, lines }: AlignedPanorama): PanoramaCameras {
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

function factsOf(processed: ProcessedSet): MergeBody['facts'] {
  const { aligned, own } = processed;
  const said = { failed: remarksOf(processed.failed), remarks: remarksOf(processed.remarks) };
  switch (aligned.kind) {
    case 'focus-stack': {
      const { kind, set } = aligned;
      const { model, bendPx } = set;
      return { kind, ...said, model, bendPx, borders: bordersOf(processed), focus: focusOf(processed) };
    }
    case 'panorama': {
      const { kind, set } = aligned;
      return {
        kind,
        ...said,
        bendPx: fieldBend(set.locals),
        borders: bordersOf(processed),
        composed: own?.kind === 'panorama' ? compositionOf(own) : null,
        cameras: own ? camerasOf(set) : null,
      };
    }
    case 'bracket': {
      const { kind, set } = aligned;
      const { model, bendPx, frames } = set;
      const moving = own?.kind === 'bracket' ? own.merged.moving : null;
      return { kind, ...said, model, bendPx, evs: frames.map((f) => f.ev), moving };
    }
  }
}

function bordersOf({ shown }: ProcessedSet): { parts: number; lengthPx: number } | null {
  return shown && measureBorders({ width: shown.width, height: shown.height, labels: shown.shown });
}

function focusOf({ inspection }: ProcessedSet): FocusFacts {
  const axis = inspection?.facts.axis;
  return axis ? { positions: [...axis.positions], source: axis.source } : null;
}

function compositionOf({ set, merged }: Extract<NonNullable<ProcessedSet['own']>, { kind: 'panorama' }>) {
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

function remarksOf(frames: readonly FailedFrame[]): { fileName: string; why: string }[] {
  return frames.map(({ name, why }) => ({ fileName: name, why }));
}

function thinned(places: readonly Place[], frames: number): [number, number, number][] {
  const most = Math.min(MOST_RESIDUALS, Math.ceil(MOST_OF_ALL / frames));
  const every = Math.max(1, Math.ceil(places.length / most));
  return places
    .filter((_, i) => i % every === 0)
    .map(([x, y, off]) => [Number(x.toFixed(1)), Number(y.toFixed(1)), Number(off.toFixed(3))]);
}
