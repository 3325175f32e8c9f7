// Do the frames of a set agree? Each check says what it measured, against which limit, and what it means.
import { median } from '../image';
import { compareLight } from './compareLight';
import { compareOverlap } from './compareOverlap';
import type { ProposedSet } from './groupFrames';
import { makeLadder, relateFrames } from './relateFrames';
import { neededExposures, neededSlices } from './neededFrames';
import { exposureEv, type FrameSettings, type SortFrame } from './sortFrame';

export const CHECKS = [
  'size',
  'camera',
  'focal-length',
  'aperture',
  'iso',
  'exposure',
  'white-balance',
  'profile',
  'bit-depth',
  'brightness',
  'contrast',
  'colour',
  'shake',
  'duplicate',
  'missing-step',
  'adds-nothing',
  'vignetting',
] as const;
export type CheckName = (typeof CHECKS)[number];

/** One thing that is wrong with one frame (or before it, for a missing step). */
export interface FrameCheck {
  /** Index of the frame. */
  readonly frame: number;
  readonly check: CheckName;
  readonly value: number | string;
  readonly limit: number | string;
  readonly unit: string;
  readonly meaning: string;
  /** Whether it spoils a blend, or ought only to be known. */
  readonly spoils: boolean;
}

/** Steps in tone that show in a blend; drift of the light slower than that is evened out when merging. */
const BRIGHTNESS_EV = 0.12;
const CONTRAST_SHARE = 0.06;
/** Light lost in the corners that shows at seams. */
const VIGNETTING_SHARE = 0.15;
const COLOUR_EV = 0.06;
/** Neighbours on each side that contrast is compared with. */
const CONTRAST_REACH = 3;
/** Detail lost along one direction against across it, log2 of energy, beyond what the set's others lose. */
const SHAKE_LOG2 = 1.6;
/** Frames of a panorama show different things: their detail differs in direction by itself. */
const SHAKE_PANORAMA_LOG2 = 2.4;
/** A step this many times the usual one leaves a slice out. */
const MISSING_TIMES = 1.7;

/** Checks the frames of one set (for a nested one, of all its inner sets together). */
export function checkSet(frames: readonly SortFrame[], set: ProposedSet): FrameCheck[] {
  return [
    ...checkSettings(frames, set),
    ...checkLight(frames, set),
    ...checkShake(frames, set),
    ...checkDuplicates(frames, set),
    ...checkSteps(frames, set),
    ...checkSpare(frames, set),
  ];
}

type Pick = (frame: SortFrame) => string | number | null;

/** What all frames must share, as their files say it; the odd ones out are those that differ from most. */
function checkSettings(frames: readonly SortFrame[], set: ProposedSet): FrameCheck[] {
  const bracketed = set.kind === 'bracket' || set.nested.length > 0;
  const setting = (key: keyof FrameSettings) => (f: SortFrame) => f.settings[key];
  const rules: readonly (readonly [CheckName, Pick, string, string])[] = [
    [
      'size',
      (f) => `${f.width} × ${f.height}`,
      'px',
      'frames of another size or orientation cannot be laid on the others',
    ],
    ['camera', setting('camera'), '', 'another camera draws another picture'],
    ['focal-length', setting('focalLengthMm'), 'mm', 'the zoom was moved: the frame shows another scale'],
    ['aperture', setting('fNumber'), 'f/', 'depth of field and vignetting differ from the others'],
    ['iso', setting('iso'), 'ISO', 'grain and tone differ from the others'],
    ...(bracketed
      ? []
      : [
          [
            'exposure',
            setting('exposureS'),
            's',
            'the exposure was not fixed: brightness steps at the borders',
          ] as const,
        ]),
    ['white-balance', setting('whiteBalance'), '', 'the white balance was not fixed: colour steps at the borders'],
    ['profile', (f) => f.profile, '', 'another colour profile: the same codes mean other colours'],
    ['bit-depth', (f) => f.bits, 'bit', 'the coarser frame limits the blend'],
  ];
  return rules.flatMap(([check, pick, unit, meaning]) => {
    const values = set.frames.map((k) => pick(frames[k]!));
    const usual = mostCommon(values.filter((v) => v !== null));
    if (usual === null) return [];
    return set.frames.flatMap((frame, i): FrameCheck[] => {
      const value = values[i];
      if (value === null || value === undefined || value === usual) return [];
      return [{ frame, check, value, limit: usual, unit, meaning, spoils: check !== 'bit-depth' && check !== 'iso' }];
    });
  });
}

function mostCommon<T>(values: readonly T[]): T | null {
  const counts = new Map<T, number>();
  for (const v of values) counts.set(v, (counts.get(v) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0] ?? null;
}

/** Light of each frame against its neighbours on one view, after the exposure that was meant. */
function checkLight(frames: readonly SortFrame[], set: ProposedSet): FrameCheck[] {
  if (set.kind === 'panorama') return checkOverlaps(frames, set);
  const { frames: members } = set;
  if (members.length < 2) return [];
  const said = members.map((k) => exposureEv(frames[k]!.settings));
  const bracket = set.kind === 'bracket';
  const changes = members.slice(1).map((k, i) => compareLight(frames[members[i]!]!.look, frames[k]!.look));
  // The meant step: what the files say; without that, a bracket's own steps tell nothing of drift.
  const off = changes.map((c, i) => {
    if (!c) return null;
    const [a, b] = [said[i], said[i + 1]];
    const meant = bracket ? (a !== null && b !== null ? b! - a! : null) : 0;
    return meant === null ? null : c.gainEv - meant;
  });
  const level = accumulate(off);
  const middle = median(level);
  const red = accumulate(changes.map((c) => c?.redEv ?? null));
  const blue = accumulate(changes.map((c) => c?.blueEv ?? null));
  const [redMiddle, blueMiddle] = [median(red), median(blue)];
  return members.flatMap((frame, i): FrameCheck[] => {
    const found: FrameCheck[] = [];
    const ev = level[i]! - middle;
    if (Math.abs(ev) > BRIGHTNESS_EV)
      found.push({
        frame,
        check: 'brightness',
        value: round(ev),
        limit: BRIGHTNESS_EV,
        unit: 'EV',
        meaning: 'the light flickered or changed: a step in tone at the borders unless it is evened out',
        spoils: Math.abs(ev) > 0.3,
      });
    const colour = Math.hypot(red[i]! - redMiddle, blue[i]! - blueMiddle);
    if (colour > COLOUR_EV)
      found.push({
        frame,
        check: 'colour',
        value: round(colour),
        limit: COLOUR_EV,
        unit: 'EV',
        meaning: 'red or blue drifted against green: another white balance, mixed light or another edit',
        spoils: colour > 0.15,
      });
    const slope = slopeOf(frames, members, i);
    if (slope !== null && Math.abs(slope - 1) > CONTRAST_SHARE && !bracket)
      found.push({
        frame,
        check: 'contrast',
        value: round(slope),
        limit: 1 + CONTRAST_SHARE,
        unit: '×',
        meaning: 'another tone curve than the others, not merely another exposure: develop all frames alike',
        spoils: true,
      });
    return found;
  });
}

/** Light of a panorama's neighbours where they overlap: steps from frame to frame, and darkening toward the corners. */
function checkOverlaps(frames: readonly SortFrame[], set: ProposedSet): FrameCheck[] {
  // Of a nested panorama the directions differ by exposure on purpose: its inner sets are checked by themselves.
  if (set.nested.length > 0) return [];
  const { frames: members } = set;
  const ladders = members.map((k) => makeLadder(frames[k]!.look));
  const pairs = members.slice(1).map((k, i) => {
    const relation = relateFrames(ladders[i]!, ladders[i + 1]!);
    return relation.correlation > 0.33 && relation.overlap > 0.16
      ? compareOverlap(frames[members[i]!]!.look, frames[k]!.look, relation)
      : null;
  });
  const steps = pairs.flatMap((p, i): FrameCheck[] =>
    p === null || Math.abs(p.gainEv) < BRIGHTNESS_EV
      ? []
      : [
          {
            frame: members[i + 1]!,
            check: 'brightness',
            value: round(p.gainEv),
            limit: BRIGHTNESS_EV,
            unit: 'EV',
            meaning: 'a step in brightness against the frame before, where both show the same',
            spoils: Math.abs(p.gainEv) > 0.3,
          },
        ],
  );
  const losses = pairs.flatMap((p) => (p ? [p.vignetting] : []));
  const vignetting = losses.length > 0 ? median(losses) : 0;
  if (vignetting < VIGNETTING_SHARE) return steps;
  return [
    ...steps,
    {
      frame: members[0]!,
      check: 'vignetting',
      value: Math.round(100 * vignetting),
      limit: 100 * VIGNETTING_SHARE,
      unit: '% of the light',
      meaning: 'corners are darker in all frames: correct the lens before stitching, or seams will show',
      spoils: true,
    },
  ];
}

/** Contrast of a frame against its neighbours: the middle of what each says. */
function slopeOf(frames: readonly SortFrame[], members: readonly number[], i: number): number | null {
  const slopes = members.flatMap((k, j) => {
    if (j === i || Math.abs(j - i) > CONTRAST_REACH) return [];
    const change = compareLight(frames[k]!.look, frames[members[i]!]!.look);
    return change && change.common > 0.3 ? [change.slope] : [];
  });
  return slopes.length === 0 ? null : median(slopes);
}

function accumulate(steps: readonly (number | null)[]): number[] {
  let sum = 0;
  return [0, ...steps.map((s) => (sum += s ?? 0))];
}

/** Detail lost along a direction more than across it, and more than the other frames lose: the camera moved. */
function checkShake(frames: readonly SortFrame[], set: ProposedSet): FrameCheck[] {
  const members = set.frames;
  if (members.length < 2) return [];
  const limit = set.kind === 'panorama' ? SHAKE_PANORAMA_LOG2 : SHAKE_LOG2;
  const sharp = members.map((k) => frames[k]!.look.along.map((v) => Math.log2(v + 1e-4)));
  const usual = [0, 1, 2, 3].map((d) => median(sharp.map((s) => s[d]!)));
  return members.flatMap((frame, i): FrameCheck[] => {
    const lost = sharp[i]!.map((v, d) => usual[d]! - v);
    const worst = lost.indexOf(Math.max(...lost));
    // Across the motion nothing is lost: that tells it from focus.
    const uneven = lost[worst]! - lost[(worst + 2) % 4]!;
    if (uneven < limit) return [];
    return [
      {
        frame,
        check: 'shake',
        value: round(uneven),
        limit,
        unit: 'log2',
        meaning: `detail is lost along ${45 * worst}° and kept across: the camera shook`,
        spoils: true,
      },
    ];
  });
}

/** Frames of a stack or bracket that show the very same as the one before. */
function checkDuplicates(frames: readonly SortFrame[], set: ProposedSet): FrameCheck[] {
  if (set.kind === 'panorama') return [];
  return set.frames.slice(1).flatMap((frame, i): FrameCheck[] => {
    const a = frames[set.frames[i]!]!;
    const b = frames[frame]!;
    const sharpness = detailChange(a, b);
    const change = compareLight(a.look, b.look);
    const sameFocus =
      a.settings.focusMm === null || b.settings.focusMm === null || a.settings.focusMm === b.settings.focusMm;
    const sameExposure = a.settings.exposureS === null || a.settings.exposureS === b.settings.exposureS;
    if (!sameFocus || !sameExposure || sharpness > 0.05 || !change || Math.abs(change.gainEv) > 0.1) return [];
    return [
      {
        frame,
        check: 'duplicate',
        value: round(sharpness),
        limit: 0.05,
        unit: 'log2',
        meaning: 'shows the same as the frame before: it adds nothing',
        spoils: false,
      },
    ];
  });
}

/** Median change of sharpness over the cells that have detail, log2. */
function detailChange(a: SortFrame, b: SortFrame): number {
  const [p, q] = [a.look.detail, b.look.detail];
  if (p.fine.length !== q.fine.length) return Infinity;
  const top = p.coarse.reduce((m, v) => Math.max(m, v), 0);
  const changes: number[] = [];
  for (let c = 0; c < p.fine.length; c++) {
    if (p.coarse[c]! < top * 1e-3 || q.coarse[c]! < top * 1e-3) continue;
    changes.push(Math.abs(Math.log2(p.fine[c]! / p.coarse[c]! / (q.fine[c]! / q.coarse[c]!))));
  }
  return changes.length === 0 ? 0 : median(changes);
}

/** Frames without which the others show every place as well, within a bound. */
function checkSpare(frames: readonly SortFrame[], set: ProposedSet): FrameCheck[] {
  if (set.kind === 'panorama' || set.frames.length < 3) return [];
  const members = set.frames.map((k) => frames[k]!);
  const { spare, overlap } = set.kind === 'bracket' ? neededExposures(members) : neededSlices(members);
  return spare.map((k) => ({
    frame: set.frames[k]!,
    check: 'adds-nothing',
    value: Math.round(100 * (overlap[k - 1] ?? overlap[k] ?? 1)),
    limit: 'a place of its own',
    unit: '% shared with its neighbour',
    meaning: 'what it shows well, others show as well: the merge can do without it',
    spoils: false,
  }));
}

/** A gap in focus distances or exposures, as the files say them. */
function checkSteps(frames: readonly SortFrame[], set: ProposedSet): FrameCheck[] {
  const { frames: members } = set;
  if (members.length < 4 || set.kind === 'panorama') return [];
  const value = (k: number): number | null => {
    const { settings } = frames[k]!;
    if (set.kind === 'bracket') return exposureEv(settings);
    return settings.focusMm === null ? null : 1000 / settings.focusMm;
  };
  const values = members.map(value);
  if (values.some((v) => v === null)) return [];
  const sorted = members.map((k, i) => [values[i]!, k] as const).sort((p, q) => p[0] - q[0]);
  const steps = sorted.slice(1).map((p, i) => p[0] - sorted[i]![0]);
  const usual = median(steps);
  const unit = set.kind === 'bracket' ? 'EV' : 'dpt';
  return steps.flatMap((step, i): FrameCheck[] => {
    if (usual <= 0 || step < usual * MISSING_TIMES) return [];
    const meaning =
      set.kind === 'bracket'
        ? 'an exposure is missing before this one: tones between may be burnt or noisy'
        : 'a slice is missing next to this one: a soft band that no mask repairs';
    return [
      {
        frame: sorted[i + 1]![1],
        check: 'missing-step',
        value: round(step),
        limit: round(usual),
        unit,
        meaning,
        spoils: true,
      },
    ];
  });
}

function round(value: number): number {
  return Number(value.toPrecision(3));
}
