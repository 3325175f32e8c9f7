// Step: a merge made elsewhere found on the frames, and the frames toned to match it.
import { InputError } from '../codecs';
import {
  applySimilarity,
  composeSimilarity,
  invertSimilarity,
  scaleOf,
  type Similarity,
  touchingSimilarity,
} from '@blendrak/core/frame';
import { placeInMerge, type AlignedSet } from './alignFrames';
import { inParallel, type PlacedFrame, type SetPicture, type StepContext } from './types';

// Five frames spread over the series see enough of the merge sharp between them.
const WITNESSES = 5;
const BELONGS = 0.3;

/**
 * Places the frames in an imported merge.
 * @throws InputError when the merge shows something else
 */
export async function registerMerge(merge: SetPicture, set: AlignedSet, context: StepContext): Promise<PlacedFrame[]> {
  const count = set.frames.length;
  const witnesses = [
    ...new Set(Array.from({ length: WITNESSES }, (_, i) => Math.round((i * (count - 1)) / (WITNESSES - 1)))),
  ];
  let done = 0;
  const compare = async (k: number, start?: Similarity): Promise<Vote> => {
    const result = await context.run(
      'place',
      { frame: set.frames[k]!, merge, ...(start && { start }) },
      context.signal,
    );
    context.onProgress((0.6 * ++done) / witnesses.length, `merge compared with ${done} of ${witnesses.length} frames`);
    return {
      // merge → frame k → reference.
      mergeToReference: composeSimilarity(roughly(set.frames[k]!), result.toMoving),
      correlation: result.correlation,
      weight: result.correlation < BELONGS ? 0 : 1 / (0.1 + result.residualPx) ** 2,
    };
  };
  // Size and crop are searched with one frame; where it lies on the others follows from the alignment.
  const votes: Vote[] = [];
  const waiting = middleOut(witnesses);
  while (waiting.length > 0 && !votes.some((v) => v.weight > 0)) votes.push(await compare(waiting.shift()!));
  const first = votes.find((v) => v.weight > 0);
  if (!first) {
    const best = Math.max(...votes.map((v) => v.correlation));
    throw new InputError(
      merge.name,
      `this merge does not belong to the frames (best agreement ${(100 * best).toFixed(0)} %)`,
      'a merge made from these frames: scaled, cropped or mildly toned',
    );
  }
  votes.push(
    ...(await inParallel(waiting, context.parallel, (k) =>
      compare(k, composeSimilarity(invertSimilarity(roughly(set.frames[k]!)), first.mergeToReference)),
    )),
  );
  const agreed = agree(votes, merge);
  const placed = placeInMerge(set.frames, agreed);
  const toned = await inParallel(placed, context.parallel, async (frame) => ({
    ...frame,
    tone: await context.run('tone', { source: frame, target: merge, sourceToTarget: roughly(frame) }, context.signal),
  }));
  context.onProgress(1, 'merge registered');
  return toned;
}

/** The same entries, the middle one first: there, most of the picture is least out of focus. */
function middleOut(list: readonly number[]): number[] {
  const middle = (list.length - 1) / 2;
  return [...list.entries()].sort((a, b) => Math.abs(a[0] - middle) - Math.abs(b[0] - middle)).map(([, k]) => k);
}

interface Vote {
  readonly mergeToReference: Similarity;
  readonly correlation: number;
  readonly weight: number;
}

/** Weighted mean of the votes that agree with the strongest one within a few pixels at the corners. */
function agree(votes: readonly Vote[], merge: SetPicture): Similarity {
  const strongest = votes.reduce((b, v) => (v.weight > b.weight ? v : b));
  const corners = [
    [0, 0],
    [merge.width, 0],
    [0, merge.height],
    [merge.width, merge.height],
  ] as const;
  const limit = 3 * scaleOf(strongest.mergeToReference);
  const kept = votes.filter(
    (v) =>
      v.weight > 0 &&
      corners.every(([x, y]) => {
        const a = applySimilarity(v.mergeToReference, x, y);
        const b = applySimilarity(strongest.mergeToReference, x, y);
        return Math.hypot(a[0] - b[0], a[1] - b[1]) < limit;
      }),
  );
  const total = kept.reduce((s, v) => s + v.weight, 0);
  const mean = (key: keyof Similarity): number =>
    kept.reduce((s, v) => s + v.weight * v.mergeToReference[key], 0) / total;
  return { re: mean('re'), im: mean('im'), tx: mean('tx'), ty: mean('ty') };
}

/** Where a frame lies, as far as a search and a comparison of tones need it. */
function roughly({ geometry, width, height }: PlacedFrame): Similarity {
  return touchingSimilarity(geometry, width, height);
}
