// The frame that people take to mark the end of a set: their hand, or the lens covered.
import { boxSmooth, dilate, findComponents, median, quantile } from '../image';
import type { FrameSummary } from './frameSummary';

/** A covered lens: next to nothing gets through, anywhere; light in EV under white. */
const COVERED_EV = -6;
/** A hand over the view is at least this share of it in one piece. */
export const HAND_SHARE = 0.03;
/** Change of colour or light that neither focus nor wind makes over so large a piece, EV. */
const CHANGED_EV = 0.45;
const SMOOTH_PX = 3;
/** Linear light below which a frame's colours are noise. */
const FLOOR = 0.004;
/** More light than a common gain explains, EV. */
const BRIGHTER_EV = 0.7;

/** Whether almost nothing reached the sensor. */
export function isCovered({ light }: FrameSummary): boolean {
  return quantile(light, 0.998) < COVERED_EV;
}

/** A piece of the view that shows something else than another frame of the same view. */
export interface ForeignPiece {
  /** Share of the view. */
  readonly share: number;
  /** Marked there and a little around it. */
  readonly mask: Uint8Array;
}

/**
 * The largest piece of the view that shows something else than another frame of the same view: in colour, or in light
 * beyond a common gain.
 */
export function foreignPiece(frame: FrameSummary, other: FrameSummary): ForeignPiece {
  const { width, height } = frame;
  const n = width * height;
  if (other.width !== width || other.height !== height) return { share: 1, mask: new Uint8Array(n).fill(1) };
  const plane = (value: (i: number) => number) =>
    boxSmooth({ width, height, data: Float32Array.from({ length: n }, (_, i) => value(i)) }, SMOOTH_PX).data;
  const gains: number[] = [];
  for (let i = 0; i < n; i++) if (frame.valid[i]! & other.valid[i]!) gains.push(frame.light[i]! - other.light[i]!);
  if (gains.length < n * 0.05) return { share: 0, mask: new Uint8Array(n) };
  const gain = median(gains);
  // The floor that keeps noise from counting as colour lies at the same light of the scene in both: saturated dark things
  // would else look greyer in the darker frame.
  const log = (summary: FrameSummary, k: 0 | 1 | 2, brighterEv: number) => {
    const floor = FLOOR * 2 ** Math.max(0, brighterEv);
    return plane((i) => Math.log2(summary.rgb[k][i]! + floor));
  };
  const [fr, fg, fb] = [log(frame, 0, gain), log(frame, 1, gain), log(frame, 2, gain)];
  const [or, og, ob] = [log(other, 0, -gain), log(other, 1, -gain), log(other, 2, -gain)];
  const changed = new Uint8Array(n);
  for (let i = 0; i < n; i++) {
    // Clipped parts have no colour to compare; what is clipped in the highlights is at least so bright.
    if (!(frame.valid[i]! & other.valid[i]!)) {
      changed[i] =
        beyondGain(frame, other, i, gain) > BRIGHTER_EV || beyondGain(other, frame, i, -gain) > BRIGHTER_EV ? 1 : 0;
      continue;
    }
    const red = fr[i]! - fg[i]! - (or[i]! - og[i]!);
    const blue = fb[i]! - fg[i]! - (ob[i]! - og[i]!);
    const light = Math.abs(fg[i]! - og[i]! - gain) * 0.5;
    changed[i] = Math.abs(red) + Math.abs(blue) + light > CHANGED_EV ? 1 : 0;
  }
  const components = findComponents({ width, height, data: changed });
  const largest = components.reduce<readonly number[]>((m, c) => (c.cells.length > m.length ? c.cells : m), []);
  const piece = new Uint8Array(n);
  for (const c of largest) piece[c] = 1;
  return { share: largest.length / n, mask: dilate({ width, height, data: piece }, SMOOTH_PX + 1).data };
}

/** How much brighter a place is than the other frame's light and the gain explain, EV; −∞ where that is clipped. */
function beyondGain(frame: FrameSummary, other: FrameSummary, i: number, gain: number): number {
  return other.valid[i] ? frame.light[i]! - other.light[i]! - gain : -Infinity;
}
