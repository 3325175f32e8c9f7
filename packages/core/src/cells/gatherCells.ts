// All that the detectors know of a region: per 4 × 4 px cell, the merge and every frame.
import { badParameter } from '../checks';
import { canTouch, coveredCells, footprintOf, warpFrame, warpFrameLuma, type AlignedFrame } from '../frame';
import {
  evaluateTone,
  leastNoise,
  noiseAt,
  tentSmooth,
  tonedNoise,
  toneOfGrey,
  type NoiseCurve,
  type Region,
} from '../image';
import {
  allocPlanes,
  BAND_NOISE_GAIN,
  CELL_PX,
  differenceCells,
  downloadPlanes,
  focusBands,
  planeView,
  smoothTent,
  smoothTwice,
  type KernelPlanes,
  type Kernels,
} from '../kernels';
import type { Grain } from './grain';
import { FULL_SIZE, workingNoise, type WorkingPx } from './workingPx';
import { toneSquared } from './toneSquared';
import { relateCells, type LocalRelation, type RelatedFrame } from './relateCells';

/** What one picture shows per cell; energies are noise-corrected and smoothed over about 9 px. */
export interface CellPicture {
  readonly fine: Float32Array;
  readonly middle: Float32Array;
  readonly coarse: Float32Array;
  /** Mean colour of the cell. */
  readonly mean: readonly [Float32Array, Float32Array, Float32Array];
  /** 1 where the picture covers the whole cell. */
  readonly valid: Uint8Array;
}

/** A frame beside the merge. */
export interface CellFrame extends CellPicture {
  /** Mean squared difference from the merge (luma per pixel, colour per cell), smoothed over about 9 px. */
  readonly residual: Float32Array;
  /** How far the merge is this frame in another tone; null where that was not asked for. */
  readonly relation: LocalRelation | null;
}

/** A region's cells. The grid's origin is the region's, which is a multiple of 4 px. */
export interface CellStack {
  /** Px of the merge along each side of a working px: 1 at full size. */
  readonly unitPx: number;
  /** Working px. */
  readonly region: Region;
  readonly width: number;
  readonly height: number;
  /** The merge; null while there is none. */
  readonly merge: CellPicture | null;
  readonly frames: readonly CellFrame[];
  /**
   * Residual of the best frame of each cell, smoothed afterwards: as each cell picks its own frame, what the merge mixes
   * along mask borders counts as explained. A difference of tone over some 20 px does not count: light that was evened or taken out is
   * no part that lies elsewhere. 0 while there is no merge.
   */
  readonly unexplained: Float32Array;
  /** The frame that each cell picked, before anything is smoothed; 255 for none. */
  readonly picked: Uint8Array;
  /** Noise of a single frame. */
  readonly noise: NoiseCurve;
  /** Noise energy of the middle band per cell, of a single picture. */
  readonly noiseMiddle: Float32Array;
  /** Squared difference per px that the merge's own grain makes, which residuals are free of on average; null for a merge without. */
  readonly grain: Float32Array | null;
}

/** What no frame is counted as. */
const NO_FRAME = 255;

const LUMA = [0.2126, 0.7152, 0.0722] as const;

/** What is measured beyond the bands and colours of each picture. */
export interface GatherOptions {
  /** Whether the merge is related to each frame in whatever tone; default not. */
  readonly relate?: boolean;
  /** What the merge has of grain of its own: its energies and differences are freed of it. Default none. */
  readonly grain?: Grain | null;
  /** The px that cells are made of; default the merge's own. */
  readonly working?: WorkingPx;
  /** What of the merge is picture, working px; cells beyond are not covered by it. Default all. */
  readonly inside?: Region | null;
}

/**
 * Reads a region of the merge and of all frames and reduces them to cells. Frames that do not reach the region are not read.
 * @param merge the merge itself as a frame with identity transform and tone; null before there is one
 * @param region in working px; origin and size multiples of 4
 * @returns cells of the whole region; the outermost 4 cells lean on repeated edges unless they are the picture's own
 * @throws ParameterError when the region is not on the cell grid, or there are no frames
 * Cost: about 35 ns per px and frame; memory 24 bytes × px and 44 bytes × cells × frames.
 */
export function gatherCells(
  kernels: Kernels,
  merge: AlignedFrame | null,
  frames: readonly AlignedFrame[],
  region: Region,
  { relate = false, grain = null, inside = null, working = FULL_SIZE }: GatherOptions = {},
): CellStack {
  if ([region.x, region.y, region.width, region.height].some((v) => v % CELL_PX !== 0)) {
    throw badParameter('gatherCells.region', 'multiples of 4 px', region);
  }
  if (frames.length === 0) throw badParameter('gatherCells.frames.length', 'at least 1', 0);
  // Frames of a set are shot alike, and a merge of them is no noisier.
  const { unitPx } = working;
  const noise = workingNoise(leastNoise(frames.map((f) => f.noise)), working);
  const mergeNoise = merge ? leastNoise([noise, workingNoise(merge.noise, working)]) : noise;
  const place: Region = {
    x: region.x * unitPx,
    y: region.y * unitPx,
    width: region.width * unitPx,
    height: region.height * unitPx,
  };
  return kernels.scope(() => {
    const base = merge ? warpFrameLuma(kernels, merge, region, unitPx) : null;
    const mergePicture = base && merge ? reducePicture(kernels, merge, base, region, mergeNoise, unitPx) : null;
    const size = (region.width / CELL_PX) * (region.height / CELL_PX);
    const [width, height] = [region.width / CELL_PX, region.height / CELL_PX];
    const least = new Float32Array(size).fill(base ? Infinity : 0);
    const nearest = new Float32Array(size).fill(Infinity);
    const picked = new Uint8Array(size).fill(NO_FRAME);
    const mergePixels = base && relate ? planeView(kernels, base).slice() : null;
    const grainPerCell = grain && mergePicture ? noisePerCell(grain.pixel, mergePicture.mean) : null;
    if (grain && mergePicture) takeGrain(mergePicture, grain);
    if (inside && mergePicture) uncover(mergePicture.valid, region, inside);
    const mergeNoisePerCell =
      mergePicture && noisePerCell(mergeNoise, mergePicture.mean).map((v, i) => v + (grainPerCell?.[i] ?? 0));
    // All frames that lie elsewhere share one picture of nothing.
    let blank: CellFrame | null = null;
    const cellFrames = frames.map((frame, k) =>
      kernels.scope((): CellFrame => {
        if (!canTouch(footprintOf(frame.geometry, frame.source), place)) return (blank ??= unseen(size, relate));
        const luma = warpFrameLuma(kernels, frame, region, unitPx);
        const picture = reducePicture(kernels, frame, luma, region, noise, unitPx);
        if (!base || !mergePicture) return { ...picture, residual: new Float32Array(size), relation: null };
        const relation = mergePixels
          ? relateCells(
              mergePixels,
              mergeNoisePerCell!,
              relatedFrame(frame, planeView(kernels, luma), picture, noise),
              width,
              height,
            )
          : null;
        const tone = toneOffset(kernels, mergePicture.mean, picture.mean, width, height);
        const cells = differenceCells(kernels, base, luma);
        const residual = planeView(kernels, cells);
        addColourDifference(residual, mergePicture.mean, picture.mean);
        for (let i = 0; i < size; i++) {
          const rest = Math.max(0, residual[i]! - tone[i]!);
          if (!picture.valid[i]) continue;
          if (rest < least[i]!) least[i] = rest;
          // Blur moves light about an edge: in one tone a difference of tone tells frames apart, too.
          const apart = relate ? rest : residual[i]!;
          if (apart >= nearest[i]!) continue;
          nearest[i] = apart;
          picked[i] = k;
        }
        return {
          ...picture,
          residual: without(grainPerCell, downloadPlanes(kernels, smoothTent(kernels, cells))[0]!),
          relation,
        };
      }),
    );
    const perCell = noisePerCell(noise, (mergePicture ?? cellFrames[0]!).mean);
    return {
      unitPx,
      region,
      width,
      height,
      merge: mergePicture,
      frames: cellFrames,
      unexplained: without(
        grainPerCell,
        tentSmooth({ width, height, data: least.map((v) => (v === Infinity ? 0 : v)) }, 1).data,
      ),
      picked,
      noise,
      noiseMiddle: perCell.map((v, i) => BAND_NOISE_GAIN[1] * (v + SCATTER * (grainPerCell?.[i] ?? 0))),
      grain: grainPerCell,
    };
  });
}

/** Energies of grain scatter by this share of it over a cell's surround: what is fainter cannot be told from it. */
const SCATTER = 0.5;

/** Smoothed squared differences without what grain makes of them; smoothed first, as single cells scatter widely. */
function without(grain: Float32Array | null, differences: Float32Array): Float32Array {
  return grain ? differences.map((v, i) => Math.max(0, v - grain[i]!)) : differences;
}

/** Marks cells that lie beyond a rectangle as not covered. */
function uncover(valid: Uint8Array, region: Region, { x, y, width, height }: Region): void {
  const across = region.width / CELL_PX;
  for (let i = 0; i < valid.length; i++) {
    const [cx, cy] = [region.x + (i % across) * CELL_PX, region.y + Math.floor(i / across) * CELL_PX];
    if (cx < x || cy < y || cx + CELL_PX > x + width || cy + CELL_PX > y + height) valid[i] = 0;
  }
}

/** Takes the energy of a merge's own grain out of its bands. */
function takeGrain({ fine, middle, coarse, mean }: CellPicture, grain: Grain): void {
  [fine, middle, coarse].forEach((band, j) => {
    const own = noisePerCell(grain.bands[j]!, mean);
    for (let i = 0; i < band.length; i++) band[i] = Math.max(0, band[i]! - own[i]!);
  });
}

/** Encoded values beyond which a camera's picture is clipped. */
const CAMERA_RANGE = [0.012, 0.975] as const;

/** Lumas beyond which a frame is clipped, as it is toned: the higher the second, the less light it was given. */
function heldRange(tone: AlignedFrame['tone']): readonly [black: number, white: number] {
  return [toneOfGrey(tone, CAMERA_RANGE[0]), toneOfGrey(tone, CAMERA_RANGE[1])];
}

/** The same for R, G and B: a channel may be white long before all are. */
export function heldRanges(tone: AlignedFrame['tone']): (readonly [black: number, white: number])[] {
  return tone.map((curve) => [evaluateTone(curve, CAMERA_RANGE[0]), evaluateTone(curve, CAMERA_RANGE[1])]);
}

function relatedFrame(
  frame: AlignedFrame,
  luma: Float32Array,
  { mean, valid }: CellPicture,
  noise: NoiseCurve,
): RelatedFrame {
  return { luma, valid, noise: noisePerCell(tonedNoise(noise, frame.tone), mean), range: heldRange(frame.tone) };
}

/** What a frame shows that is not seen in the region: nothing, and it is not read. */
function unseen(size: number, relate: boolean): CellFrame {
  const none = (): Float32Array => new Float32Array(size);
  const valid = new Uint8Array(size);
  return {
    fine: none(),
    middle: none(),
    coarse: none(),
    mean: [none(), none(), none()],
    valid,
    residual: none(),
    relation: relate
      ? { gain: none(), misfit: none(), telling: valid, held: valid, burnt: valid, top: 1, noise: none() }
      : null,
  };
}

function noisePerCell(noise: NoiseCurve, mean: CellPicture['mean']): Float32Array {
  const [r, g, b] = mean;
  const out = new Float32Array(r.length);
  for (let i = 0; i < out.length; i++) {
    out[i] = noiseAt(noise, LUMA[0] * r[i]! + LUMA[1] * g[i]! + LUMA[2] * b[i]!);
  }
  return out;
}

/** Cells over which two pictures' tone is compared. */
const TONE_RADIUS = 2;

/** Squared difference of two pictures' colours that is the same all around a cell: luma, and colour beyond it, as in the residual. */
function toneOffset(
  kernels: Kernels,
  p: CellPicture['mean'],
  q: CellPicture['mean'],
  width: number,
  height: number,
): Float32Array {
  return kernels.scope(() => {
    const apart = p.map((plane, c) => {
      const difference = allocPlanes(kernels, width, height);
      const data = planeView(kernels, difference);
      for (let i = 0; i < data.length; i++) data[i] = plane[i]! - q[c]![i]!;
      smoothTwice(kernels, difference, difference, TONE_RADIUS);
      return difference;
    });
    // Views are taken last: smoothing may have grown the memory.
    const [r, g, b] = apart.map((planes) => planeView(kernels, planes)) as [Float32Array, Float32Array, Float32Array];
    const out = new Float32Array(width * height);
    for (let i = 0; i < out.length; i++) {
      out[i] = toneSquared(r[i]!, g[i]!, b[i]!);
    }
    return out;
  });
}

/** Adds what the cells' mean colours differ by beyond luma: the mean over R, G, B less the luma part. */
function addColourDifference(residual: Float32Array, p: CellPicture['mean'], q: CellPicture['mean']): void {
  for (let i = 0; i < residual.length; i++) {
    const dr = p[0][i]! - q[0][i]!;
    const dg = p[1][i]! - q[1][i]!;
    const db = p[2][i]! - q[2][i]!;
    const dy = LUMA[0] * dr + LUMA[1] * dg + LUMA[2] * db;
    const colour = (dr * dr + dg * dg + db * db) / 3 - dy * dy;
    if (colour > 0) residual[i] = residual[i]! + colour;
  }
}

function reducePicture(
  kernels: Kernels,
  frame: AlignedFrame,
  luma: KernelPlanes,
  region: Region,
  noise: NoiseCurve,
  unitPx: number,
): CellPicture {
  const bands = downloadPlanes(kernels, smoothTent(kernels, focusBands(kernels, luma)));
  const width = luma.width / CELL_PX;
  const height = luma.height / CELL_PX;
  // Colour is only looked at per cell, so it is read from the level whose pixels are cells.
  const cells = { x: region.x / CELL_PX, y: region.y / CELL_PX, width, height };
  const colours = kernels.scope(() => downloadPlanes(kernels, warpFrame(kernels, frame, cells, CELL_PX * unitPx)));
  const mean = [colours[0]!, colours[1]!, colours[2]!] as const;
  const perCell = noisePerCell(noise, mean);
  bands.forEach((band, j) => {
    const gain = BAND_NOISE_GAIN[j]!;
    for (let i = 0; i < band.length; i++) band[i] = Math.max(0, band[i]! - gain * perCell[i]!);
  });
  return {
    fine: bands[0]!,
    middle: bands[1]!,
    coarse: bands[2]!,
    mean,
    valid: coveredCells(frame.geometry, frame.source, cells, CELL_PX * unitPx),
  };
}
