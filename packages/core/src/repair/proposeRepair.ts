// From a finding to the repairs that may close it: masks over one of its donors, the likeliest first.
import { polygonHull } from 'd3-polygon';
import type { NearSide } from '../defocus';
import type { Defect, MergeKind } from '../inspect';
import { polygonArea } from '../image';
import { CELL_PX } from '../kernels';
import type { FrameChoice } from './chooseFrames';
import type { MaskGrowth } from './fitMask';
import type { OutlineShape } from './shapes';
import type { ToneField } from './toneField';

type Polygon = readonly (readonly [number, number])[];

/** A part of a mask, and the frame under it. */
export interface DonorPart {
  readonly donor: number;
  readonly shape: OutlineShape;
  /** What is to be added to the frame under its mask; left out where it is taken as it is. */
  readonly tone?: ToneField;
  /** How far merge and donor differ around the mask (`Likeness.apart`); of a single exposure only. */
  readonly rim?: number;
}

/** A repair that is tried. */
export interface ProposedRepair {
  readonly parts: readonly {
    readonly donor: number;
    readonly shape: OutlineShape;
    /** By how much the donor is nudged, px. */
    readonly shift?: readonly [number, number];
    readonly tone?: ToneField;
  }[];
  /** Whether the donors' tone is to be brought to their surroundings. */
  readonly isMatched: boolean;
}

/** What decides how a finding is repaired. */
export interface RepairCase {
  readonly defect: Defect;
  readonly kind: MergeKind;
  /** Which end of a stack is near; null for others. */
  readonly nearSide: NearSide | null;
}

/** What a repair takes from: one frame, several that are chosen place by place, or the merge itself around the place. */
export type RepairSource = number | FrameChoice | 'around';

type Mask = Pick<OutlineShape, 'growPx' | 'featherPx'>;

/** A fitted mask ends where both pictures agree: its rim need not be wide. */
const FITTED: Mask = { growPx: 4, featherPx: 8 };
/**
 * A finding's own outline is known to two cells: detectors count cells of 4 px and smooth over some 9, so that what they see of a defect
 * ends up to two cells before or behind it.
 */
const OWN: Mask = { growPx: 8, featherPx: 8 };

/** Cells that masks may grow beyond a finding at most, and those of a seam, whose step fades over a wide strip. */
const [REACH, SEAM_REACH] = [20, 40];
/** A strip along an edge is known to a cell or two; beyond it the picture is right. */
const BORDER_REACH = 4;
/** A speck is all that is wrong where it lies. */
const SPECK_REACH = 1;
/** What is found of other things is most of them: their masks grow by this share of their size, and a few cells at least. */
const [OF_SIZE, LEAST_REACH] = [0.8, 6];
/** Where a stack's frame shows less than this of the merge's detail, as energy, it is out of focus, and the mask ends. */
const STACK_GAIN = 0.6;

/**
 * How far the mask of a finding may grow to fit its cause.
 * @param polygon of the finding, merge px
 */
export function maskGrowth(polygon: Polygon, { defect, kind }: RepairCase): MaskGrowth {
  const isOfOneTone = kind === 'focus-stack';
  const leastGain = leastGainOf(kind);
  if (defect === 'seam') return { reach: SEAM_REACH, leastGain };
  if (defect === 'border') return { reach: BORDER_REACH, leastGain: 0 };
  if (defect === 'dust') return { reach: SPECK_REACH, leastGain };
  // Halos fade, and a stack's mask ends where its donor goes soft.
  if (defect === 'halo' || isOfOneTone) return { reach: REACH, leastGain };
  const across = Math.sqrt(polygonArea(polygon)) / CELL_PX;
  return { reach: Math.round(Math.min(REACH, Math.max(LEAST_REACH, OF_SIZE * across))), leastGain };
}

function leastGainOf(kind: MergeKind): number {
  return kind === 'focus-stack' ? STACK_GAIN : 0;
}

/** How the mask of a thing that somebody drew around roughly is fitted. */
export function roughGrowth(kind: MergeKind): MaskGrowth {
  return { reach: LEAST_REACH, leastGain: leastGainOf(kind), isRough: true };
}

/** Parts of one mask meet at depth edges, over which nothing must reach … */
const LAYERED: Mask = { growPx: 0, featherPx: 3 };
/** … so that they reach as far beyond what was fitted, in cells, as a mask does otherwise by growing and fading. */
export const LAYERED_CELLS = 3;

/** One of several outlines that lie side by side as a mask: they were fitted `LAYERED_CELLS` wider. */
export function layeredShape(points: Polygon): OutlineShape {
  return { kind: 'outline', points, strength: 1, ...LAYERED };
}

/** A fitted outline as a mask. */
export function fittedShape(points: Polygon): OutlineShape {
  return { kind: 'outline', points, strength: 1, ...FITTED };
}

/** A mask that was fitted covers at least so much of its finding, unless its donor lacks some of it. */
const WHOLE_SHARE = 0.8;

/** Surroundings tell of tones so far around a mask, px. */
export const EVEN_MARGIN_PX = 96;
/** An evening ends where it finds nothing to even: its mask may be generous. */
const EVENED: Mask = { growPx: 12, featherPx: 8 };

/** A halo thins out beyond where it is found; what it has on the other side of its edge is not evened. */
const HALO_GROW_PX = 24;

/** An outline as the mask of an evening. */
export function evenedShape(points: Polygon): OutlineShape {
  return { ...fittedShape(points), ...EVENED };
}

/** The mask by which a halo is evened: thin things between its parts, bars before a window, lie in it as well, and seldom are found. */
export function haloShape(points: Polygon): OutlineShape {
  const hull = polygonHull(points.map(([x, y]) => [x, y]));
  return { ...evenedShape(hull ?? points), growPx: HALO_GROW_PX };
}

/** Whether a defect is one of tone alone, so that evening the merge's own tone mends it: its detail is right. */
export function isOfToneAlone({ defect, kind }: RepairCase): boolean {
  return kind === 'focus-stack' ? false : defect === 'seam' || (kind === 'bracket' && defect === 'halo');
}

/** Whether a defect is one of detail alone: the merge's tone, seen coarsely, is right where it lies. Stacks are of one tone. */
export function isOfDetailAlone({ defect, kind }: RepairCase): boolean {
  return kind !== 'focus-stack' && (defect === 'soft-patch' || defect === 'fringe');
}

/** Frames that are tried for each finding: those behind the best ones seldom repair what these did not. */
const MOST_DONORS = 3;

/**
 * What a finding may be repaired from, the likeliest first: single frames; several that are chosen place by place where no single one has
 * all of it; the merge itself around a speck.
 * @param donors indices of frames, the best first
 */
export function repairSources(donors: readonly number[], { defect, kind, nearSide }: RepairCase): RepairSource[] {
  // Exposures are compared before one is tried (`bestFitting`).
  const single = kind === 'bracket' ? [...donors] : donors.slice(0, MOST_DONORS);
  const merged: FrameChoice | null = kind === 'focus-stack' ? nearSide : 'beside';
  // A speck in every frame is filled from around it, as anybody does; nothing else is without being asked.
  if (defect === 'dust') return [...single, 'around'];
  // A strip along an edge crosses whatever lies there.
  if (defect === 'border') return merged === null ? single : [merged, ...single];
  if (kind !== 'focus-stack') return single;
  // Beside a near edge one frame has the ground sharp and another has no light spread over it: only together they are right.
  // Things moved or warped lie across depths.
  if ((defect === 'halo' || defect === 'misalignment') && merged !== null) return [merged, ...single];
  // A step of tone has the frames that are shown under it; what else is wrong has mostly one frame that is right.
  if (defect === 'seam') return [...single.slice(0, 1), 'shown', ...single.slice(1)];
  return merged === null ? single : [...single, merged];
}

/**
 * Sources with the single frames among them in the order in which they fit: exposures differ in what they hold, and which of them the merge
 * is like around a place tells more than their detail.
 * @param rimOf how far merge and frame differ around the mask; Infinity where there is none
 */
export function bestFitting(sources: readonly RepairSource[], rimOf: (frame: number) => number): RepairSource[] {
  const frames = sources
    .filter((source) => typeof source === 'number')
    .sort((a, b) => rimOf(a) - rimOf(b))
    .slice(0, MOST_DONORS);
  return sources.flatMap((source): RepairSource[] => (typeof source === 'number' ? frames.splice(0, 1) : [source]));
}

/**
 * The repairs that may close a finding from one source.
 * @param polygon of the finding, merge px
 * @param fitted mask that fits its cause, by frame
 * @returns the repairs in the order in which they are to be tried, each with its result inspected
 */
export function proposeRepair(polygon: Polygon, fitted: readonly DonorPart[], of: RepairCase): ProposedRepair[] {
  const { defect, kind } = of;
  const repairs: ProposedRepair['parts'][] = [
    fitted.map(({ donor, shape, tone }) => ({ donor, shape, ...(tone && { tone }) })),
  ];
  const [only, ...others] = fitted;
  // The finding's own outline has no tone of its own: it is none for what was merged, of one frame or several. Nor is it one where the
  // donor has not all of the place.
  const isWhole = only && polygonArea(only.shape.points) >= WHOLE_SHARE * polygonArea(polygon);
  if (isWhole && others.length === 0 && only.shape.growPx > 0)
    repairs.push([{ donor: only.donor, shape: { ...fittedShape(polygon), ...OWN } }]);
  // A merge of exposures bends tones from place to place: no one curve brings an exposure to all of them. A strip along an edge has
  // surroundings on one side only, which tell little of its far end.
  const isBent = (kind === 'bracket' && defect !== 'border') || isOfDetailAlone(of);
  const tones = kind === 'focus-stack' ? [false] : isBent ? [true, false] : [false, true];
  return repairs
    .filter((parts) => parts.length > 0)
    .flatMap((parts) => tones.map((isMatched) => ({ parts, isMatched })));
}

/** A fill reaches so far beyond a speck and fades over as much. */
const FILL: Mask = { growPx: 3, featherPx: 5 };

/** The mask by which a speck is filled from around it. */
export function speckMask(polygon: Polygon): OutlineShape {
  return { kind: 'outline', points: polygon, strength: 1, ...FILL };
}
