// Panoramas and brackets merged for a job, and what is kept of them.
import type { MergeFrame } from '@blendrak/contract';
import { centreShift, rotationDegOf, scaleOf, touchingSimilarity, coveredShare } from '@blendrak/core/frame';
import { CELL_PX } from '@blendrak/core/kernels';
import { measureBorders, type LabelGrid } from '@blendrak/core/merge';
import {
  alignBracket,
  alignPanorama,
  fieldBend,
  markSubject,
  mergeBracket,
  mergePanorama,
  type AlignmentOptions,
  type FailedFrame,
  type PlacedFrame,
} from '../../pipeline';
import { knownBracket, knownPanorama } from './knownAlignment';
import type { LabelMaps, MadeBody, MergeRequest } from './mergeOrder';

/** Residual places kept per frame, and of all frames: enough for a map. */
const MOST_RESIDUALS = 240;
const MOST_OF_ALL = 12_000;

/** A placed frame as a merge keeps it. */
export function mergeFrame(
  frame: PlacedFrame,
  pictureId: string,
  share: number,
  width: number,
  height: number,
  frames: number,
): Omit<MergeFrame, 'focusPosition'> {
  const { geometry, tone } = frame;
  const touching = touchingSimilarity(geometry, frame.width, frame.height);
  return {
    pictureId,
    fileName: frame.name,
    geometry: JSON.parse(JSON.stringify(geometry)) as MergeFrame['geometry'],
    tone: [[...tone[0]], [...tone[1]], [...tone[2]]],
    ev: null,
    residuals: thinned(
      (frame.blocks ?? []).map((b) => [b.x, b.y, Math.hypot(b.shiftX, b.shiftY)]),
      frames,
    ),
    scale: scaleOf(touching),
    shiftPx: centreShift(touching, frame.width, frame.height),
    rotationDeg: rotationDegOf(touching),
    residualPx: Number.isFinite(frame.residualPx) ? frame.residualPx : 0,
    correlation: frame.correlation,
    coverage: coveredShare(geometry, frame, { width, height }),
    share,
  };
}

export async function makePanorama(request: MergeRequest): Promise<MadeBody> {
  const { id, pictures, last, options, context, wantedReference, alignment, tiles } = request;
  const set = last ? knownPanorama(last, pictures) : await alignPanorama(pictures, alignment, context(0, 0.5));
  const merged = await mergePanorama(set, options, tiles, context(last ? 0 : 0.5, 0.97));
  const noise = await context(0, 0).run('noise', { tiles });
  const { width, height, light, layout } = merged;
  const borders = measureBorders(merged.grid);
  const idOf = new Map<string, string>(pictures.map((p) => [p.tiles, p.id]));
  const { rotations, focalPx, distortion } = set.rig;
  return {
    findings: [],
    labels: wholeCells(merged.grid, width, height),
    body: {
      ...common(width, height, noise, id),
      options,
      wantedReference,
      alignment,
      reference: 0,
      cameras: {
        rotations: rotations.map((r) => [...r]),
        focalPx: [...focalPx],
        distortion: [...distortion],
        down: [...set.down],
        uprightSupport: set.uprightSupport,
        pairs: set.pairs.map(([i, j]) => [i, j]),
        lines: set.lines.map((of) => of.map(([x, y, u, v]) => [x, y, u, v])),
      },
      facts: {
        parts: borders.parts,
        bordersPx: borders.lengthPx,
        ...saidOf(set.failed, set.remarks),
        panorama: {
          projection: merged.projection,
          projections: [...merged.projections],
          focalPx: layout.focalPx,
          lines: set.lines.reduce((n, of) => n + of.length, 0),
          distortion: [...distortion],
          vignetting: [...light.vignetting],
          lightResidual: light.residual,
          disagreement: merged.disagreement,
          uprightSupport: set.uprightSupport,
          cropLoss: layout.cropLoss,
        },
        moving: null,
        model: null,
        bendPx: fieldBend(set.locals),
      },
      frames: merged.frames.map((f, k): MergeFrame => ({
        ...mergeFrame(f, idOf.get(f.tiles)!, merged.shares[k]!, width, height, set.residuals.length),
        residuals: thinned(
          set.residuals[k]!.map(({ x, y, offPx }) => [x, y, offPx]),
          set.residuals.length,
        ),
        focusPosition: k,
      })),
    },
  };
}

export async function makeBracket(request: MergeRequest): Promise<MadeBody> {
  const { id, pictures, last, options, context, wantedReference, alignment, tiles } = request;
  const set = last
    ? knownBracket(last, pictures)
    : await alignBracket(pictures, await alignmentOf(request), context(0, 0.4));
  const merged = await mergeBracket(set, options, tiles, context(last ? 0 : 0.4, 0.97));
  const noise = await context(0, 0).run('noise', { tiles });
  const { width, height } = merged;
  return {
    findings: [],
    labels: null,
    body: {
      ...common(width, height, noise, id),
      options,
      wantedReference,
      alignment,
      reference: set.reference,
      cameras: null,
      facts: {
        parts: null,
        bordersPx: null,
        ...saidOf(set.failed, set.remarks),
        panorama: null,
        moving: merged.moving,
        model: set.model,
        bendPx: set.bendPx,
      },
      frames: set.frames.map((f, k): MergeFrame => ({
        ...mergeFrame(f, pictures[k]!.id, merged.shares[k]!, width, height, set.frames.length),
        ev: f.ev,
        focusPosition: k,
      })),
    },
  };
}

/** How a set is to be aligned, with its subject as a mask. */
export async function alignmentOf({
  alignment: { model, bendPx, subject },
  reference,
  pictures,
  context,
}: MergeRequest): Promise<AlignmentOptions> {
  const ids = pictures.map((p) => p.id);
  return { reference, model, bendPx, subject: await markSubject(subject, pictures, ids, context(0, 0)) };
}

function common(width: number, height: number, noise: readonly number[], id: string) {
  return {
    fileName: 'merge.tif',
    width,
    height,
    bits: 16 as const,
    noise: [...noise],
    axis: null,
    calibration: null,
    tilesId: id,
  };
}

function saidOf(failed: readonly FailedFrame[], remarks: readonly FailedFrame[]) {
  const list = (frames: readonly FailedFrame[]) => frames.map(({ name, why }) => ({ fileName: name, why }));
  return { failed: list(failed), remarks: list(remarks) };
}

function thinned(places: readonly (readonly [number, number, number])[], frames: number): [number, number, number][] {
  const most = Math.min(MOST_RESIDUALS, Math.ceil(MOST_OF_ALL / frames));
  const every = Math.max(1, Math.ceil(places.length / most));
  return places
    .filter((_, i) => i % every === 0)
    .map(([x, y, off]) => [Number(x.toFixed(1)), Number(y.toFixed(1)), Number(off.toFixed(3))]);
}

/** A grid of labels as the label maps of whole cells: what is shown is what is closest. */
function wholeCells(grid: LabelGrid, width: number, height: number): LabelMaps {
  const [w, h] = [Math.floor(width / CELL_PX), Math.floor(height / CELL_PX)];
  const map = new Uint8Array(w * h);
  for (let y = 0; y < h; y++) map.set(grid.labels.subarray(y * grid.width, y * grid.width + w), y * w);
  return { closest: map, shown: map };
}
