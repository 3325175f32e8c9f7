// Do the frames of a set agree? Each check says what it measured, against which limit, and what it means.
import { median } from '../image';
import { checkLight } from './checkLight';
import { checkScene, checkSettings } from './checkScene';
import { compareLight } from './compareLight';
import { figure, type FrameCheck } from './frameCheck';
import type { ProposedSet } from './groupFrames';
import { MOST_DETAIL_LOST, MOST_TONES_LOST, redundantExposures, redundantSlices } from './redundantFrames';
import { exposureEv, type SortFrame } from './sortFrame';

/** Detail lost along one direction against across it, log2 of energy, beyond what the set's others lose. */
const SHAKE_LOG2 = 1.6;
/** Frames of a panorama show different things: their detail differs in direction by itself. */
const SHAKE_PANORAMA_LOG2 = 2.4;
/** Coloured rims wider than this show at 100 %. */
const LATERAL_PX = 0.7;
/** A step this many times the usual one leaves a slice out. */
const MISSING_TIMES = 1.7;

/** Checks the frames of one set (for a nested one, of all its inner sets together). */
export function checkSet(frames: readonly SortFrame[], set: ProposedSet): FrameCheck[] {
  return [
    ...checkScene(frames, set),
    ...checkSettings(frames, set),
    ...checkLight(frames, set),
    ...checkShake(frames, set),
    ...checkDuplicates(frames, set),
    ...checkSteps(frames, set),
    ...checkRedundant(frames, set),
    ...checkLateral(frames, set),
  ];
}

/** Detail lost along a direction more than across it, and more than the other frames lose: the camera moved. */
function checkShake(frames: readonly SortFrame[], set: ProposedSet): FrameCheck[] {
  const members = set.frames;
  if (members.length < 2) return [];
  const limit = set.kind === 'panorama' ? SHAKE_PANORAMA_LOG2 : SHAKE_LOG2;
  const sharp = members.map((k) => frames[k]!.summary.along.map((v) => Math.log2(v + 1e-4)));
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
        value: figure(uneven),
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
    const change = compareLight(a.summary, b.summary);
    const sameFocus =
      a.settings.focusMm === null || b.settings.focusMm === null || a.settings.focusMm === b.settings.focusMm;
    const sameExposure = a.settings.exposureS === null || a.settings.exposureS === b.settings.exposureS;
    if (!sameFocus || !sameExposure || sharpness > 0.05 || !change || Math.abs(change.gainEv) > 0.1) return [];
    return [
      {
        frame,
        check: 'duplicate',
        value: figure(sharpness),
        limit: 0.05,
        unit: 'log2',
        meaning: 'shows the same as the frame before: one of the two is enough',
        spoils: false,
      },
    ];
  });
}

/** Median change of sharpness over the cells that have detail, log2. */
function detailChange(a: SortFrame, b: SortFrame): number {
  const [p, q] = [a.summary.detail, b.summary.detail];
  if (p.fine.length !== q.fine.length) return Infinity;
  const top = p.coarse.reduce((m, v) => Math.max(m, v), 0);
  const changes: number[] = [];
  for (let c = 0; c < p.fine.length; c++) {
    if (p.coarse[c]! < top * 1e-3 || q.coarse[c]! < top * 1e-3) continue;
    changes.push(Math.abs(Math.log2(p.fine[c]! / p.coarse[c]! / (q.fine[c]! / q.coarse[c]!))));
  }
  return changes.length === 0 ? 0 : median(changes);
}

/** Frames that may be left out, all together: each with what the merge has lost once it and those before it are gone. */
function checkRedundant(frames: readonly SortFrame[], set: ProposedSet): FrameCheck[] {
  if (set.kind === 'panorama' || set.frames.length < 3) return [];
  const members = set.frames.map((k) => frames[k]!);
  const isBracket = set.kind === 'bracket';
  const redundant = isBracket ? redundantExposures(members) : redundantSlices(members);
  return redundant.map(({ frame, cost }, i) => {
    const before = redundant.slice(0, i).map((r) => members[r.frame]!.name);
    return {
      frame: set.frames[frame]!,
      check: 'redundant',
      value: figure(100 * cost),
      limit: figure(100 * (isBracket ? MOST_TONES_LOST : MOST_DETAIL_LOST)),
      unit: isBracket ? '% of the view without a clean exposure' : '% of the finest detail, in the worst places',
      meaning: `may be left out${before.length > 0 ? ` together with ${before.join(', ')}` : ''}: this much is lost then`,
      spoils: false,
    };
  });
}

/** Colour fringes toward the corners that the lens draws in every frame. */
function checkLateral(frames: readonly SortFrame[], set: ProposedSet): FrameCheck[] {
  const { width, height } = frames[set.frames[0]!]!;
  const halfPx = Math.hypot(width, height) / 2;
  const worst = [0, 1]
    .map((c) => Math.abs(median(set.frames.map((k) => frames[k]!.summary.lateral[c]!))))
    .sort((a, b) => b - a)[0]!;
  const px = worst * halfPx;
  if (px < LATERAL_PX) return [];
  return [
    {
      frame: set.frames[0]!,
      check: 'lateral-colour',
      value: figure(px),
      limit: LATERAL_PX,
      unit: 'px in the corner',
      meaning:
        'red or blue is drawn larger than green in all frames: correct the lens before merging, or edges get coloured rims',
      spoils: true,
    },
  ];
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
        ? 'an exposure is missing before this one: tones between may be clipped or noisy'
        : 'a slice is missing next to this one: a soft band that no mask repairs';
    return [
      {
        frame: sorted[i + 1]![1],
        check: 'missing-step',
        value: figure(step),
        limit: figure(usual),
        unit,
        meaning,
        spoils: true,
      },
    ];
  });
}
