// Step: the exposures of a bracket laid on one of them, and how much light each got.
import { estimateExposures, tiesOfBlocks, type BlockShift, type PlaneModel } from '@blendrak/core/align';
import { composeSimilarity, IDENTITY, invertSimilarity, type Similarity, SAME_PLACE } from '@blendrak/core/frame';
import { IDENTITY_TONE, median } from '@blendrak/core/image';
import { InputError } from '../codecs';
import type { FailedFrame } from './alignPanorama';
import { fieldBend, placeOf } from './placeOf';
import { inParallel, type AlignmentOptions, type PlacedFrame, type SetPicture, type StepContext } from './types';

export interface ExposedFrame extends PlacedFrame {
  /** Exposure against the reference, EV. */
  readonly ev: number;
  /** Local shifts against the frame it was laid on, px. */
  readonly blocks: readonly BlockShift[];
}

export interface AlignedBracket {
  readonly frames: readonly ExposedFrame[];
  readonly reference: number;
  readonly model: PlaneModel;
  /** Most that local shifts bend a straight line, px; null where there are none. */
  readonly bendPx: number | null;
  readonly failed: readonly FailedFrame[];
  readonly remarks: readonly FailedFrame[];
}

const LOOK_PX = 360;
/** Correlation of normalised detail below this is chance between different pictures; see alignFrames. */
const SAME_SCENE = 0.18;
const EQUAL_EV = 0.1;

/**
 * Aligns a bracket: each exposure to its neighbour in brightness, towards the reference.
 * @param reference index; 'auto' takes the middle exposure
 * @throws InputError for fewer than two frames or different sizes
 */
export async function alignBracket(
  pictures: readonly SetPicture[],
  { reference, model, bendPx, subject }: AlignmentOptions,
  context: StepContext,
): Promise<AlignedBracket> {
  const { run, signal, onProgress } = context;
  checkBracket(pictures);
  const { width, height } = pictures[0]!;
  const unplaced = pictures.map((p): PlacedFrame => ({
    ...p,
    geometry: SAME_PLACE,
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
    const result = await run('register', { reference: pictures[onto]!, moving: pictures[k]!, subject }, signal);
    onProgress((0.8 * ++done) / pairs.length, `aligned ${done} of ${pairs.length} frames`);
    return { onto, k, ...result, found: result.correlation >= SAME_SCENE && Number.isFinite(result.residualPx) };
  });
  // Outwards from the reference, so that what a frame is laid on is placed already.
  const outwards = [...measured].sort((a, b) => Math.abs(order.indexOf(a.k) - at) - Math.abs(order.indexOf(b.k) - at));
  const start = pictures.map((): Similarity => IDENTITY);
  for (const m of outwards)
    start[m.k] = m.found ? composeSimilarity(start[m.onto]!, invertSimilarity(m.toMoving)) : start[m.onto]!;
  const found = measured.filter((m) => m.found);
  const fitted = await run(
    'planes',
    {
      pictures,
      reference: chosen,
      start,
      pairs: found.map((m) => ({ from: m.onto, to: m.k, ties: tiesOfBlocks(m.blocks, m.toMoving) })),
      model,
      bendPx,
    },
    signal,
  );
  const placed = pictures.map((picture, k): Omit<ExposedFrame, 'ev'> => {
    const own = measured.find((m) => m.k === k);
    return {
      ...picture,
      geometry: placeOf(fitted, k, chosen, start[k]!),
      tone: IDENTITY_TONE,
      residualPx: k === chosen ? 0 : fitted.residualPx[k]!,
      correlation: own?.correlation ?? 1,
      blocks: own?.blocks ?? [],
    };
  });
  const small = await run('smallLuma', { frames: placed, width, height, longSidePx: LOOK_PX }, signal);
  const ev = estimateExposures(
    small.map((s) => s.luma),
    chosen,
  );
  onProgress(1, 'frames aligned');
  return {
    frames: placed.map((f, k) => ({ ...f, ev: Number.isNaN(ev[k]!) ? 0 : ev[k]! })),
    reference: chosen,
    model: fitted.model,
    bendPx: fieldBend(fitted.locals),
    failed: measured
      .filter((m) => !m.found)
      .map((m) => ({
        name: pictures[m.k]!.name,
        why: `it cannot be laid on the others (agreement ${(100 * Math.max(0, m.correlation)).toFixed(0)} %): too little detail in common, or another scene; it is left where it lies`,
      })),
    remarks: placed.flatMap((f, k) => remarksOn(f.name, ev[k]!, k === chosen)),
  };
}

function remarksOn(name: string, ev: number, isReference: boolean): FailedFrame[] {
  if (Number.isNaN(ev))
    return [{ name, why: 'its exposure cannot be told: it shares no well exposed place with the others' }];
  return !isReference && Math.abs(ev) < EQUAL_EV
    ? [{ name, why: 'it has the exposure of the reference: it adds less noise, but no range' }]
    : [];
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
