// Step: our own merge of a focus stack, 16 bits: by labels, band by band, or by straight gradients.
import { renameSync } from 'node:fs';
import { tileRegion, type Plane, type Region } from '@blendrak/core/image';
import { CELL_PX } from '@blendrak/core/kernels';
import {
  gradientShares,
  regulariseLabels,
  VALUES_PER_CELL,
  type CellTones,
  type Gradient,
  type LabelGrid,
  type ToneGrid,
} from '@blendrak/core/merge';
import { nearEndSaid, nearSideOf } from '@blendrak/core/defocus';
import { createTileFile, InputError } from '../codecs';
import type { AlignedSet } from './alignFrames';
import { inParallel, saidDistance, type MergeSize, type PlacedFrame, type StepContext } from './types';

const REGION_PX = 1024;

/** Squares that tile a picture, on the cell grid; the last row and column keep a rest of up to 3 px out. */
export function cellRegions(width: number, height: number): Region[] {
  const whole = (sidePx: number): number => Math.floor(sidePx / CELL_PX) * CELL_PX;
  return tileRegion({ x: 0, y: 0, width: whole(width), height: whole(height) }, REGION_PX);
}

export type StackMethod = 'labels' | 'reference' | 'bands' | 'gradient';

export interface StackOptions {
  /**
   * labels: each cell from its sharpest frame, few borders. reference: the reference frame, others only where it lacks. bands: band by
   * band, without labels. gradient: straight gradients from frame to frame.
   */
  readonly method: StackMethod;
  /** Lines of the gradients, one fewer than frames; only for that method. */
  readonly gradients: readonly Gradient[];
}

export const STACK_DEFAULTS: StackOptions = { method: 'labels', gradients: [] };

/**
 * Merges aligned frames into a tile file.
 * @param size of the merge, px
 * @param out path of the tile file; written beside it and renamed when complete
 * @returns which frame each cell is from; null for methods that mix
 * @throws InputError when gradients are asked for and do not fit the frames
 */
export async function mergeStack(
  { frames, reference }: Pick<AlignedSet, 'frames' | 'reference'>,
  { width, height }: MergeSize,
  { method, gradients }: StackOptions,
  out: string,
  context: StepContext,
): Promise<LabelGrid | null> {
  const { run, signal, onProgress } = context;
  const labelled = method === 'labels' || method === 'reference';
  const made = labelled
    ? await labelStack(frames, width, height, method === 'reference' ? reference : null, context)
    : null;
  const shared = method === 'gradient' ? withGradients(frames, gradients, width, height) : [];
  const temporary = `${out}.part`;
  createTileFile(temporary, width, height, 16).close();
  let done = 0;
  const from = labelled ? 0.45 : 0;
  const parts = tileRegion({ x: 0, y: 0, width, height }, REGION_PX);
  await inParallel(parts, context.parallel, async (region) => {
    const regions = [region];
    if (made) await run('fuse', { frames, ...made, regions, out: temporary }, signal);
    else if (method === 'bands') await run('fuseBands', { frames, regions, out: temporary }, signal);
    else await run('blendShares', { frames: shared, regions, out: temporary }, signal);
    onProgress(from + ((0.95 - from) * ++done) / parts.length, `blended part ${done} of ${parts.length}`);
  });
  await run('pyramid', { tiles: temporary }, signal);
  renameSync(temporary, out);
  onProgress(1, 'merged');
  return made?.grid ?? null;
}

/** Which frame each cell comes from, and how its tone is freed of the light of near edges. */
async function labelStack(
  frames: readonly PlacedFrame[],
  width: number,
  height: number,
  keep: number | null,
  context: StepContext,
): Promise<{ grid: LabelGrid; tones: ToneGrid }> {
  const regions = cellRegions(width, height);
  const nearEnd = nearEndSaid(frames.map(saidDistance));
  let done = 0;
  const proposals = await inParallel(regions, context.parallel, async (region) => {
    const request = { frames, region, width, height, keep, nearEnd };
    const proposal = await context.run('labels', request, context.signal);
    context.onProgress((0.45 * ++done) / regions.length, `sharpness of part ${done} of ${regions.length}`);
    return proposal;
  });
  const votes = proposals.reduce((s, p) => ({ first: s.first + p.votes.first, last: s.last + p.votes.last }), {
    first: 0,
    last: 0,
  });
  const side = nearEnd ?? nearSideOf(votes);
  const gridWidth = Math.floor(width / CELL_PX);
  const gridHeight = Math.floor(height / CELL_PX);
  const labels = new Uint8Array(gridWidth * gridHeight);
  const weight = new Float32Array(gridWidth * gridHeight);
  regions.forEach((region, i) => {
    const w = region.width / CELL_PX;
    for (let y = 0; y < region.height / CELL_PX; y++) {
      const at = (region.y / CELL_PX + y) * gridWidth + region.x / CELL_PX;
      labels.set(proposals[i]!.sides[side]!.labels.subarray(y * w, (y + 1) * w), at);
      weight.set(proposals[i]!.weight.subarray(y * w, (y + 1) * w), at);
    }
  });
  const grid = regulariseLabels({ width: gridWidth, height: gridHeight, labels }, weight);
  const tones = toneGrid(
    regions.map((region, i) => ({ region, tones: proposals[i]!.sides[side]!.tones })),
    labels,
    grid,
  );
  return { grid, tones };
}

/** Corrections of all regions on one grid, which all workers read; cells that were given to another frame since lose theirs. */
function toneGrid(
  parts: readonly { readonly region: Region; readonly tones: CellTones }[],
  proposed: Uint8Array,
  { width, height, labels }: LabelGrid,
): ToneGrid {
  const values = new Float32Array(
    new SharedArrayBuffer(width * height * VALUES_PER_CELL * Float32Array.BYTES_PER_ELEMENT),
  );
  for (const { region, tones } of parts) {
    const w = region.width / CELL_PX;
    tones.cells.forEach((cell, n) => {
      const at = (region.y / CELL_PX + Math.floor(cell / w)) * width + region.x / CELL_PX + (cell % w);
      if (labels[at] !== proposed[at]) return;
      const [gain, ...offsets] = tones.values.subarray(n * VALUES_PER_CELL, (n + 1) * VALUES_PER_CELL);
      values.set([gain! - 1, ...offsets], at * VALUES_PER_CELL);
    });
  }
  return { width, height, values };
}

const GRADIENT_CELLS = 256;

/** Frames with their shares along straight gradients. */
export function withGradients<F extends PlacedFrame>(
  frames: readonly F[],
  gradients: readonly Gradient[],
  width: number,
  height: number,
): (F & { share: Plane; ev: number })[] {
  const wanted = frames.length - 1;
  if (gradients.length !== wanted)
    throw new InputError('gradients', `${gradients.length} lines are given`, `${wanted} for ${frames.length} frames`);
  const rows = Math.max(1, Math.round((GRADIENT_CELLS * height) / width));
  const shares = gradientShares(gradients, frames.length, width, height, GRADIENT_CELLS, rows);
  return frames.map((f, k) => ({ ...f, share: shares[k]!, ev: 0 }));
}
