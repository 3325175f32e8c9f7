// What is left between frames, in words: a frame that nothing ties has no residual, not one of 0.
import type { MergeFrame } from '@blendrak/contract';

/** A frame's residual in px with two digits; "not known" where nothing ties the frame to others. */
export function residualWords(residualPx: number | null): string {
  return residualPx === null ? 'not known' : residualPx.toFixed(2);
}

/** The frame that others miss most, with how far; null where no residual is known. */
export function worstResidual(
  frames: readonly MergeFrame[],
): { readonly frame: MergeFrame; readonly residualPx: number } | null {
  let worst: { frame: MergeFrame; residualPx: number } | null = null;
  for (const frame of frames) {
    const { residualPx } = frame;
    if (residualPx !== null && residualPx > (worst?.residualPx ?? -1)) worst = { frame, residualPx };
  }
  return worst;
}
