// How a merge made elsewhere is put together from its frames: which frame where, and what went wrong.

/** What a strip along an edge was filled with where no frame reached. */
export interface EdgeFill {
  readonly side: 'left' | 'right' | 'top' | 'bottom';
  readonly widthPx: number;
  readonly mode: 'mirrored' | 'smeared' | 'empty';
}

/** One merge, per cell of its canvas. Whatever is left out is as it should be. */
export interface Recipe {
  /** Frame taken. */
  readonly labels: Uint8Array;
  /** How far the taken part is shifted, px of the canvas. */
  readonly shiftX: Float32Array;
  readonly shiftY: Float32Array;
  /** A second frame mixed in, 255 for none, and its share. */
  readonly second: Uint8Array;
  readonly share: Float32Array;
  /** Light of the taken part against what it should be, per channel. */
  readonly gain: readonly [Float32Array, Float32Array, Float32Array];
  edge: EdgeFill | null;
}

export const NO_FRAME = 255;

/** A merge without faults. */
export function plainRecipe(labels: Uint8Array): Recipe {
  const n = labels.length;
  const ones = (): Float32Array => new Float32Array(n).fill(1);
  return {
    labels: labels.slice(),
    shiftX: new Float32Array(n),
    shiftY: new Float32Array(n),
    second: new Uint8Array(n).fill(NO_FRAME),
    share: new Float32Array(n),
    gain: [ones(), ones(), ones()],
    edge: null,
  };
}
