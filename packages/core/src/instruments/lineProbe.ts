// The line probe: a segment drawn along a cable, a pole or any straight edge, and whether it goes on straight where the merge changes frames.
import { median } from '../image';
import type { Strip } from './sampleStrip';

/** How a line goes on at a place. */
export interface LineStep {
  /** How far it is displaced across itself, px; above 0 to the right, seen along the segment. */
  readonly offsetPx: number;
  /** By how much it turns, degrees; above 0 to the right. */
  readonly kinkDeg: number;
  /** Standard error of the offset from how the line scatters, px. */
  readonly errorPx: number;
}

export interface LineBreak {
  /** px from the segment's beginning. */
  readonly at: number;
  /** Frames shown before and after it; null where it is no known border. */
  readonly border: readonly [before: number, after: number] | null;
  readonly merge: LineStep;
  /** The same line at the same place in the frame that shows it best, and which that is; null where no frame covers it. */
  readonly frame: (LineStep & { readonly index: number }) | null;
  /** Whether the merge breaks a line that the frame shows whole. */
  readonly isBroken: boolean;
}

export interface LineReading {
  /** Where the line lies across the segment, px per px along it; NaN where it is not seen. */
  readonly merge: Float32Array;
  readonly frames: readonly (Float32Array | null)[];
  readonly breaks: readonly LineBreak[];
}

/** The line is followed in steps of so many px. */
const WINDOW_PX = 6;
/** It is looked for so far from where it was last, px. */
const REACH_PX = 4;
/** A side of a border is a straight line through so many px, beginning so far from it. */
const SIDE_PX = 40;
const GAP_PX = 3;
const LEAST_SIDE_PX = 12;
/** Breaks from which they are told: a third of a px, and beyond what scatter makes. */
const LEAST_BREAK_PX = 1 / 3;
const SURE = 4;
const LEAST_KINK_DEG = 0.7;
/** A break that no border explains is said when it is this plain. */
const PLAIN_PX = 0.5;
/** Contrast of a line, encoded, under which it is not seen. */
const LEAST_CONTRAST = 0.01;

/**
 * Follows a line and measures it at each border.
 * @param merge strip along the line
 * @param frames likewise; null for frames that do not reach it
 * @param labels frame shown at each px along it; 255 where that is not known
 * @returns null where no line can be followed
 */
export function lineProbe(merge: Strip, frames: readonly (Strip | null)[], labels: Uint8Array): LineReading | null {
  const form = formOf(merge);
  if (!form) return null;
  const own = follow(merge, form);
  const seen = own.reduce((n, v) => n + (Number.isNaN(v) ? 0 : 1), 0);
  if (seen < 2 * LEAST_SIDE_PX) return null;
  const tracks = frames.map((f) => (f?.valid.includes(1) ? follow(f, form) : null));
  const borders = bordersOf(labels);
  const breaks = borders.flatMap(({ at, pair }) => breakAt(own, tracks, at, pair) ?? []);
  const plain = plainest(
    own,
    borders.map((b) => b.at),
  );
  const unknown = plain === null ? null : breakAt(own, tracks, plain, null);
  if (unknown?.isBroken && Math.abs(unknown.merge.offsetPx) >= PLAIN_PX) breaks.push(unknown);
  return { merge: own, frames: tracks, breaks: breaks.sort((a, b) => a.at - b.at) };
}

/** Whether the line is a stripe or an edge between two tones, its sign, and where it is seen best. */
interface LineForm {
  readonly kind: 'stripe' | 'edge';
  readonly sign: 1 | -1;
  readonly startAt: number;
  readonly startRow: number;
}

function formOf(strip: Strip): LineForm | null {
  let best: (LineForm & { strength: number }) | null = null;
  for (let s = 0; s < strip.length; s += WINDOW_PX) {
    const across = windowAt(strip, s);
    for (const kind of ['stripe', 'edge'] as const) {
      const response = responseOf(across, kind);
      for (let r = 0; r < response.length; r++) {
        const strength = Math.abs(response[r]!);
        if (strength > LEAST_CONTRAST && strength > (best?.strength ?? 0))
          best = { kind, sign: response[r]! > 0 ? 1 : -1, startAt: s, startRow: r, strength };
      }
    }
  }
  return best;
}

/** Mean over a window along the strip, across it. */
function windowAt({ luma, length, across }: Strip, s: number): Float32Array {
  const [start, end] = [Math.max(0, s - (WINDOW_PX >> 1)), Math.min(length, s + (WINDOW_PX >> 1) + 1)];
  const out = new Float32Array(across);
  for (let r = 0; r < across; r++) for (let i = start; i < end; i++) out[r]! += luma[r * length + i]! / (end - start);
  return out;
}

/** Edge: slope; stripe: how far a place stands out of those four px to both sides of it. */
function responseOf(across: Float32Array, kind: LineForm['kind']): Float32Array {
  const at = (r: number): number => across[Math.min(across.length - 1, Math.max(0, r))]!;
  const side = kind === 'edge' ? 1 : 4;
  return across.map((v, r) => {
    if (r < side || r >= across.length - side) return 0;
    if (kind === 'edge') return (at(r + 1) - at(r - 1)) / 2;
    const [a, b] = [v - at(r - side), v - at(r + side)];
    return a * b > 0 ? Math.sign(a) * Math.min(Math.abs(a), Math.abs(b)) : 0;
  });
}

/** Where the line lies at each px along the strip, from where it is seen best towards both ends. */
function follow(strip: Strip, { kind, sign, startAt, startRow }: LineForm): Float32Array {
  const out = new Float32Array(strip.length).fill(NaN);
  for (const by of [1, -1] as const) {
    let [row, lost] = [startRow, 0];
    for (let s = startAt; s >= 0 && s < strip.length && lost < 3 * WINDOW_PX; s += by) {
      const found = strip.valid[s] ? centreNear(responseOf(windowAt(strip, s), kind), sign, row) : null;
      lost = found === null ? lost + 1 : 0;
      if (found === null) continue;
      row = found;
      out[s] = found - (strip.across - 1) / 2;
    }
  }
  return out;
}

/** Centre of gravity of a response around its peak near a row; null where there is none. */
function centreNear(response: Float32Array, sign: 1 | -1, row: number): number | null {
  const [first, last] = [
    Math.max(0, Math.ceil(row - REACH_PX)),
    Math.min(response.length - 1, Math.floor(row + REACH_PX)),
  ];
  let peak = first;
  for (let r = first; r <= last; r++) if (sign * response[r]! > sign * response[peak]!) peak = r;
  if (!(sign * response[peak]! > LEAST_CONTRAST)) return null;
  let [sum, weight] = [0, 0];
  for (let r = Math.max(0, peak - 3); r <= Math.min(response.length - 1, peak + 3); r++) {
    const w = Math.max(0, sign * response[r]!) ** 2;
    sum += w * r;
    weight += w;
  }
  return sum / weight;
}

/** Places at which the frame shown changes for a while. */
function bordersOf(labels: Uint8Array): { at: number; pair: readonly [number, number] }[] {
  const runs: { label: number; start: number; end: number }[] = [];
  labels.forEach((label, s) => {
    const last = runs.at(-1);
    if (last?.label === label) last.end = s + 1;
    else runs.push({ label, start: s, end: s + 1 });
  });
  const long = runs.filter((r) => r.end - r.start >= WINDOW_PX && r.label !== 255);
  return long.flatMap((run, k) => {
    const next = long[k + 1];
    return next && next.label !== run.label
      ? [{ at: (run.end + next.start) / 2, pair: [run.label, next.label] as const }]
      : [];
  });
}

function breakAt(
  own: Float32Array,
  tracks: readonly (Float32Array | null)[],
  at: number,
  border: LineBreak['border'],
): LineBreak | null {
  const merge = stepAt(own, at);
  if (!merge) return null;
  let frame: LineBreak['frame'] = null;
  tracks.forEach((track, index) => {
    const step = track && stepAt(track, at);
    if (step && (!frame || step.errorPx < frame.errorPx)) frame = { ...step, index };
  });
  const reference: LineStep = frame ?? { offsetPx: 0, kinkDeg: 0, errorPx: 0 };
  const apart = Math.abs(merge.offsetPx - reference.offsetPx);
  const turn = Math.abs(merge.kinkDeg - reference.kinkDeg);
  const error = Math.hypot(merge.errorPx, reference.errorPx);
  // A turn shows as an offset of the line's far end: both are judged by the scatter of the same points.
  const turnError = (Math.atan((2 * error) / SIDE_PX) * 180) / Math.PI;
  const isBroken =
    (apart >= LEAST_BREAK_PX && apart >= SURE * error) || (turn >= LEAST_KINK_DEG && turn >= SURE * turnError);
  return { at, border, merge, frame, isBroken };
}

/** Straight lines through both sides of a place, compared at it; null where either side is not seen. */
function stepAt(track: Float32Array, at: number): LineStep | null {
  const before = straight(track, at - SIDE_PX, at - GAP_PX, at);
  const after = straight(track, at + GAP_PX, at + SIDE_PX, at);
  if (!before || !after) return null;
  const degrees = (slope: number): number => (Math.atan(slope) * 180) / Math.PI;
  return {
    offsetPx: after.value - before.value,
    kinkDeg: degrees(after.slope) - degrees(before.slope),
    errorPx: Math.hypot(before.error, after.error),
  };
}

/** Least squares through the points of a track, without those far from it; its value and standard error at a place. */
function straight(
  track: Float32Array,
  from: number,
  to: number,
  at: number,
): { value: number; slope: number; error: number } | null {
  let points: [number, number][] = [];
  for (let s = Math.max(0, Math.ceil(from)); s <= Math.min(track.length - 1, Math.floor(to)); s++)
    if (!Number.isNaN(track[s]!)) points.push([s - at, track[s]!]);
  for (let round = 0; ; round++) {
    if (points.length < LEAST_SIDE_PX) return null;
    const n = points.length;
    const [mx, my] = [0, 1].map((c) => points.reduce((t, p) => t + p[c]!, 0) / n) as [number, number];
    const sxx = points.reduce((t, [x]) => t + (x - mx) ** 2, 0);
    const slope = points.reduce((t, [x, y]) => t + (x - mx) * (y - my), 0) / sxx;
    const rests = points.map(([x, y]) => y - my - slope * (x - mx));
    const spread = 1.4826 * median(rests.map(Math.abs)) + 0.01;
    if (round === 2) {
      // Neighbouring windows share pixels: only every so many points is one of its own.
      const variance = spread ** 2 * WINDOW_PX * (1 / n + mx ** 2 / sxx);
      return { value: my - slope * mx, slope, error: Math.sqrt(variance) };
    }
    points = points.filter((_, i) => Math.abs(rests[i]!) <= 3 * spread);
  }
}

/** The place, away from known ones, at which a track breaks most against its scatter; null for none. */
function plainest(track: Float32Array, known: readonly number[]): number | null {
  let best: { at: number; ratio: number } | null = null;
  for (let s = LEAST_SIDE_PX; s < track.length - LEAST_SIDE_PX; s++) {
    if (known.some((k) => Math.abs(k - s) < SIDE_PX)) continue;
    const step = stepAt(track, s);
    const ratio = step ? Math.abs(step.offsetPx) / step.errorPx : 0;
    if (ratio > SURE && ratio > (best?.ratio ?? 0)) best = { at: s, ratio };
  }
  return best?.at ?? null;
}
