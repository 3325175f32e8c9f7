// Within registering: what corners and ties say of how a whole merge was scaled, turned or straightened.
import { fitPlane, type ShiftTie } from '@blendrak/core/align';
import {
  frameToMerge,
  inAnotherMerge,
  inPerspective,
  matrixSimilarity,
  type FrameGeometry,
  type Matrix3,
} from '@blendrak/core/frame';
import { spread } from './spread';
import { inParallel, type PlacedFrame, type SetPicture, type StepContext } from './types';

/** A perspective is told by so many ties at least … */
const LEAST_PERSPECTIVE_TIES = 60;
/** … where it leaves so many px less, and no more than this share of what is left without. */
const PERSPECTIVE_GAIN_PX = 0.12;
const LEAVES_AT_MOST = 0.8;

/** Corners know a merge's places so well, as information, 1/px². */
const CORNER_WEIGHT = 0.25;
/** Frames whose corners are looked for in the merge. */
const CORNERS_OF = 3;
/** Blocks find what lies nearer than this, px; what is farther off needs corners. */
const BLOCKS_REACH_PX = 2;

/**
 * The perspective that a merge was straightened by, as far as blocks would not find it; null for none.
 * @param placed frames as they lie in the merge roughly
 * @returns merge px → px of the merge as it would lie without
 */
export async function findStraightening(
  merge: SetPicture,
  placed: readonly PlacedFrame[],
  { run, signal, parallel }: StepContext,
): Promise<Matrix3 | null> {
  const asked = spread(placed.length, CORNERS_OF).map((k) => placed[k]!);
  const points = await run('points', { picture: merge, many: true }, signal);
  const found = await inParallel(asked, parallel, async (frame) => {
    const own = await run('points', { picture: frame }, signal);
    const matched = await run('matchMerge', { merge: points, frame: own, size: frame }, signal);
    return (matched?.places ?? []).flatMap(([x, y, u, v]) => {
      const at = frameToMerge(frame.geometry, u, v);
      return at ? [{ x, y, u: at[0], v: at[1], weight: CORNER_WEIGHT }] : [];
    });
  });
  const ties = found.flat();
  if (ties.length < LEAST_PERSPECTIVE_TIES) return null;
  const { width, height } = merge;
  const similar = fitPlane(ties, 'similarity', width, height);
  const tilted = fitPlane(ties, 'homography', width, height);
  const isTold = similar.residualPx - tilted.residualPx > BLOCKS_REACH_PX;
  return isTold && tilted.residualPx < similar.residualPx / 2 ? tilted.matrix : null;
}

/** What the ties say of the whole merge: scaled, turned and shifted a little more, or in perspective where that leaves clearly less. */
export function planeChange(
  ties: readonly ShiftTie[],
  { width, height }: SetPicture,
  fine: boolean,
): (geometry: FrameGeometry) => FrameGeometry {
  const similar = fitPlane(ties, 'similarity', width, height);
  if (fine && ties.length >= LEAST_PERSPECTIVE_TIES) {
    const tilted = fitPlane(ties, 'homography', width, height);
    const gain = similar.residualPx - tilted.residualPx;
    if (gain > PERSPECTIVE_GAIN_PX && tilted.residualPx < LEAVES_AT_MOST * similar.residualPx)
      return (geometry) => inPerspective(geometry, tilted.matrix);
  }
  const toKnown = matrixSimilarity(similar.matrix);
  return (geometry) => inAnotherMerge(geometry, toKnown);
}
