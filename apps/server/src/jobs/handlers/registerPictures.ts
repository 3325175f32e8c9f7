// Tasks `register`, `place`, `greyMix`, `tone` and `lightGain`: where pictures lie on each other, and how their tone differs.
import {
  alignLevels,
  fitCommonTone,
  fitLightGain,
  fitLocalContrast,
  fitMergeShade,
  fitMixedTone,
  evenPairs,
  fitTone,
  onSubject,
  registerPair,
  searchPlacement,
  type AlignLevel,
  type TonePairs,
} from '@blendrak/core/align';
import {
  applySimilarity,
  composeSimilarity,
  invertSimilarity,
  rescaleSimilarity,
  scaleOf,
  type Similarity,
  warpFrameLuma,
  similarityGeometry,
} from '@blendrak/core/frame';
import { fitGreyMix, IDENTITY_TONE, type ToneCurve } from '@blendrak/core/image';
import { planeView } from '@blendrak/core/kernels';
import { threadKernels } from '../kernelHost';
import type { PairResult, StoredPicture, TaskRequest, TaskResponse } from '../protocol';
import { tileFile } from '../sources';
import { colourPairs, frameSamples, gridOver, mergeSamples, plainSamples, smallPicture } from './mergeSamples';
import { colourPlanes, levelFor, levelNoise, working, WORK_LONG_SIDE } from '../workingLevels';

const TONE_LONG_SIDE = 420;

export function registerTask({ reference, moving, initial, subject }: TaskRequest<'register'>): PairResult {
  const ref = working(reference, levelFor(tileFile(reference.tiles), WORK_LONG_SIDE));
  const mov = working(moving, ref.level);
  const factor = 2 ** ref.level;
  const start = initial ? rescaleSimilarity(initial, 1 / factor) : undefined;
  const pair = registerPair(subject ? onSubject(ref.levels, subject) : ref.levels, mov.levels, start);
  return {
    toMoving: rescaleSimilarity(pair.toMoving, factor),
    correlation: pair.correlation,
    overlap: pair.overlap,
    residualPx: pair.residualPx * factor,
    blocks: pair.blocks.map((b) => ({
      x: b.x * factor,
      y: b.y * factor,
      shiftX: b.shiftX * factor,
      shiftY: b.shiftY * factor,
      weight: b.weight / factor ** 2,
    })),
  };
}

/**
 * A merge may be a crop at another size: scale and place are searched at the coarsest level, then refined with both
 * pictures brought to the same sampling.
 */
export function placeTask({ frame, merge }: TaskRequest<'place'>): PairResult {
  const rough = searchStart(frame, merge);
  const resampled = resampledLevels(frame, merge, rough);
  const pair = registerPair(resampled.merge, resampled.frame);
  // pair maps merge working px to resampled-frame working px, which the rough placement carries on to the frame.
  const { unit } = resampled;
  return {
    toMoving: composeSimilarity(rough, rescaleSimilarity(pair.toMoving, unit)),
    correlation: pair.correlation,
    overlap: pair.overlap,
    residualPx: pair.residualPx * unit,
    blocks: [],
  };
}

function searchStart(frame: StoredPicture, merge: StoredPicture): Similarity {
  const frameWork = working(frame, levelFor(tileFile(frame.tiles), WORK_LONG_SIDE));
  const frameSmall = pickSmall(frameWork.levels);
  const mergeWork = working(merge, levelFor(tileFile(merge.tiles), WORK_LONG_SIDE));
  const mergeSmall = pickSmall(mergeWork.levels);
  const found = searchPlacement(frameSmall.detail, mergeSmall.detail);
  // Full size: merge px → frame px.
  const mergeUnit = mergeSmall.factor * 2 ** mergeWork.level;
  const frameUnit = frameSmall.factor * 2 ** frameWork.level;
  const scale = (found.toFrame.re * frameUnit) / mergeUnit;
  return { re: scale, im: 0, tx: found.toFrame.tx * frameUnit, ty: found.toFrame.ty * frameUnit };
}

function pickSmall(levels: readonly AlignLevel[]): AlignLevel {
  return levels.find((l) => Math.max(l.detail.width, l.detail.height) >= 90) ?? levels[levels.length - 1]!;
}

/** Both pictures on the merge's sampling: the frame is read through the rough placement. */
function resampledLevels(
  frame: StoredPicture,
  merge: StoredPicture,
  start: Similarity,
): { merge: readonly AlignLevel[]; frame: readonly AlignLevel[]; unit: number } {
  const { level, levels } = working(merge, levelFor(tileFile(merge.tiles), WORK_LONG_SIDE));
  const unit = 2 ** level;
  const { width, height } = levels[levels.length - 1]!.detail;
  const kernels = threadKernels();
  const placed = {
    source: tileFile(frame.tiles),
    geometry: similarityGeometry(invertSimilarity(start)),
    tone: IDENTITY_TONE,
    noise: [],
  };
  const data = kernels.scope(() =>
    planeView(kernels, warpFrameLuma(kernels, placed, { x: 0, y: 0, width, height }, unit)).slice(),
  );
  const pitch = Math.max(1, scaleOf(start) * unit);
  return {
    unit,
    merge: levels,
    frame: alignLevels(kernels, { width, height, data }, levelNoise(frame, Math.log2(pitch))),
  };
}

export function lightGainTask({
  source,
  target,
  sourceToTarget,
}: TaskRequest<'lightGain'>): readonly [number, number, number] {
  const from = colourPlanes(tileFile(source.tiles), levelFor(tileFile(source.tiles), TONE_LONG_SIDE));
  const to = colourPlanes(tileFile(target.tiles), levelFor(tileFile(target.tiles), TONE_LONG_SIDE));
  return fitLightGain(from.planes, to.planes, (x, y) => {
    const [u, v] = applySimilarity(sourceToTarget, x * from.unit, y * from.unit);
    return [u / to.unit, v / to.unit];
  });
}

export function mergeShadeTask({ frames, merge }: TaskRequest<'mergeShade'>): TaskResponse<'mergeShade'> {
  return fitMergeShade(frames.flatMap((frame) => colourPairs(frame, merge) ?? []));
}

export function greyMixTask({ frame, merge }: TaskRequest<'greyMix'>): TaskResponse<'greyMix'> {
  const pairs = colourPairs(frame, merge);
  return pairs && fitGreyMix(pairs);
}

export function toneTask({ frame, merge, isExposure }: TaskRequest<'tone'>): ToneCurve {
  const pairs = colourPairs(frame, merge);
  // A frame that the merge hardly shows says nothing of its tone.
  if (!pairs) return IDENTITY_TONE;
  const { grey } = frame;
  const mixed =
    grey && pairs.source[0].map((r, i) => grey[0] * r + grey[1] * pairs.source[1][i]! + grey[2] * pairs.source[2][i]!);
  const channel = (c: 0 | 1 | 2): TonePairs => ({ source: mixed ?? pairs.source[c], target: pairs.target[c] });
  if (!isExposure) return fitTone([channel(0), channel(1), channel(2)]);
  return fitTone([evenPairs(channel(0)), evenPairs(channel(1)), evenPairs(channel(2))], STRAIGHT, KNOTS);
}

export function mixedToneTask({ frame, merge, mix }: TaskRequest<'mixedTone'>): TaskResponse<'mixedTone'> {
  const pairs = colourPairs(frame, merge);
  return pairs && fitMixedTone(pairs, mix);
}

/** Evened pairs tell each part of the curve by themselves: it may bend, most of all before it ends in white. */
const [STRAIGHT, KNOTS] = [0.002, 33];

/** Px between the places that frames and merge are compared at, on the level that is looked at. */
const COMMON_PITCH = 2;

export function commonToneTask({ frames, merge }: TaskRequest<'commonTone'>): TaskResponse<'commonTone'> {
  const small = smallPicture(merge);
  const grid = gridOver(small, COMMON_PITCH);
  // Toned as they are; what a finish did after the tone is taken back from the merge.
  return fitCommonTone(
    plainSamples(small, grid, frames[0]!),
    frames.map((frame) => frameSamples(frame, grid)),
  );
}

/** Encoded values beyond which a frame's file is clipped. */
const HELD = [0.02, 0.97] as const;

export function localContrastTask({
  frames,
  merge,
  inside,
}: TaskRequest<'localContrast'>): TaskResponse<'localContrast'> {
  const small = smallPicture(merge);
  const grid = gridOver(small, 1);
  return fitLocalContrast(
    mergeSamples(small, grid, inside),
    frames.map((frame) => frameSamples(frame, grid, HELD)),
    { width: grid.across, height: grid.down, pitchPx: grid.unit },
  );
}
