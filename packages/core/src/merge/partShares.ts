// Shares of frames where a person painted what is to come from which.
import { badParameter } from '../checks';
import { paintArea, tentSmooth, type AreaShape, type Plane } from '../image';

/** A part of the picture that comes from one frame. */
export interface FramePart {
  /** Index of the frame. */
  readonly frame: number;
  readonly shapes: readonly AreaShape[];
}

/**
 * Shares of frames: parts over each other in order, the reference everywhere else; at each place they add up to 1.
 * @param columns, rows of the grid
 * @param feather width of the soft edge, as a share of the picture's width
 * @throws ParameterError for a part from a frame that is not there
 * Cost: that of painting, and a smoothing per part.
 */
export function partShares(
  parts: readonly FramePart[],
  reference: number,
  frames: number,
  columns: number,
  rows: number,
  feather: number,
): Plane[] {
  const shares = Array.from({ length: frames }, (_, k) =>
    new Float32Array(columns * rows).fill(k === reference ? 1 : 0),
  );
  parts.forEach(({ frame, shapes }, n) => {
    if (!(Number.isInteger(frame) && frame >= 0 && frame < frames))
      throw badParameter(`partShares.parts.${n}.frame`, `0 to ${frames - 1}`, frame);
    const hard = Float32Array.from(paintArea(shapes, columns, rows).data);
    const radius = Math.round((feather * columns) / 2);
    const soft = radius > 0 ? tentSmooth({ width: columns, height: rows, data: hard }, radius).data : hard;
    shares.forEach((share, k) => {
      for (let i = 0; i < share.length; i++) share[i] = share[i]! * (1 - soft[i]!) + (k === frame ? soft[i]! : 0);
    });
  });
  return shares.map((data) => ({ width: columns, height: rows, data }));
}
