// Step: an aligned panorama laid out, its light evened, seams found, blended; 16 bits.
import { renameSync } from 'node:fs';
import { fitGains, type FrameLight } from '@blendrak/core/align';
import type { Projection } from '@blendrak/core/frame';
import { gainTone, tileRegion } from '@blendrak/core/image';
import { CELL_PX } from '@blendrak/core/kernels';
import {
  cutLayout,
  fieldOfView,
  fitSoftness,
  layOutPanorama,
  NO_LABEL,
  turnedViews,
  type LabelGrid,
  type LayoutName,
  type PanoramaFrames,
  type PanoramaLayout,
  type SeamLabels,
} from '@blendrak/core/merge';
import { FLAT_LIMIT_DEG } from '@blendrak/core/plan';
import { createTileFile, InputError } from '../codecs';
import type { AlignedPanorama, FailedFrame } from './alignPanorama';
import { inParallel, type MergeSize, type PlacedFrame, type StepContext } from './types';

const LAYOUTS: readonly LayoutName[] = ['flat', 'cylindrical', 'spherical', 'repositioned'];

export interface PanoramaOptions {
  /** 'auto' takes the one that bends least for this field of view. */
  readonly projection: LayoutName | 'auto';
  /** Whether the merge is cut to the largest rectangle without empty places. */
  readonly crop: boolean;
  /** Whether gains, white balance and vignetting are evened out. */
  readonly evenLight: boolean;
}

export const PANORAMA_DEFAULTS: PanoramaOptions = { projection: 'auto', crop: true, evenLight: true };

/** A projection as it would come out. */
export interface ProjectionFigures {
  readonly projection: LayoutName;
  readonly width: number;
  readonly height: number;
  /** Ratio of lengths in the crop, most against middle. */
  readonly stretch: number;
  /** Share of the covered area that the crop loses. */
  readonly cropLoss: number;
  /** Largest bend of a straight line, as a share of its length. */
  readonly bend: number;
  /** How far neighbours miss each other, px. */
  readonly misfitPx: number;
}

export interface MergedPanorama {
  readonly width: number;
  readonly height: number;
  readonly projection: LayoutName;
  readonly frames: readonly PlacedFrame[];
  readonly grid: LabelGrid;
  /** Share of the merge per frame. */
  readonly shares: readonly number[];
  readonly light: FrameLight;
  readonly projections: readonly ProjectionFigures[];
  /** Mean difference of the frames under the seams, encoded. */
  readonly disagreement: number;
  /** Blur of each frame beyond that of the sharpest, variance in px². */
  readonly softness: readonly number[];
  readonly layout: PanoramaLayout;
}

const REGION_PX = 1024;
const BLEND_LEVELS = 5;
/** Cells of the search for seams, at most. */
const MOST_CELLS = 260_000;
const NO_LIGHT = (count: number): FrameLight => ({
  gains: Array.from({ length: count }, () => [1, 1, 1] as const),
  vignetting: [0, 0],
  residual: 0,
});
/** A flat picture wider than this stretches its sides to twice their size; a cylinder taller than this its top. */
const FLAT_FIELD_RAD = (96 * Math.PI) / 180;
const CYLINDER_FIELD_RAD = (75 * Math.PI) / 180;

/**
 * Merges a panorama into a tile file.
 * @param out path of the tile file; written beside it and renamed when complete
 * @throws InputError when the asked projection cannot show the set
 */
export async function mergePanorama(
  set: AlignedPanorama,
  options: PanoramaOptions,
  out: string,
  context: StepContext,
): Promise<MergedPanorama> {
  const { onProgress } = context;
  const light = options.evenLight ? await evenLight(set, context) : NO_LIGHT(set.pictures.length);
  onProgress(0.08, 'light measured');
  const projection = options.projection === 'auto' ? leastBending(set) : options.projection;
  const whole = layOutPanorama({ ...framesOf(set), vignetting: light.vignetting }, projection);
  if (!whole)
    throw new InputError(
      '--projection',
      `a flat picture cannot show this field of view`,
      `cylindrical or spherical for sets wider than ${FLAT_LIMIT_DEG}°`,
    );
  const layout = options.crop ? cutLayout(whole, whole.crop) : whole;
  const { width, height } = layout;
  const frames = set.pictures.map((picture, k) => ({
    ...picture,
    geometry: layout.views[k]!,
    tone: gainTone(light.gains[k]!),
    residualPx: set.residualPx[k]!,
    correlation: 1,
  }));
  const blended = await blendPanorama(frames, set.pairs, layout, out, context);
  const projections = compareProjections(set);
  const shares = sharesOf(blended.grid, frames.length);
  return { width, height, projection, frames, ...blended, shares, light, projections, layout };
}

/**
 * Blends frames that lie on their canvas: seams where they disagree least, softer frames only where no other covers.
 * @param pairs of frames that overlap
 * @param size of the canvas, px
 * @param out path of the tile file; written beside it and renamed when complete
 */
export async function blendPanorama(
  frames: readonly PlacedFrame[],
  pairs: AlignedPanorama['pairs'],
  { width, height }: MergeSize,
  out: string,
  context: StepContext,
): Promise<Pick<MergedPanorama, 'grid' | 'disagreement' | 'softness'>> {
  const { run, signal, onProgress } = context;
  const softness = await softnessOf(frames, pairs, width, height, context);
  const { labels: grid, disagreement } = await seams(frames, softness, width, height, context);
  const temporary = `${out}.part`;
  createTileFile(temporary, width, height, 16).close();
  const parts = tileRegion({ x: 0, y: 0, width, height }, REGION_PX);
  let done = 0;
  await inParallel(parts, context.parallel, async (region) => {
    await run('fuse', { frames, grid, regions: [region], out: temporary, levels: BLEND_LEVELS }, signal);
    onProgress(0.4 + (0.55 * ++done) / parts.length, `blended part ${done} of ${parts.length}`);
  });
  await run('pyramid', { tiles: temporary }, signal);
  renameSync(temporary, out);
  onProgress(1, 'merged');
  return { grid, disagreement, softness };
}

/** Blur beyond the sharpest frame's from which a frame is said to be soft, px²: 0.7 px of blur beside none is plain at 100 %. */
const SOFT_PX2 = 0.5;

/** Names the frames that are softer than others and were kept out of the picture where another covers. */
export function softRemarks({ frames, softness }: MergedPanorama): FailedFrame[] {
  return frames.flatMap(({ name }, k) =>
    softness[k]! > SOFT_PX2
      ? [
          {
            name,
            why: 'is softer than the sharpest frame (shaken, out of focus, or of a wider view): shown only where no other covers',
          },
        ]
      : [],
  );
}

/** What laying out wants to know of an aligned set. */
function framesOf(set: AlignedPanorama): PanoramaFrames {
  const { rig, down, lines, locals } = set;
  return { rig, down, lines, locals, sizes: set.pictures.map(({ width, height }) => ({ width, height })) };
}

/** The projection for a field of view: flat while it does not stretch, then a cylinder, for tall ones a sphere. */
function leastBending(set: AlignedPanorama): Projection {
  const field = fieldOfView(framesOf(set));
  if (Math.max(field.across, field.up) <= FLAT_FIELD_RAD) return 'flat';
  return field.up <= CYLINDER_FIELD_RAD ? 'cylindrical' : 'spherical';
}

/** All projections in numbers, without making them. */
export function compareProjections(set: AlignedPanorama): ProjectionFigures[] {
  return LAYOUTS.flatMap((projection) => {
    const layout = layOutPanorama(framesOf(set), projection);
    if (!layout) return [];
    const { crop, stretch, cropLoss, bend, misfitPx } = layout;
    return [{ projection, width: crop.width, height: crop.height, stretch, cropLoss, bend, misfitPx }];
  });
}

async function evenLight(set: AlignedPanorama, { run, signal }: StepContext): Promise<FrameLight> {
  const views = turnedViews(framesOf(set), { projection: 'spherical', focalPx: set.rig.focalPx[0]!, axis: [0, 0] });
  const frames = set.pictures.map((p, k) => ({ ...p, geometry: views[k]! }));
  const pairs = await run('light', { frames, pairs: set.pairs }, signal);
  return fitGains(frames.length, pairs);
}

/** How soft each frame is, told by what pairs of them show alike. */
async function softnessOf(
  frames: MergedPanorama['frames'],
  pairs: AlignedPanorama['pairs'],
  width: number,
  height: number,
  { run, signal, parallel }: StepContext,
): Promise<number[]> {
  const ties = await inParallel(pairs, parallel, async ([i, j]) => ({
    i,
    j,
    differences: await run('blurs', { frames: [frames[i]!, frames[j]!], width, height }, signal),
  }));
  return fitSoftness(frames.length, ties);
}

async function seams(
  frames: MergedPanorama['frames'],
  softness: readonly number[],
  width: number,
  height: number,
  { run, signal, parallel, onProgress }: StepContext,
): Promise<{ labels: LabelGrid; disagreement: number }> {
  const cellPx = CELL_PX * Math.max(1, Math.ceil(Math.sqrt((width * height) / MOST_CELLS) / CELL_PX));
  const across = Math.ceil(width / cellPx);
  const down = Math.ceil(height / cellPx);
  let done = 0;
  const views = await inParallel(frames, parallel, async (frame, k) => {
    const view = await run('seamView', { frame, softness: softness[k]!, cellPx, width, height }, signal);
    onProgress(0.1 + (0.15 * ++done) / frames.length, `looked at ${done} of ${frames.length} frames for seams`);
    return view;
  });
  const seen = views.flatMap((view, k) => (view ? [{ view, k }] : []));
  const found: SeamLabels = await run('seams', { views: seen.map((s) => s.view), width: across, height: down }, signal);
  onProgress(0.4, 'seams found');
  return {
    labels: refined(
      found.labels,
      seen.map((s) => s.k),
      cellPx / CELL_PX,
      across,
      width,
      height,
    ),
    disagreement: found.disagreement,
  };
}

/** Labels of coarse cells as labels of the merge's own cells. */
function refined(
  labels: Uint8Array,
  frames: readonly number[],
  factor: number,
  across: number,
  width: number,
  height: number,
): LabelGrid {
  const w = Math.ceil(width / CELL_PX);
  const h = Math.ceil(height / CELL_PX);
  // All workers read the same labels: copying them for each region would cost more than the blending of a large panorama.
  const out = new Uint8Array(new SharedArrayBuffer(w * h));
  for (let y = 0; y < h; y++) {
    const row = Math.floor(y / factor) * across;
    for (let x = 0; x < w; x++) {
      const label = labels[row + Math.floor(x / factor)]!;
      out[y * w + x] = label === NO_LABEL ? NO_LABEL : frames[label]!;
    }
  }
  return { width: w, height: h, labels: out };
}

/** Share of the merge per frame. */
export function sharesOf({ labels }: LabelGrid, count: number): number[] {
  const cells = new Array<number>(count).fill(0);
  for (const l of labels) if (l < count) cells[l]! += 1;
  return cells.map((n) => n / labels.length);
}
