// What every frame shows around a point, measured.
import type { CellStack } from '../cells';
import { CELL_PX } from '../kernels';
import { explainCells } from '../provenance';
import type { FrameMeasure } from './traceDetection';

/** Frames around a point, and the one that the merge shows there. */
export interface ProbedPlace {
  readonly frames: readonly FrameMeasure[];
  /** Null where no frame has picture. */
  readonly shown: number | null;
}

/**
 * Measures all frames in a square.
 * @param stack cells around it
 * @param x, y middle of the square, merge px
 * @param halfPx half its side, px
 */
export function probeCells(stack: CellStack, x: number, y: number, halfPx: number): ProbedPlace {
  const { region, width, height, frames } = stack;
  const inside: number[] = [];
  for (let cy = 0; cy < height; cy++) {
    for (let cx = 0; cx < width; cx++) {
      const px = region.x + (cx + 0.5) * CELL_PX;
      const py = region.y + (cy + 0.5) * CELL_PX;
      if (Math.abs(px - x) <= halfPx && Math.abs(py - y) <= halfPx) inside.push(cy * width + cx);
    }
  }
  const mean = (data: ArrayLike<number>): number =>
    inside.reduce((s, i) => s + data[i]!, 0) / Math.max(1, inside.length);
  const sharp = frames.map((f) => mean(f.middle));
  const top = Math.max(...sharp, 1e-12);
  const { closest } = explainCells(stack);
  const votes = frames.map((f, k) => inside.filter((i) => closest[i] === k && f.valid[i]).length);
  const most = Math.max(0, ...votes);
  const shown = most > 0 ? votes.indexOf(most) : null;
  return {
    shown,
    frames: frames.map((f, k) => ({
      sharpness: Math.sqrt(sharp[k]! / top),
      difference: Math.sqrt(mean(f.residual)),
      predictedError: Math.sqrt(Math.max(0, top - sharp[k]!)),
      coverage: mean(f.valid),
      shownShare: votes[k]! / Math.max(1, inside.length),
    })),
  };
}
