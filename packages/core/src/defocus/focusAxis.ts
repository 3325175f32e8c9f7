// Where each frame stands on the focus axis, and how much blur one unit of that axis makes.
import { median } from '../image';
import { nearEndSaid, type NearSide } from './nearSide';
import { scaleOf, touchingSimilarity, type FrameGeometry, type FrameSize } from '../frame';

/** Positions of the frames along the focus axis, in typical frame steps, in shooting order; rising or falling. */
export interface FocusAxis {
  readonly positions: readonly number[];
  /** Whether the positions come from breathing (measured) or are assumed to be equal steps. */
  readonly source: 'breathing' | 'equal-steps';
  /** The end that is focused nearest, where the files say it. */
  readonly nearEnd?: NearSide;
}

// Breathing must exceed what registration can mistake: 1e-4 of the picture is 0.6 px at the edge of 6000 px.
const SMALLEST_STEP = 1e-4;

interface SizedGeometry extends FrameSize {
  readonly geometry: FrameGeometry;
}

/**
 * Reads the focus axis from the frames' scales: the image distance, and with it the scale, is linear in 1/focus distance
 * for a lens that breathes, so a slice that was never shot shows as a double step.
 * @param frames where they lie, and their sizes, in shooting order
 * @param distances to which they were focused, as the files say it, m; null where one says nothing
 * @returns positions with a median step of 1; equal steps when scales do not move steadily one way
 */
export function focusAxis(frames: readonly SizedGeometry[], distances: readonly (number | null)[] = []): FocusAxis {
  const said = nearEndSaid(distances);
  const nearEnd = said && { nearEnd: said };
  const logs = frames.map(({ geometry, width, height }) =>
    Math.log(scaleOf(touchingSimilarity(geometry, width, height))),
  );
  const steps = logs.slice(1).map((v, i) => v - logs[i]!);
  const typical = median(steps);
  const steady = steps.length >= 2 && Math.abs(typical) > SMALLEST_STEP && steps.every((s) => s / typical > 0.2);
  if (!steady) return { positions: frames.map((_, i) => i), source: 'equal-steps', ...nearEnd };
  return { positions: logs.map((v) => (v - logs[0]!) / typical), source: 'breathing', ...nearEnd };
}
