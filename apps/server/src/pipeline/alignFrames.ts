// Step: all frames of a focus stack registered to each other and toned alike.
import { solvePoses, tiesOfBlocks, type PlaneModel, type PoseEdge } from '@blendrak/core/align';
import { scaleOf, type Similarity, touchingSimilarity } from '@blendrak/core/frame';
import { gainTone, IDENTITY_TONE, median } from '@blendrak/core/image';
import { InputError } from '../codecs';
import { fieldBend, placeOf } from './placeOf';
import { inParallel, type AlignmentOptions, type PlacedFrame, type SetPicture, type StepContext } from './types';

/** Neighbours up to this far apart in the series are compared: the second neighbour keeps chains from drifting. */
const REACH = 2;
// Correlation of normalised detail below this is chance between different pictures (seen: under 0.15), above it the same
// scene, however blurred (seen: over 0.5).
const SAME_SCENE = 0.25;
/** Pairs in which fewer blocks tell a shift hold nothing to be aligned on. */
const LEAST_BLOCKS = 8;

export interface AlignedSet {
  readonly frames: readonly PlacedFrame[];
  readonly reference: number;
  readonly model: PlaneModel;
  /** Most that local shifts bend a straight line, px; null where there are none. */
  readonly bendPx: number | null;
}

/**
 * Registers the frames of a set.
 * @param reference index; 'auto' takes the frame with the narrowest view, which all others cover
 * @throws InputError for fewer than two frames, different sizes, or a frame that shows something else
 */
export async function alignFrames(
  pictures: readonly SetPicture[],
  { reference, model, bendPx, subject }: AlignmentOptions,
  context: StepContext,
): Promise<AlignedSet> {
  checkSet(pictures);
  const pairs = pictures.flatMap((_, i) =>
    Array.from({ length: REACH }, (__, r) => [i, i + r + 1] as const).filter(([, j]) => j < pictures.length),
  );
  let done = 0;
  const measured = await inParallel(pairs, context.parallel, async ([i, j]) => {
    const result = await context.run(
      'register',
      { reference: pictures[i]!, moving: pictures[j]!, subject },
      context.signal,
    );
    context.onProgress((0.8 * ++done) / pairs.length, `aligned ${done} of ${pairs.length} pairs`);
    return result;
  });
  pictures.forEach((p, k) => {
    const own = measured.filter((_, e) => pairs[e]!.includes(k));
    if (Math.max(...own.map((m) => m.correlation)) < SAME_SCENE) {
      const plain = own.every((m) => m.blocks.length < LEAST_BLOCKS);
      throw new InputError(
        p.name,
        plain
          ? 'this frame and its neighbours hold too little detail to be laid on each other'
          : 'this frame does not show the same scene as its neighbours',
        plain ? 'frames that show something in focus' : 'frames of one focus stack in shooting order',
      );
    }
  });
  const edges: PoseEdge[] = measured.map((m, e) => ({
    from: pairs[e]![0],
    to: pairs[e]![1],
    transform: m.toMoving,
    weight: m.correlation < SAME_SCENE ? 0 : 1 / (0.05 + m.residualPx) ** 2,
  }));
  const first = solvePoses(pictures.length, 0, edges);
  const chosen = reference === 'auto' ? narrowestView(first) : reference;
  const poses = chosen === 0 ? first : solvePoses(pictures.length, chosen, edges);
  const fitted = await context.run(
    'planes',
    {
      pictures,
      reference: chosen,
      start: poses,
      pairs: edges.flatMap(({ from, to, weight, transform }, e) =>
        weight > 0 ? [{ from, to, ties: tiesOfBlocks(measured[e]!.blocks, transform) }] : [],
      ),
      model,
      bendPx,
    },
    context.signal,
  );
  const places = pictures.map((_, k) => placeOf(fitted, k, chosen, poses[k]!));
  const tones = await inParallel(pictures, context.parallel, async (picture, k) =>
    k === chosen
      ? IDENTITY_TONE
      : gainTone(
          await context.run(
            'lightGain',
            {
              source: picture,
              target: pictures[chosen]!,
              sourceToTarget: touchingSimilarity(places[k]!, picture.width, picture.height),
            },
            context.signal,
          ),
        ),
  );
  context.onProgress(1, 'frames aligned');
  return {
    reference: chosen,
    model: fitted.model,
    bendPx: fieldBend(fitted.locals),
    frames: pictures.map((picture, k) => {
      const near = measured.filter((_, e) => pairs[e]!.includes(k) && pairs[e]![1] - pairs[e]![0] === 1);
      return {
        ...picture,
        geometry: places[k]!,
        tone: tones[k]!,
        residualPx: fitted.model === 'similarity' ? median(near.map((m) => m.residualPx)) : fitted.residualPx[k]!,
        correlation: median(near.map((m) => m.correlation)),
        blocks: near[0]?.blocks ?? [],
      };
    }),
  };
}

/** The frame that sees least has the largest picture of things: the smallest scale to any common geometry. */
function narrowestView(poses: readonly Similarity[]): number {
  return poses.reduce((best, p, k) => (scaleOf(p) < scaleOf(poses[best]!) ? k : best), 0);
}

function checkSet(pictures: readonly SetPicture[]): void {
  if (pictures.length < 2) {
    throw new InputError(
      pictures[0]?.name ?? 'the set',
      `a focus stack needs at least 2 frames, this one has ${pictures.length}`,
      '2 to 255 frames',
    );
  }
  if (pictures.length > 255) throw new InputError('the set', `it has ${pictures.length} frames`, '2 to 255 frames');
  const first = pictures[0]!;
  const odd = pictures.find((p) => p.width !== first.width || p.height !== first.height);
  if (odd) {
    throw new InputError(
      odd.name,
      `it has ${odd.width} × ${odd.height} px, but ${first.name} has ${first.width} × ${first.height} px`,
      'frames of one size',
    );
  }
}
