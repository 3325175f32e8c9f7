// Two pictures of one set: whole-picture fit on the small levels, block refinement on the large ones.
import { estimateSimilarity } from './estimateSimilarity';
import type { AlignLevel } from './levels';
import { refineByBlocks, type BlockShift } from './refineByBlocks';
import type { Similarity } from '../frame';

export interface PairRegistration {
  /** Reference px → moving px at full size of the levels. */
  readonly toMoving: Similarity;
  /** Correlation of normalised detail on the last whole-picture level, -1..1. */
  readonly correlation: number;
  readonly overlap: number;
  readonly residualPx: number;
  readonly blocks: readonly BlockShift[];
}

const SECOND_PASS_FACTOR = 2;

/**
 * Registers `moving` to `reference`.
 * @param reference, moving levels from `alignLevels`, coarse to fine
 * @param initial start at full size; default identity
 * Cost: about 0.3 s for 1.5 MP levels.
 */
export function registerPair(
  reference: readonly AlignLevel[],
  moving: readonly AlignLevel[],
  initial?: Similarity,
): PairRegistration {
  const whole = estimateSimilarity(reference, moving, initial ? { initial } : {});
  let toMoving = whole.toMoving;
  let last = { residualPx: NaN, blocks: [] as readonly BlockShift[] };
  for (const ref of reference) {
    if (ref.factor > SECOND_PASS_FACTOR) continue;
    const mov = moving.find((m) => m.factor === ref.factor);
    if (!mov) continue;
    const refined = refineByBlocks(ref, mov, toMoving, last.blocks.length > 0);
    toMoving = refined.toMoving;
    last = refined;
  }
  return { toMoving, correlation: whole.correlation, overlap: whole.overlap, ...last };
}
