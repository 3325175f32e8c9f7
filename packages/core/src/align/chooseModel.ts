// Which model a set of frames needs: the plainest one that leaves no more than a richer one would.
import { quantile } from '../image';
import type { PlaneModel } from './fitPlane';
import { solvePlanes, type SolvedPlanes, type TiedPair } from './solvePlanes';
import type { Similarity } from '../frame';

/** The richest model must leave less than this share of what a plainer one leaves, and less by so many px of the picture that was registered. */
const LEAVES_AT_MOST = 0.8;
const GAIN_PX = 0.03;

export interface ChosenPlanes extends SolvedPlanes {
  readonly model: PlaneModel;
}

/**
 * Solves a set by similarities, and by affine maps and homographies where frames tilted against each other need them.
 * @param unitPx px of the frames per px of what was registered
 * @see solvePlanes for the rest
 */
export function chooseModel(
  reference: number,
  start: readonly Similarity[],
  pairs: readonly TiedPair[],
  width: number,
  height: number,
  unitPx: number,
): ChosenPlanes {
  const solved = (model: PlaneModel): ChosenPlanes => ({
    model,
    ...solvePlanes(reference, start, pairs, model, width, height),
  });
  const left = ({ residualPx }: SolvedPlanes): number => quantile(residualPx.filter(Number.isFinite), 0.5);
  const richest = solved('homography');
  const isEnough = (plainer: SolvedPlanes): boolean =>
    !(left(richest) < LEAVES_AT_MOST * left(plainer) && left(plainer) - left(richest) > GAIN_PX * unitPx);
  const similarities = solved('similarity');
  if (isEnough(similarities)) return similarities;
  const affine = solved('affine');
  return isEnough(affine) ? affine : richest;
}
