// Light of the frames of a set: steps, drift, colour, contrast, and what the lens takes from the corners.
import { median } from '../image';
import { compareLight } from './compareLight';
import { compareOverlap } from './compareOverlap';
import { figure, type FrameCheck } from './frameCheck';
import type { ProposedSet } from './groupFrames';
import { makePyramid, relateFrames } from './relateFrames';
import { exposureEv, type SortFrame } from './sortFrame';

/** Steps in tone that show in a blend; drift of the light slower than that is evened out when merging. */
const BRIGHTNESS_EV = 0.12;
const CONTRAST_SHARE = 0.06;
/** Light lost in the corners that shows at seams. */
const VIGNETTING_SHARE = 0.15;
const COLOUR_EV = 0.06;
/** Neighbours on each side that contrast is compared with. */
const CONTRAST_REACH = 3;

/** Light of each frame against its neighbours on one view, after the exposure that was meant. */
export function checkLight(frames: readonly SortFrame[], set: ProposedSet): FrameCheck[] {
  if (set.kind === 'panorama') return checkOverlaps(frames, set);
  const { frames: members } = set;
  if (members.length < 2) return [];
  const said = members.map((k) => exposureEv(frames[k]!.settings));
  const bracket = set.kind === 'bracket';
  const changes = members.slice(1).map((k, i) => compareLight(frames[members[i]!]!.summary, frames[k]!.summary));
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
        value: figure(ev),
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
        value: figure(colour),
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
        value: figure(slope),
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
  const pyramids = members.map((k) => makePyramid(frames[k]!.summary));
  const pairs = members.slice(1).map((k, i) => {
    const relation = relateFrames(pyramids[i]!, pyramids[i + 1]!);
    return relation.correlation > 0.33 && relation.overlap > 0.16
      ? compareOverlap(frames[members[i]!]!.summary, frames[k]!.summary, relation)
      : null;
  });
  const steps = pairs.flatMap((p, i): FrameCheck[] =>
    p === null || Math.abs(p.gainEv) < BRIGHTNESS_EV
      ? []
      : [
          {
            frame: members[i + 1]!,
            check: 'brightness',
            value: figure(p.gainEv),
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
    const change = compareLight(frames[k]!.summary, frames[members[i]!]!.summary);
    return change && change.common > 0.3 ? [change.slope] : [];
  });
  return slopes.length === 0 ? null : median(slopes);
}

function accumulate(steps: readonly (number | null)[]): number[] {
  let sum = 0;
  return [0, ...steps.map((s) => (sum += s ?? 0))];
}
