// The px that cells are made of. Pictures that are soft at the pixel are looked at in larger ones, in which they are as sharp as others.
import type { NoiseCurve } from '../image';

export interface WorkingPx {
  /** Px of the merge along each side of one that cells are made of: 1 at full size. */
  readonly unitPx: number;
  /** What is left of the frames' noise variance in such a px: a quarter at 2 if px were independent, more where they are not. */
  readonly noiseShare: number;
}

/** Cells of the merge's own px. */
export const FULL_SIZE: WorkingPx = { unitPx: 1, noiseShare: 1 };

/** A noise curve as it is in working px. */
export function workingNoise(noise: NoiseCurve, { noiseShare }: WorkingPx): NoiseCurve {
  return noiseShare === 1 ? noise : noise.map((v) => v * noiseShare);
}
