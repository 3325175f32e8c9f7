// The lens's vignetting that a merge was freed of and its frames still have, told apart from the merge's tone.
import { badParameter } from '../checks';
import { ENCODED_POWER } from '../frame';
import { median, type ColourPairs } from '../image';
import { lightPolynomial } from './lightPolynomial';

/** Colours of a frame and of the merge at the same places, and how far from the frame's middle these lie. */
export interface ShadePairs extends ColourPairs {
  /** 1 at half the frame's diagonal. */
  readonly radius: Float32Array;
}

/** Places of one frame, channel and brightness: whatever the tone curve is, it makes the same of all of them. */
interface Group {
  readonly q: Float64Array;
  /** Log of what the merge shows over what the frame does. */
  readonly rise: Float64Array;
}

/** Pairs of a frame that are looked at: more tell no more. */
const MOST_PAIRS = 8000;
const BINS = 48;
/** Encoded values between which both pictures tell. */
const [DARKEST, BRIGHTEST] = [0.06, 0.94];
const LEAST_OF_A_GROUP = 30;
const LEAST_GROUPS = 6;
const ROUNDS = 6;
/** Departures within this many deviations agree (Tukey's biweight). */
const AGREES = 4.685;
const LEAST_DEVIATION = 0.004;
/** Prior sigma of both coefficients, in logarithms of encoded values, and scatter of one place: what holds them where radii hardly differ. */
const DOUBT = 0.2;
const SCATTER = 0.05;
/** Corners lit so differently, and this share of what brightness leaves open explained by it, are no accident. */
const LEAST_LIGHT = 0.02;
const LEAST_EXPLAINED = 0.15;

/**
 * Fits merge ≈ curve(frame) / light(r)^(1/2.4) with a curve per frame and channel and one light = 1 + v1·r² + v2·r⁴ for all. Places of one
 * brightness are compared among themselves, so that no curve has to be known.
 * @param frames their pairs; frames without any are passed over
 * @returns v1 and v2; null where the merge shows no trace of it
 * @throws ParameterError when the values of a frame differ in number
 * Source: within-groups least squares (Y. Mundlak, Econometrica 46(1), 1978), made robust by Tukey's biweight.
 * Cost: about 0.3 µs per pair.
 */
export function fitMergeShade(frames: readonly ShadePairs[]): readonly [number, number] | null {
  const groups = frames.flatMap(groupsOf);
  if (groups.length < LEAST_GROUPS) return null;
  let fit: readonly [number, number] = [0, 0];
  let cut = Infinity;
  for (let round = 0; round < ROUNDS; round++) {
    const sums = groups.map((g) => within(g, fit, cut));
    fit = solveFit(sums);
    const off = groups.flatMap((g) => [...departures(g, fit)]);
    cut = AGREES * Math.max(LEAST_DEVIATION, 1.4826 * median(Float64Array.from(off, Math.abs)));
  }
  const last = fit;
  const explained = shareExplained(
    groups.map((g) => within(g, last, cut)),
    last,
  );
  const [v1, v2] = lightPolynomial(-fit[0] / ENCODED_POWER, -fit[1] / ENCODED_POWER);
  const isSeen = Math.abs(v1 + v2) >= LEAST_LIGHT && explained >= LEAST_EXPLAINED;
  return isSeen ? [v1, v2] : null;
}

function groupsOf({ source, target, radius }: ShadePairs): Group[] {
  if ([...source, ...target].some((c) => c.length !== radius.length))
    throw badParameter('fitMergeShade.frames', `${radius.length} values of each channel`, source[0].length);
  const every = Math.max(1, Math.ceil(radius.length / MOST_PAIRS));
  return ([0, 1, 2] as const).flatMap((c) => {
    const bins: number[][] = Array.from({ length: BINS }, () => []);
    for (let i = 0; i < radius.length; i += every) {
      const v = source[c][i]!;
      if (!(v > DARKEST && v < BRIGHTEST && target[c][i]! > DARKEST && target[c][i]! < BRIGHTEST)) continue;
      bins[Math.floor(((v - DARKEST) / (BRIGHTEST - DARKEST)) * BINS)]!.push(i);
    }
    return bins.flatMap((bin): Group[] => {
      if (bin.length < LEAST_OF_A_GROUP) return [];
      const q = Float64Array.from(bin, (i) => radius[i]! ** 2);
      return [{ q, rise: Float64Array.from(bin, (i) => Math.log(target[c][i]! / source[c][i]!)) }];
    });
  });
}

/** Weighted sums of a group's departures from its own means: of q, q² and the rise with each other. */
interface Sums {
  readonly qq: number;
  readonly qs: number;
  readonly ss: number;
  readonly qr: number;
  readonly sr: number;
  readonly rr: number;
}

/** How far each place of a group lies from what the fit makes of its fellows. */
function departures({ q, rise }: Group, [a, b]: readonly [number, number]): Float64Array {
  const left = rise.map((r, i) => r - q[i]! * (a + b * q[i]!));
  const middle = median(left);
  return left.map((v) => v - middle);
}

function within(group: Group, fit: readonly [number, number], cut: number): Sums {
  const { q, rise } = group;
  const off = departures(group, fit);
  const weights = off.map((v) => (Math.abs(v) < cut ? (Number.isFinite(cut) ? (1 - (v / cut) ** 2) ** 2 : 1) : 0));
  let [n, mq, ms, mr] = [0, 0, 0, 0];
  weights.forEach((w, i) => {
    n += w;
    mq += w * q[i]!;
    ms += w * q[i]! ** 2;
    mr += w * rise[i]!;
  });
  [mq, ms, mr] = [mq / Math.max(1e-9, n), ms / Math.max(1e-9, n), mr / Math.max(1e-9, n)];
  let [qq, qs, ss, qr, sr, rr] = [0, 0, 0, 0, 0, 0];
  weights.forEach((w, i) => {
    const [dq, ds, dr] = [q[i]! - mq, q[i]! ** 2 - ms, rise[i]! - mr];
    qq += w * dq * dq;
    qs += w * dq * ds;
    ss += w * ds * ds;
    qr += w * dq * dr;
    sr += w * ds * dr;
    rr += w * dr * dr;
  });
  return { qq, qs, ss, qr, sr, rr };
}

function total(sums: readonly Sums[], of: keyof Sums): number {
  return sums.reduce((sum, one) => sum + one[of], 0);
}

function solveFit(sums: readonly Sums[]): readonly [number, number] {
  const held = (SCATTER / DOUBT) ** 2;
  const [qq, qs, ss] = [total(sums, 'qq') + held, total(sums, 'qs'), total(sums, 'ss') + held];
  const [qr, sr] = [total(sums, 'qr'), total(sums, 'sr')];
  const det = qq * ss - qs * qs;
  return [(qr * ss - sr * qs) / det, (qq * sr - qs * qr) / det];
}

/** Share of what departs from the groups' means that the fit accounts for. */
function shareExplained(sums: readonly Sums[], [a, b]: readonly [number, number]): number {
  const [qq, qs, ss] = [total(sums, 'qq'), total(sums, 'qs'), total(sums, 'ss')];
  const before = total(sums, 'rr');
  const left = before - 2 * (a * total(sums, 'qr') + b * total(sums, 'sr')) + a * a * qq + 2 * a * b * qs + b * b * ss;
  return before > 0 ? 1 - left / before : 0;
}
