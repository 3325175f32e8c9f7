// Step: the px that a merge is inspected in. Thresholds in px suit pictures that are sharp at the pixel; what was enlarged, stopped down
// far or cleaned of noise is looked at in px that are as large as its detail.
import { finenessOf, FULL_SIZE, type FinenessSample, type WorkingPx } from '@blendrak/core/cells';
import { median, type Region } from '@blendrak/core/image';
import { CELL_PX } from '@blendrak/core/kernels';
import type { PlacedPicture } from '../jobs';
import { placesOver } from './placesOver';
import { inParallel, type StepContext } from './types';

/** Less of the finest detail than this against detail half as fine (`finenessOf`): what was enlarged by half has 0.16 to 0.17, sharp sets 0.2 and more. */
const SHARP = 0.18;
/** Px of the merge along each side of a larger one, at most. */
const LARGEST = 4;
/** Pictures this small are looked at as they are: cells of larger px would be too few. */
const LEAST_LONG_SIDE = 1600;
/** Frames whose noise tells. */
const MOST_MEASURED = 5;

/**
 * The px that a set is inspected in.
 * @param whole what of the merge is picture, px
 */
export async function workingPxOf(
  frames: readonly PlacedPicture[],
  whole: Region,
  context: StepContext,
): Promise<WorkingPx> {
  const { run, signal, parallel } = context;
  const isSoftIn = async (unitPx: number): Promise<boolean> => {
    const [width, height] = [whole.width / unitPx, whole.height / unitPx];
    if (Math.max(width, height) < LEAST_LONG_SIDE) return false;
    const samples: FinenessSample[] = [];
    const places = placesOver({ x: onCells(whole.x / unitPx), y: onCells(whole.y / unitPx), width, height });
    await inParallel(places, parallel, async (region) => {
      samples.push(...(await run('fineness', { frames, unitPx, region }, signal)));
    });
    const fineness = finenessOf(samples);
    return fineness !== null && fineness < SHARP;
  };
  let unitPx = 1;
  while (unitPx < LARGEST && (await isSoftIn(unitPx))) unitPx *= 2;
  return unitPx === 1 ? FULL_SIZE : workingPxIn(frames, unitPx, context);
}

/** Px of a size, with the noise that the frames have in them. */
export async function workingPxIn(
  frames: readonly PlacedPicture[],
  unitPx: number,
  { run, signal, parallel }: StepContext,
): Promise<WorkingPx> {
  const every = Math.ceil(frames.length / MOST_MEASURED);
  const measured = frames.filter((_, k) => k % every === 0);
  const shares = await inParallel(measured, parallel, async (picture) => {
    const noise = await run('noiseIn', { picture, unitPx }, signal);
    return median(noise.map((v, i) => v / picture.noise[i]!));
  });
  return { unitPx, noiseShare: median(shares) };
}

function onCells(v: number): number {
  return Math.ceil(v / CELL_PX) * CELL_PX;
}
