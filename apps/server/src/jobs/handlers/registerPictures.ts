// Tasks `register`, `place`, `greyMix`, `tone` and `lightGain`: where pictures lie on each other, and how their tone differs.
import {
  alignLevels,
  fitCommonTone,
  fitLightGain,
  evenPairs,
  fitTone,
  onSubject,
  registerPair,
  searchPlacement,
  type AlignLevel,
  type ColourSamples,
  type TonePairs,
} from '@blendrak/core/align';
import {
  applySimilarity,
  composeSimilarity,
  frameToMerge,
  invertSimilarity,
  mergeToFrame,
  rescaleSimilarity,
  scaleOf,
  type Similarity,
  warpFrameLuma,
  similarityGeometry,
} from '@blendrak/core/frame';
import {
  evaluateTone,
  fitGreyMix,
  IDENTITY_TONE,
  sampleBilinear,
  type ColourPairs,
  type ToneCurve,
} from '@blendrak/core/image';
import { planeView } from '@blendrak/core/kernels';
import { threadKernels } from '../kernelHost';
import type { PairResult, PlacedPicture, StoredPicture, TaskRequest, TaskResponse } from '../protocol';
import { tileFile } from '../sources';
import { colourPlanes, levelFor, levelNoise, working, WORK_LONG_SIDE } from '../workingLevels';

const TONE_LONG_SIDE = 420;
const LEAST_TONE_PAIRS = 200;

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

/** Evened pairs tell each part of the curve by themselves: it may bend, most of all before it ends in white. */
const [STRAIGHT, KNOTS] = [0.002, 33];

/** Px between the places that frames and merge are compared at, on the level that is looked at. */
const COMMON_PITCH = 2;

export function commonToneTask({ frames, merge }: TaskRequest<'commonTone'>): TaskResponse<'commonTone'> {
  const to = colourPlanes(tileFile(merge.tiles), levelFor(tileFile(merge.tiles), TONE_LONG_SIDE));
  const { width, height } = to.planes[0];
  const [across, down] = [Math.floor(width / COMMON_PITCH), Math.floor(height / COMMON_PITCH)];
  /** A picture's colours at all places. */
  const samples = (of: (x: number, y: number) => readonly [number, number, number] | null): ColourSamples => {
    const out = [0, 1, 2].map(() => new Float32Array(across * down).fill(NaN)) as [
      Float32Array,
      Float32Array,
      Float32Array,
    ];
    for (let i = 0; i < across * down; i++) {
      const colour = of(((i % across) + 0.5) * COMMON_PITCH, (Math.floor(i / across) + 0.5) * COMMON_PITCH);
      if (colour) out.forEach((plane, c) => (plane[i] = colour[c]!));
    }
    return out;
  };
  const seen = frames.map(({ tiles, geometry, tone, grey }) => {
    const { unit, planes } = colourPlanes(tileFile(tiles), levelFor(tileFile(tiles), TONE_LONG_SIDE));
    return samples((x, y) => {
      const at = mergeToFrame(geometry, x * to.unit, y * to.unit);
      if (!at) return null;
      const [u, v] = [at[0] / unit, at[1] / unit];
      if (u < 1 || v < 1 || u > planes[0].width - 1 || v > planes[0].height - 1) return null;
      const [r, g, b] = planes.map((plane) => sampleBilinear(plane, u, v)) as [number, number, number];
      const mixed = grey ? grey[0] * r + grey[1] * g + grey[2] * b : null;
      return [evaluateTone(tone[0], mixed ?? r), evaluateTone(tone[1], mixed ?? g), evaluateTone(tone[2], mixed ?? b)];
    });
  });
  return fitCommonTone(
    samples((x, y) => to.planes.map((plane) => sampleBilinear(plane, x, y)) as [number, number, number]),
    seen,
  );
}

/** Colours of a frame and of a merge at the same places; null where there are too few to say anything. */
function colourPairs(frame: PlacedPicture, merge: StoredPicture): ColourPairs | null {
  const from = colourPlanes(tileFile(frame.tiles), levelFor(tileFile(frame.tiles), TONE_LONG_SIDE));
  const to = colourPlanes(tileFile(merge.tiles), levelFor(tileFile(merge.tiles), TONE_LONG_SIDE));
  const { width, height } = from.planes[0];
  const empty = (): [Float32Array, Float32Array, Float32Array] => [
    new Float32Array(width * height),
    new Float32Array(width * height),
    new Float32Array(width * height),
  ];
  const [source, target] = [empty(), empty()];
  let count = 0;
  for (let y = 1; y < height - 1; y++) {
    for (let x = 1; x < width - 1; x++) {
      const at = frameToMerge(frame.geometry, (x + 0.5) * from.unit, (y + 0.5) * from.unit);
      if (!at) continue;
      const px = at[0] / to.unit;
      const py = at[1] / to.unit;
      if (px < 1 || py < 1 || px > to.planes[0].width - 1 || py > to.planes[0].height - 1) continue;
      for (let c = 0; c < 3; c++) {
        source[c]![count] = from.planes[c]!.data[y * width + x]!;
        target[c]![count] = sampleBilinear(to.planes[c]!, px, py);
      }
      count++;
    }
  }
  if (count < LEAST_TONE_PAIRS) return null;
  const upTo = ([r, g, b]: ColourPairs['source']): ColourPairs['source'] => [
    r.subarray(0, count),
    g.subarray(0, count),
    b.subarray(0, count),
  ];
  return { source: upTo(source), target: upTo(target) };
}
