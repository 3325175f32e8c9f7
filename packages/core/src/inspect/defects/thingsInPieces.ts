// Ghosts of focus stacks: things that moved through the series, of which the merge shows a part.
import { dilate, findComponents } from '../../image';
import { confidenceOf, JUST_VISIBLE, type Detection } from '../detection';
import type { Evidence } from '../detector';
import { BITS, hasMoment } from '../layers/moments';
import { movement, SHOWN } from '../layers/movement';
import { ghostOf, LARGEST_THING } from './movedThing';

/** A cell of a thing is missing where the merge is farther from it than this share of what it stands out by. */
const MISSING = 0.6 * 255;
/** A thing is in pieces where this share of it is shown, and as much is not or only half, in so many cells each. */
const [LEAST_SHARE, LEAST_PIECE] = [0.15, 4];
/** So few cells are no thing: a speck on the sensor, a glint. */
const LEAST_THING = 14;
/** So many of its cells stand out plainly, encoded luma: edges that lie a px elsewhere in one frame do not. */
const [PLAIN_CELLS, PLAIN] = [6, 0.085];
/** One moment is shown where so many cells of a thing may be that of one frame: some at its rim are not, as the light of a blurred edge differs. */
const ONE_MOMENT = 0.9;
/** Cells of one thing lie so near each other, and those of one that two frames show in two places. */
const [GAP, BESIDE] = [3, 3];

/**
 * Things that moved through a stack, of which the merge shows a part. A thing that is shown whole, or not at all, is none: one moment was
 * chosen.
 */
export function findPieces(evidence: Evidence): Detection[] {
  const { width, height } = evidence;
  const { thing, missing, contrast } = evidence.of(movement);
  const torn = new Uint8Array(width * height);
  for (const frame of new Set(thing)) {
    if (frame === 0) continue;
    const own = Uint8Array.from(thing, (k) => (k === frame ? 1 : 0));
    for (const { cells } of findComponents(dilate({ width, height, data: own }, GAP)))
      if (isInPieces(evidence, cells.filter((i) => own[i]))) cells.forEach((i) => (torn[i] = 1)); // prettier-ignore
  }
  // What two frames show of one thing, side by side, is one ghost.
  const joined = dilate(dilate({ width, height, data: torn }, BESIDE), -BESIDE);
  return findComponents(joined).flatMap((component): Detection[] => {
    const cells = component.cells.filter((i) => torn[i] && thing[i]);
    const rms = Math.sqrt(meanOf(cells, (i) => (contrast[i]! * (missing[i]! / 255)) ** 2));
    const confidence = confidenceOf(rms, JUST_VISIBLE);
    const measurements = {
      shownPart: { value: meanOf(cells, (i) => (missing[i]! < SHOWN ? 1 : 0)), unit: '1' },
      framesApart: { value: 100 * Math.sqrt(meanOf(cells, (i) => contrast[i]! ** 2)), unit: '% of full scale' },
    };
    return ghostOf(component, width, { confidence, measurements, rms });
  });
}

/** Whether of one thing in one frame the merge shows a part, or all of it half. */
function isInPieces(evidence: Evidence, cells: readonly number[]): boolean {
  const { picture } = evidence;
  if (cells.length < LEAST_THING || cells.length > LARGEST_THING * picture.width * picture.height) return false;
  const { missing, contrast, like } = evidence.of(movement);
  if (isOneMoment(like, cells)) return false;
  if (cells.filter((i) => contrast[i]! > PLAIN).length < PLAIN_CELLS) return false;
  const shown = cells.filter((i) => missing[i]! < SHOWN).length;
  const gone = cells.filter((i) => missing[i]! > MISSING).length;
  const half = cells.length - shown - gone;
  const least = Math.max(LEAST_PIECE, LEAST_SHARE * cells.length);
  return (shown >= least && gone >= least) || half >= Math.max(LEAST_PIECE, 2 * LEAST_SHARE * cells.length);
}

/** Whether the merge may be one and the same frame in all cells: whatever else moved there, one moment was chosen. */
function isOneMoment(like: Float32Array, cells: readonly number[]): boolean {
  return Array.from({ length: BITS }, (_, k) => cells.filter((i) => hasMoment(like[i]!, k)).length).some(
    (count) => count >= ONE_MOMENT * cells.length,
  );
}

function meanOf(cells: readonly number[], value: (cell: number) => number): number {
  return cells.reduce((sum, i) => sum + value(i), 0) / Math.max(1, cells.length);
}
