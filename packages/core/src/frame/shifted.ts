// A frame's geometry in a merge whose places are shifted slowly against the known one.
import { frameToMerge, mergeToFrame } from './mapPoint';
import type { FrameSize } from './coverage';
import type { FrameGeometry } from './geometry';

const COLUMNS = 36;
const ROWS = 24;
/** Shifts are kept to so many steps of a px: a report names all of them. */
const STEPS_PER_PX = 1e4;

/**
 * A frame's geometry in a merge that shows everything a little beside where another one does.
 * @param geometry of the frame in the known merge
 * @param size of the frame
 * @param shift at a place of the merge: it shows what the known merge shows so far beside it, px
 * @returns the geometry with that shift as a local field, its own local field included; good where the shift changes little
 *   within a 36th of the frame
 */
export function shiftedGeometry(
  geometry: FrameGeometry,
  { width, height }: FrameSize,
  shift: (x: number, y: number) => readonly [number, number],
): FrameGeometry {
  const { local: _, ...model } = geometry;
  const [dx, dy]: [number[], number[]] = [[], []];
  for (let j = 0; j < ROWS; j++) {
    for (let i = 0; i < COLUMNS; i++) {
      const u = ((i + 0.5) / COLUMNS) * width;
      const v = ((j + 0.5) / ROWS) * height;
      const at = frameToMerge(model, u, v);
      const by = at ? shift(at[0], at[1]) : [0, 0];
      const there = at && mergeToFrame(geometry, at[0] + by[0]!, at[1] + by[1]!);
      dx.push(there ? kept(there[0] - u) : 0);
      dy.push(there ? kept(there[1] - v) : 0);
    }
  }
  return { ...model, local: { columns: COLUMNS, rows: ROWS, width, height, dx, dy } };
}

function kept(px: number): number {
  return Math.round(px * STEPS_PER_PX) / STEPS_PER_PX;
}
