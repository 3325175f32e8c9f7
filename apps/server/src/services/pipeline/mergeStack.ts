// Step: our own merge of a focus stack, 16 bits, with its labels.
import { renameSync } from 'node:fs';
import { tileRegion, type Region } from '@blendrak/core/image';
import { CELL_PX } from '@blendrak/core/kernels';
import { regulariseLabels, type LabelGrid } from '@blendrak/core/merge';
import { nearSideOf } from '@blendrak/core/provenance';
import { createTileFile } from '../../codecs';
import { inParallel, type PlacedFrame, type StepContext } from './types';

const REGION_PX = 1024;

/** Squares that tile a picture, on the cell grid; the last row and column keep a rest of up to 3 px out. */
export function cellRegions(width: number, height: number): Region[] {
  const whole = (sidePx: number): number => Math.floor(sidePx / CELL_PX) * CELL_PX;
  return tileRegion({ x: 0, y: 0, width: whole(width), height: whole(height) }, REGION_PX);
}

/**
 * Merges aligned frames into a tile file.
 * @param width, height merge size: that of the reference frame
 * @param out path of the tile file; written beside it and renamed when complete
 * @returns the labels of the whole picture
 */
export async function mergeStack(
  frames: readonly PlacedFrame[],
  width: number,
  height: number,
  out: string,
  context: StepContext,
): Promise<LabelGrid> {
  const regions = cellRegions(width, height);
  let done = 0;
  const proposals = await inParallel(regions, context.parallel, async (region) => {
    const proposal = await context.run('labels', { frames, region, width, height }, context.signal);
    context.onProgress((0.45 * ++done) / regions.length, `sharpness of part ${done} of ${regions.length}`);
    return proposal;
  });
  const votes = proposals.reduce((s, p) => ({ first: s.first + p.votes.first, last: s.last + p.votes.last }), {
    first: 0,
    last: 0,
  });
  const side = nearSideOf(votes);
  const gridWidth = Math.floor(width / CELL_PX);
  const gridHeight = Math.floor(height / CELL_PX);
  const labels = new Uint8Array(gridWidth * gridHeight);
  const weight = new Float32Array(gridWidth * gridHeight);
  regions.forEach((region, i) => {
    const w = region.width / CELL_PX;
    for (let y = 0; y < region.height / CELL_PX; y++) {
      const at = (region.y / CELL_PX + y) * gridWidth + region.x / CELL_PX;
      labels.set(proposals[i]![side].subarray(y * w, (y + 1) * w), at);
      weight.set(proposals[i]!.weight.subarray(y * w, (y + 1) * w), at);
    }
  });
  const grid = regulariseLabels({ width: gridWidth, height: gridHeight, labels }, weight);
  const temporary = `${out}.part`;
  createTileFile(temporary, width, height, 16).close();
  done = 0;
  const parts = tileRegion({ x: 0, y: 0, width, height }, REGION_PX);
  await inParallel(parts, context.parallel, async (region) => {
    await context.run('fuse', { frames, grid, regions: [region], out: temporary }, context.signal);
    context.onProgress(0.45 + (0.5 * ++done) / parts.length, `blended part ${done} of ${parts.length}`);
  });
  await context.run('pyramid', { tiles: temporary }, context.signal);
  renameSync(temporary, out);
  context.onProgress(1, 'merged');
  return grid;
}
