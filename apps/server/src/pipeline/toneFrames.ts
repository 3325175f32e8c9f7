// Step: the frames of a merge made elsewhere brought to its tone, its mix of channels and its local contrast.
import type { MergeKind } from '@blendrak/contract';
import { joinTones, median, type ChannelWeights } from '@blendrak/core/image';
import { spread, WITNESSES } from './spread';
import { inParallel, type PlacedFrame, type SetPicture, type StepContext } from './types';

/** Frames toned as the merge is: by curves, and by local contrast where that was raised all over it. */
export async function toned(
  frames: readonly PlacedFrame[],
  merge: SetPicture,
  kind: MergeKind,
  context: StepContext,
): Promise<PlacedFrame[]> {
  const { run, signal } = context;
  const grey = await greyOf(frames, merge, context);
  const hasColour = grey === null;
  // A bracket's tone is made of its colours, before they are lost.
  const isMixedLast = !hasColour && kind === 'bracket';
  const plain = frames.map((f) => ({ ...f, grey: isMixedLast ? null : grey }));
  const curve = (of: readonly PlacedFrame[]): Promise<PlacedFrame[]> =>
    isMixedLast ? mixed(of, merge, context) : curved(of, merge, kind, context);
  const first = await curve(plain);
  const inside = await run('mat', { merge }, signal);
  const contrast = await run('localContrast', { frames: first, merge, inside }, signal);
  if (!contrast) return first;
  // Curves were fitted to what the filter had changed: once more without, and the filter to the better curves.
  const second = await curve(plain.map((f) => ({ ...f, contrast })));
  const better = await run('localContrast', { frames: second, merge, inside }, signal);
  return better ? second.map((f) => ({ ...f, contrast: better })) : second;
}

/** Exposures of a bracket that lost its colour: one mix for all of them, and the curve of each that goes with it. */
async function mixed(
  frames: readonly PlacedFrame[],
  merge: SetPicture,
  { run, signal, parallel }: StepContext,
): Promise<PlacedFrame[]> {
  const fit = (mix: ChannelWeights | null) =>
    inParallel(frames, parallel, (frame) => run('mixedTone', { frame, merge, mix }, signal));
  const mix = middleMix((await fit(null)).flatMap((f) => (f ? [f.mix] : [])));
  if (!mix) return frames.map((f) => ({ ...f }));
  const fitted = await fit(mix);
  return frames.map((f, k) => ({ ...f, mix, tone: fitted[k]?.tone ?? f.tone }));
}

/** The median of several mixes; null for none. */
function middleMix(mixes: readonly ChannelWeights[]): ChannelWeights | null {
  if (mixes.length === 0) return null;
  const share = (c: 0 | 1 | 2): number => median(mixes.map((mix) => mix[c]));
  const [r, g, b] = [share(0), share(1), share(2)];
  const sum = r + g + b;
  return [r / sum, g / sum, b / sum];
}

async function curved(
  frames: readonly PlacedFrame[],
  merge: SetPicture,
  kind: MergeKind,
  context: StepContext,
): Promise<PlacedFrame[]> {
  // Frames of a stack differ in blur, which a curve fitted to each by itself would take for tone.
  const common = kind === 'focus-stack' ? await context.run('commonTone', { frames, merge }, context.signal) : null;
  if (common) return frames.map((frame) => ({ ...frame, tone: joinTones(frame.tone, common) }));
  let done = 0;
  const out = await inParallel(frames, context.parallel, async (frame) => {
    const tone = await context.run('tone', { frame, merge, isExposure: kind === 'bracket' }, context.signal);
    context.onProgress(0.75 + (0.25 * ++done) / frames.length, `toned ${done} of ${frames.length} frames`);
    return { ...frame, tone };
  });
  context.onProgress(1, 'merge registered');
  return out;
}

/** The mix of channels that a merge without colour shows, the same for all its frames; null for one with colour. */
async function greyOf(
  frames: readonly PlacedFrame[],
  merge: SetPicture,
  { run, signal, parallel }: StepContext,
): Promise<ChannelWeights | null> {
  const asked = spread(frames.length, WITNESSES).map((k) => frames[k]!);
  const found = await inParallel(asked, parallel, (frame) => run('greyMix', { frame, merge }, signal));
  return middleMix(found.filter((mix) => mix !== null));
}
