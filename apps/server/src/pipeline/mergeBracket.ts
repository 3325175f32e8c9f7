// Step: an aligned bracket merged by exposure fusion, as light, or by straight gradients; 16 bits.
import { renameSync } from 'node:fs';
import { srgbToLinear, tileRegion, type Plane } from '@blendrak/core/image';
import { CELL_PX } from '@blendrak/core/kernels';
import {
  partShares,
  toneForLight,
  type FramePart,
  type Gradient,
  type LabelGrid,
  type LightTone,
} from '@blendrak/core/merge';
import { createTileFile, InputError } from '../codecs';
import type { AlignedBracket, ExposedFrame } from './alignBracket';
import { withGradients } from './mergeStack';
import { inParallel, type MergeSize, type StepContext } from './types';

export type BracketMethod = 'fusion' | 'light' | 'gradient' | 'painted';

export interface BracketOptions {
  readonly method: BracketMethod;
  /** Whether each moving thing comes from one frame. */
  readonly ghostSafe: boolean;
  /** Lines of the gradients, one fewer than frames; only for that method. */
  readonly gradients: readonly Gradient[];
  /** What comes from other frames than the reference, and how softly (share of the width); only for 'painted'. */
  readonly parts: readonly FramePart[];
  readonly partsFeather: number;
}

export const BRACKET_DEFAULTS: BracketOptions = {
  method: 'fusion',
  ghostSafe: true,
  gradients: [],
  parts: [],
  partsFeather: 0.02,
};

export interface MergedBracket {
  readonly width: number;
  readonly height: number;
  /** Share of the merge per frame. */
  readonly shares: readonly number[];
  /** The frame that weighs most per cell. */
  readonly grid: LabelGrid;
  /** Share of the picture in which something moved; null where nobody looked. */
  readonly moving: number | null;
  /** The curve by which light is shown; only for that method. */
  readonly tone: LightTone | null;
}

/** Smaller than elsewhere: every exposure of a region is held at once. */
const REGION_PX = 512;
const MOTION_PX = 1000;

/**
 * Merges aligned exposures into a tile file.
 * @param size of the merge, px
 * @param out path of the tile file; written beside it and renamed when complete
 * @throws InputError when gradients or painted parts are asked for and do not fit the frames
 */
export async function mergeBracket(
  set: Pick<AlignedBracket, 'frames' | 'reference'>,
  { width, height }: MergeSize,
  options: BracketOptions,
  out: string,
  context: StepContext,
): Promise<MergedBracket> {
  const { run, signal, onProgress, parallel } = context;
  const small = await run('smallLuma', { frames: set.frames, width, height, longSidePx: MOTION_PX }, signal);
  const drawn = options.method === 'gradient' || options.method === 'painted';
  const motion =
    options.ghostSafe && !drawn
      ? await run(
          'motion',
          { frames: small.map((s, k) => ({ ...s, ev: set.frames[k]!.ev })), reference: set.reference },
          signal,
        )
      : null;
  onProgress(0.1, 'moving things found');
  const still = !motion || motion.moving === 0;
  const frames =
    options.method === 'gradient'
      ? withGradients(set.frames, options.gradients, width, height)
      : options.method === 'painted'
        ? withParts(set, options, width, height)
        : set.frames.map((f, k) => ({ ...f, share: still ? null : motion.shares[k]! }));
  const temporary = `${out}.part`;
  createTileFile(temporary, width, height, 16).close();
  const regions = tileRegion({ x: 0, y: 0, width, height }, REGION_PX);
  const eachRegion = async (
    from: number,
    words: string,
    work: (region: (typeof regions)[number]) => Promise<unknown>,
  ) => {
    let done = 0;
    await inParallel(regions, parallel, async (region) => {
      await work(region);
      onProgress(from + ((0.95 - from) * ++done) / regions.length, `${words} part ${done} of ${regions.length}`);
    });
  };
  let tone: LightTone | null = null;
  if (options.method === 'fusion') {
    let read = 0;
    const parts = await inParallel(regions, parallel, async (region) => {
      const part = await run('reduceExposures', { frames, region, width, height }, signal);
      onProgress(0.1 + (0.35 * ++read) / regions.length, `weighed part ${read} of ${regions.length}`);
      return part;
    });
    const base = await run('fuseBase', { parts, width, height }, signal);
    await eachRegion(0.5, 'blended', (region) =>
      run('fuseExposures', { frames, base, regions: [region], out: temporary }, signal),
    );
  } else if (options.method === 'light') {
    tone = toneForLight(
      lightOf(
        small.map((s) => s.luma),
        set.frames,
      ),
    );
    const curve = tone;
    await eachRegion(0.1, 'merged', (region) =>
      run('mergeLight', { frames, tone: curve, regions: [region], out: temporary }, signal),
    );
  } else {
    await eachRegion(0.1, 'blended', (region) =>
      run('blendShares', { frames, regions: [region], out: temporary }, signal),
    );
  }
  await run('pyramid', { tiles: temporary }, signal);
  renameSync(temporary, out);
  onProgress(1, 'merged');
  const weights = drawn
    ? drawnWeights(frames.map((f) => f.share))
    : exposedWeights(
        small.map((s) => s.luma),
        frames.map((f) => f.share),
      );
  return {
    width,
    height,
    shares: weights.map(meanOf),
    grid: heaviest(weights, width, height),
    moving: motion?.moving ?? null,
    tone,
  };
}

const PARTS_CELLS = 1024;

/** Frames with their shares as they were painted. */
function withParts(
  { frames, reference }: Pick<AlignedBracket, 'frames' | 'reference'>,
  { parts, partsFeather }: BracketOptions,
  width: number,
  height: number,
): (ExposedFrame & { share: Plane })[] {
  const odd = parts.find((p) => p.frame >= frames.length);
  if (odd)
    throw new InputError(
      'parts',
      `a part is to come from frame ${odd.frame + 1}, but there are ${frames.length}`,
      `frames 1 to ${frames.length}`,
    );
  const rows = Math.max(1, Math.round((PARTS_CELLS * height) / width));
  const shares = partShares(parts, reference, frames.length, PARTS_CELLS, rows, partsFeather);
  return frames.map((f, k) => ({ ...f, share: shares[k]! }));
}

/** Light at the reference's exposure, from the best exposed frame at each place of the small views. */
function lightOf(lumas: readonly Plane[], frames: readonly ExposedFrame[]): Float32Array {
  return lumas[0]!.data.map((_, i) => {
    let best = 0;
    let least = Infinity;
    lumas.forEach((l, k) => {
      const v = l.data[i]!;
      if (v < 0) return;
      // Up to clipping, the brighter the better.
      const cost = v > 0.95 ? 1 + frames[k]!.ev / 100 : 1 - v;
      if (cost < least) [least, best] = [cost, srgbToLinear(v) / 2 ** frames[k]!.ev];
    });
    return best;
  });
}

function meanOf({ data }: Plane): number {
  return data.reduce((s, v) => s + v, 0) / data.length;
}

/** Shares as they were drawn; all of a frame that has no mask of its own. */
function drawnWeights(shares: readonly (Plane | null)[]): Plane[] {
  return shares.map((share) => share ?? { width: 1, height: 1, data: new Float32Array([1]) });
}

/** What each frame gives the merge: its exposedness, after masks, over the small views; together 1. */
function exposedWeights(lumas: readonly Plane[], masks: readonly (Plane | null)[]): Plane[] {
  const { width, height } = lumas[0]!;
  const out = lumas.map((): Plane => ({ width, height, data: new Float32Array(width * height) }));
  for (let i = 0; i < width * height; i++) {
    const weights = lumas.map((l, k) => {
      const v = l.data[i]!;
      if (v < 0) return 0;
      const mask = masks[k];
      const x = Math.floor((((i % width) + 0.5) / width) * (mask?.width ?? 1));
      const y = Math.floor(((Math.floor(i / width) + 0.5) / height) * (mask?.height ?? 1));
      return Math.exp(-((v - 0.5) ** 2) / 0.08) * (mask ? mask.data[y * mask.width + x]! : 1) + 1e-9;
    });
    const total = weights.reduce((s, w) => s + w, 0);
    if (total > 0) weights.forEach((w, k) => (out[k]!.data[i] = w / total));
  }
  return out;
}

/** The heaviest frame of each whole cell of the merge. */
function heaviest(weights: readonly Plane[], width: number, height: number): LabelGrid {
  const [w, h] = [Math.floor(width / CELL_PX), Math.floor(height / CELL_PX)];
  const labels = new Uint8Array(w * h);
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      let most = -1;
      weights.forEach((p, k) => {
        const px = Math.floor(((x + 0.5) / w) * p.width);
        const v = p.data[Math.floor(((y + 0.5) / h) * p.height) * p.width + px]!;
        if (v > most) [most, labels[y * w + x]] = [v, k];
      });
    }
  }
  return { width: w, height: h, labels };
}
