// Which of two: each hidden defect's place twice, as it is and as it should be, side by side.
import { createHash } from 'node:crypto';
import sharp from 'sharp';
import type { SolvedPair } from '@blendrak/contract';
import type { Region } from '@blendrak/core/image';
import { RequestError } from '../../shared/requestError';
import type { Services } from '../context';
import { bothMerges, hiddenFaults, truthOf, type HiddenFault } from './truthOf';

/** Sides of the pictures, px: a defect with what is around it, at full size. */
const [LEAST_PX, MOST_PX, AROUND_PX] = [280, 560, 60];

interface Pair {
  readonly fault: HiddenFault;
  readonly region: Region;
  /** Side that has the defect. */
  readonly side: 0 | 1;
}

/** The pairs of an exercise, always in the same order and the same way round. */
export function pairsOf(services: Services, id: string): Pair[] {
  const truth = truthOf(services, id);
  return hiddenFaults(truth).map((fault, k) => {
    const region = regionAround(fault.cells, truth.cellPx, truth.merge);
    const side = (createHash('sha256').update(`${id} ${k}`).digest()[0]! % 2) as 0 | 1;
    return { fault, region, side };
  });
}

function regionAround(
  cells: readonly number[],
  cellPx: number,
  { width, height }: { readonly width: number; readonly height: number },
): Region {
  const columns = Math.floor(width / cellPx);
  const span = (of: (cell: number) => number, length: number): readonly [number, number] => {
    const [low, high] = cells.reduce(([a, b], c) => [Math.min(a, of(c)), Math.max(b, of(c))], [Infinity, -Infinity]);
    const size = Math.min(length, MOST_PX, Math.max(LEAST_PX, (high + 1 - low) * cellPx + 2 * AROUND_PX));
    const middle = ((low + high + 1) / 2) * cellPx;
    return [Math.round(Math.min(length - size, Math.max(0, middle - size / 2))), Math.round(size)];
  };
  const [x, across] = span((c) => c % columns, width);
  const [y, down] = span((c) => Math.floor(c / columns), height);
  return { x, y, width: across, height: down };
}

/**
 * One picture of a pair, as PNG: both are cut out of their merges in the same way.
 * @throws RequestError for a pair or side that is none
 */
export async function pairPicture(services: Services, id: string, index: number, side: number): Promise<Buffer> {
  const pairs = pairsOf(services, id);
  const pair = pairs[index];
  if (!pair || (side !== 0 && side !== 1))
    throw new RequestError(
      404,
      `There is no pair ${index}, side ${side}. Accepted: pairs 0 to ${pairs.length - 1}, sides 0 and 1.`,
    );
  const { faulty, clean } = bothMerges(services, id);
  const { x, y, width, height } = pair.region;
  return sharp(side === pair.side ? faulty : clean, { limitInputPixels: false })
    .extract({ left: x, top: y, width, height })
    .toColourspace('srgb')
    .png()
    .toBuffer();
}

/**
 * Marks choices.
 * @throws RequestError when there are more or fewer than pairs
 */
export function solvePairs(services: Services, id: string, choices: readonly (0 | 1)[]): SolvedPair[] {
  const pairs = pairsOf(services, id);
  if (choices.length !== pairs.length)
    throw new RequestError(
      400,
      `choices: ${choices.length} were given for ${pairs.length} pairs. Accepted: one for each.`,
    );
  return pairs.map(({ fault, side }, k) => ({
    ...{ defect: fault.defect, isPlain: fault.plain, side },
    isRight: choices[k] === side,
  }));
}
