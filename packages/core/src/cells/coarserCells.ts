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
  const join = <T extends Float32Array | Uint8Array>(
    data: T,
    out: T,
    of: (a: number, b: number, c: number, d: number) => number,
  ): T => {
    for (let y = 0; y < height; y++) {
      const upper = 2 * y * stack.width;
      const lower = Math.min(2 * y + 1, stack.height - 1) * stack.width;
      for (let x = 0; x < width; x++) {
        const right = Math.min(2 * x + 1, stack.width - 1);
        out[y * width + x] = of(data[upper + 2 * x]!, data[upper + right]!, data[lower + 2 * x]!, data[lower + right]!);
      }
    }
    return out;
  };
  const mean = (data: Float32Array): Float32Array =>
    join(data, new Float32Array(width * height), (a, b, c, d) => (a + b + c + d) / 4);
  const allOf = (flags: Uint8Array): Uint8Array =>
    join(flags, new Uint8Array(width * height), (a, b, c, d) => a & b & c & d);
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
    picked: join(stack.picked, new Uint8Array(width * height), (a) => a),
    noise: stack.noise,
    noiseMiddle: mean(stack.noiseMiddle),
    grain: stack.grain && mean(stack.grain),
  };
}
