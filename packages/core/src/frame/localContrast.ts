// Local contrast that a merge was given when it was finished: what its frames must be given, too, to be what it shows.
import { LUMA_WEIGHTS, type Region } from '../image';
import { planeView, type KernelPlanes, type Kernels } from '../kernels';

/** An unsharp mask of a large radius: value + amount · (value − surroundings). Plain data. */
export interface LocalContrast {
  /** Above 0 where contrast was raised. */
  readonly amount: number;
  /** σ of the blur that makes the surroundings, merge px; for the record, as they are known. */
  readonly radiusPx: number;
  readonly columns: number;
  readonly rows: number;
  /** Nodes stand in the middles of equal parts of so many merge px. */
  readonly nodePx: number;
  /** Surroundings in the merge's tone as it was before: R, G and B of each node, row by row. */
  readonly values: readonly number[];
}

/** Surroundings of a place between four nodes, by channel. */
function surroundingsAt(
  { columns, rows, nodePx, values }: LocalContrast,
  x: number,
  y: number,
): [number, number, number] {
  const u = Math.min(columns - 1, Math.max(0, x / nodePx - 0.5));
  const v = Math.min(rows - 1, Math.max(0, y / nodePx - 0.5));
  const [x0, y0] = [Math.min(Math.max(0, columns - 2), Math.floor(u)), Math.min(Math.max(0, rows - 2), Math.floor(v))];
  const [x1, y1] = [Math.min(columns - 1, x0 + 1), Math.min(rows - 1, y0 + 1)];
  const [fx, fy] = [u - x0, v - y0];
  const of = (c: number): number => {
    const at = (column: number, row: number): number => values[3 * (row * columns + column) + c]!;
    return (at(x0, y0) * (1 - fx) + at(x1, y0) * fx) * (1 - fy) + (at(x0, y1) * (1 - fx) + at(x1, y1) * fx) * fy;
  };
  return [of(0), of(1), of(2)];
}

/**
 * A colour of the merge as it was before its local contrast was raised.
 * @param x, y where it lies, merge px
 */
export function withoutContrast(
  contrast: LocalContrast,
  x: number,
  y: number,
  colour: readonly [number, number, number],
): [number, number, number] {
  const { amount } = contrast;
  const around = surroundingsAt(contrast, x, y);
  const before = (c: 0 | 1 | 2): number => (colour[c] + amount * around[c]) / (1 + amount);
  return [before(0), before(1), before(2)];
}

/** Between so many px of a result surroundings are taken as straight. */
const STRIDE = 8;

/**
 * Raises the local contrast of a frame as the merge's was.
 * @param planes R, G, B (and more), or luma alone, of a part of the merge; changed in place, kept within 0..1
 * @param part that the planes cover, in units of `scale` merge px
 * Cost: about 3 ns per value.
 */
export function raiseContrast(
  kernels: Kernels,
  planes: KernelPlanes,
  part: Region,
  contrast: LocalContrast,
  scale: number,
): void {
  const isLuma = planes.count === 1;
  const views = (isLuma ? [0] : [0, 1, 2]).map((c) => planeView(kernels, planes, c));
  const { amount } = contrast;
  const steps = Math.ceil(part.width / STRIDE) + 1;
  const around = views.map(() => new Float32Array(steps));
  for (let y = 0; y < part.height; y++) {
    for (let n = 0; n < steps; n++) {
      const rgb = surroundingsAt(contrast, (part.x + n * STRIDE + 0.5) * scale, (part.y + y + 0.5) * scale);
      if (isLuma) around[0]![n] = LUMA_WEIGHTS.reduce((sum, share, c) => sum + share * rgb[c]!, 0);
      else around.forEach((line, c) => (line[n] = rgb[c]!));
    }
    views.forEach((view, c) => {
      const line = around[c]!;
      for (let x = 0, i = y * part.width; x < part.width; x++, i++) {
        const n = Math.floor(x / STRIDE);
        const b = line[n]! + ((x - n * STRIDE) / STRIDE) * (line[n + 1]! - line[n]!);
        view[i] = Math.min(1, Math.max(0, view[i]! + amount * (view[i]! - b)));
      }
    });
  }
}
