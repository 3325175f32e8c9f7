// Step: the exposures of a bracket laid on one of them, and how much light each got.
import { estimateExposures, type BlockShift, type PlaneModel } from '@blendrak/core/align';
import {
  composeMatrix,
  IDENTITY,
  IDENTITY_TONE,
  invertMatrix,
  median,
  similarityMatrix,
  touchingSimilarity,
  type Matrix3,
} from '@blendrak/core/image';
import { InputError } from '../../codecs';
import type { Subject } from '../../jobs';
import type { FailedFrame } from './alignPanorama';
import { inParallel, type PlacedFrame, type SetPicture, type StepContext } from './types';

export interface ExposedFrame extends PlacedFrame {
  /** Exposure against the reference, EV. */
  readonly ev: number;
  /** Local shifts against the frame it was laid on, px. */
  readonly blocks: readonly BlockShift[];
}

export interface AlignedBracket {
  readonly frames: readonly ExposedFrame[];
  readonly reference: number;
  readonly failed: readonly FailedFrame[];
  readonly remarks: readonly FailedFrame[];
}

const LOOK_PX = 360;
/** Correlation of normalised detail below this is chance between different pictures; see alignFrames. */
const SAME_SCENE = 0.18;
const EQUAL_EV = 0.1;

/**
 * Aligns a bracket: each exposure to its neighbour in brightness, towards the reference.
 * @param reference index of the frame whose geometry the merge takes; 'auto' takes the middle exposure
 * @param model freedoms of the map between frames; a camera in the hand needs all eight
 * @param subject what the frames are aligned on; empty: all of the picture
 * @throws InputError for fewer than two frames or different sizes
 */
export async function alignBracket(
  pictures: readonly SetPicture[],
  reference: number | 'auto',
  model: PlaneModel,
  context: StepContext,
  subject: Subject = [],
): Promise<AlignedBracket> {
  const { run, signal, onProgress } = context;
  checkBracket(pictures);
  const { width, height } = pictures[0]!;
  const unplaced = pictures.map((p): PlacedFrame => ({
    ...p,
    toMerge: IDENTITY,
    tone: IDENTITY_TONE,
    residualPx: 0,
    correlation: 1,
  }));
  const looks = await run('smallLuma', { frames: unplaced, width, height, longSidePx: LOOK_PX }, signal);
  const order = pictures
    .map((_, k) => k)
    .sort((a, b) => median(looks[a]!.luma.data) - median(looks[b]!.luma.data) || a - b);
  const chosen = reference === 'auto' ? order[order.length >> 1]! : reference;
  const at = order.indexOf(chosen);
  // Each frame is laid on its neighbour towards the reference.
  const pairs = order.flatMap((k, n) => (n === at ? [] : [[order[n < at ? n + 1 : n - 1]!, k] as const]));
  let done = 0;
  const measured = await inParallel(pairs, context.parallel, async ([onto, k]) => {
    const request = { reference: pictures[onto]!, moving: pictures[k]!, model, ...(subject.length > 0 && { subject }) };
    const result = await run('register', request, signal);
    onProgress((0.8 * ++done) / pairs.length, `aligned ${done} of ${pairs.length} frames`);
    return { onto, k, ...result };
  });
  const failed: FailedFrame[] = [];
  const fromReference = new Map<number, Matrix3>([[chosen, similarityMatrix(IDENTITY)]]);
  // Outwards from the reference, so that what a frame is laid on is placed already.
  const outwards = [...measured].sort((a, b) => Math.abs(order.indexOf(a.k) - at) - Math.abs(order.indexOf(b.k) - at));
  for (const m of outwards) {
    const before = fromReference.get(m.onto) ?? similarityMatrix(IDENTITY);
    const found = m.correlation >= SAME_SCENE && Number.isFinite(m.residualPx);
    if (!found) {
      failed.push({
        name: pictures[m.k]!.name,
        why: `it cannot be laid on the others (agreement ${(100 * Math.max(0, m.correlation)).toFixed(0)} %): too little detail in common, or another scene; it is left where it lies`,
      });
    }
    fromReference.set(m.k, found ? composeMatrix(m.matrix ?? similarityMatrix(m.toMoving), before) : before);
  }
  const placed = pictures.map((picture, k): Omit<ExposedFrame, 'ev'> => {
    const toFrame = fromReference.get(k)!;
    const view = { model: 'homography' as const, toFrame };
    const own = measured.find((m) => m.k === k);
    return {
      ...picture,
      toMerge: k === chosen ? IDENTITY : touchingSimilarity(view, width, height),
      tone: IDENTITY_TONE,
      ...(k !== chosen && { view }),
      residualPx: own?.residualPx ?? 0,
      correlation: own?.correlation ?? 1,
      blocks: own?.blocks ?? [],
    };
  });
  const small = await run('smallLuma', { frames: placed, width, height, longSidePx: LOOK_PX }, signal);
  const ev = estimateExposures(
    small.map((s) => s.luma),
    chosen,
  );
  const remarks = placed.flatMap((f, k): FailedFrame[] => {
    if (Number.isNaN(ev[k]!))
      return [{ name: f.name, why: 'its exposure cannot be told: it shares no well exposed place with the others' }];
    const same = k !== chosen && Math.abs(ev[k]!) < EQUAL_EV;
    return same
      ? [{ name: f.name, why: 'it has the exposure of the reference: it adds less noise, but no range' }]
      : [];
  });
  onProgress(1, 'frames aligned');
  return {
    frames: placed.map((f, k) => ({ ...f, ev: Number.isNaN(ev[k]!) ? 0 : ev[k]! })),
    reference: chosen,
    failed,
    remarks,
  };
}

/** Merge px → frame px. */
export function matrixToFrame(frame: PlacedFrame): Matrix3 {
  return frame.view?.model === 'homography' ? frame.view.toFrame : invertMatrix(similarityMatrix(frame.toMerge));
}

function checkBracket(pictures: readonly SetPicture[]): void {
  if (pictures.length < 2)
    throw new InputError(
      pictures[0]?.name ?? 'the set',
      `a bracket needs at least 2 frames, this one has ${pictures.length}`,
      '2 to 32 frames',
    );
  if (pictures.length > 32) throw new InputError('the set', `it has ${pictures.length} frames`, '2 to 32 frames');
  const first = pictures[0]!;
  const odd = pictures.find((p) => p.width !== first.width || p.height !== first.height);
  if (odd)
    throw new InputError(
      odd.name,
      `it has ${odd.width} × ${odd.height} px, but ${first.name} has ${first.width} × ${first.height} px`,
      'frames of one size',
    );
}
