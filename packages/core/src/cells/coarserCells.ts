// Cells of twice the size, for what is too wide to be seen on small ones.
import type { CellFrame, CellPicture, CellStack } from './gatherCells';

/**
 * Joins cells 2 × 2; cells at an odd right or lower edge stand for what is there.
 * @returns a stack whose energies, colours and residuals are means; a coarse cell is valid when all its cells are
 * Cost: about 12 operations per cell and frame.
 */
export function coarserCells(stack: CellStack): CellStack {
  const width = (stack.width + 1) >> 1;
  const height = (stack.height + 1) >> 1;
  const four = foursOf(stack, width, height);
  const mean = (data: Float32Array): Float32Array => meanOfFour(data, four, new Float32Array(width * height));
  const allOf = (flags: Uint8Array): Uint8Array => allOfFour(flags, four, new Uint8Array(width * height));
  const picture = (p: CellPicture): CellPicture => ({
    fine: mean(p.fine),
    middle: mean(p.middle),
    coarse: mean(p.coarse),
    mean: [mean(p.mean[0]), mean(p.mean[1]), mean(p.mean[2])],
    valid: allOf(p.valid),
  });
  return {
    unitPx: stack.unitPx,
    region: stack.region,
    width,
    height,
    merge: stack.merge && picture(stack.merge),
    frames: stack.frames.map((f): CellFrame => ({ ...picture(f), residual: mean(f.residual), relation: null })),
    unexplained: mean(stack.unexplained),
    picked: Uint8Array.from(four.first, (i) => stack.picked[i]!),
    noise: stack.noise,
    noiseMiddle: mean(stack.noiseMiddle),
    grain: stack.grain && mean(stack.grain),
  };
}

/** For each coarse cell the first of its four; steps to the one beside it and to the one below it. */
interface Four {
  readonly first: Uint32Array;
  readonly right: Uint32Array;
  readonly below: Uint32Array;
}

function foursOf(stack: CellStack, width: number, height: number): Four {
  const n = width * height;
  const four = { first: new Uint32Array(n), right: new Uint32Array(n), below: new Uint32Array(n) };
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      four.first[i] = 2 * y * stack.width + 2 * x;
      four.right[i] = 2 * x + 1 < stack.width ? 1 : 0;
      four.below[i] = 2 * y + 1 < stack.height ? stack.width : 0;
    }
  }
  return four;
}

function meanOfFour(data: Float32Array, { first, right, below }: Four, out: Float32Array): Float32Array {
  for (let i = 0; i < out.length; i++) {
    const at = first[i]!;
    const under = at + below[i]!;
    out[i] = (data[at]! + data[at + right[i]!]! + data[under]! + data[under + right[i]!]!) / 4;
  }
  return out;
}

function allOfFour(flags: Uint8Array, { first, right, below }: Four, out: Uint8Array): Uint8Array {
  for (let i = 0; i < out.length; i++) {
    const at = first[i]!;
    const under = at + below[i]!;
    out[i] = flags[at]! & flags[at + right[i]!]! & flags[under]! & flags[under + right[i]!]!;
  }
  return out;
}
