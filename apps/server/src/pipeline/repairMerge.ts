// Step: repairs of a merge's findings worked out by themselves: each is rendered and inspected before it is proposed.
import { MOST_FURTHER_PARTS, type DefectWord } from '@blendrak/contract';
import type { Region } from '@blendrak/core/image';
import { nearEndIn, type Detection, type SetFacts, type Yardsticks } from '@blendrak/core/inspect';
import { CELL_PX } from '@blendrak/core/kernels';
import {
  bestFitting,
  calledHere,
  cellsNamed,
  cellsUnder,
  EVEN_MARGIN_PX,
  evenedShape,
  fieldOver,
  fittedShape,
  haloShape,
  isOfDetailAlone,
  isOfToneAlone,
  judgeRepair,
  maskGrowth,
  operationsReaching,
  placeOperation,
  proposeRepair,
  repairSources,
  shapeRegion,
  spareCells,
  speckMask,
  TONE_MARGIN_PX,
  type DonorPart,
  type JudgedRepair,
  type Operation,
  type OperationPart,
  type PlacedOperation,
  type ProposedRepair,
  type RepairCase,
  type RepairSource,
  type ToneField,
} from '@blendrak/core/repair';
import type { InspectionScene } from '../jobs';
import type { StepContext } from './types';

/** A finding that may be repaired. */
export interface ToRepair {
  readonly id: string;
  readonly defect: DefectWord;
  readonly bbox: Region;
  readonly polygon: readonly (readonly [number, number])[];
  /** Indices of the frames to repair from, the best first. */
  readonly donors: readonly number[];
}

/** What became of a finding. */
export interface TriedRepair {
  readonly findingId: string;
  /** The best of the repairs that were tried; null where none helps. */
  readonly repair: Operation | null;
  /** Share of the finding that stays, 0..1; 0 where it is closed, and without a repair where one of another finding closed it. */
  readonly rest: number;
  /** Defect that the repair would plant; only of one that is not proposed. */
  readonly plants: DefectWord | null;
}

/** What of an inspection places can be looked at again with. */
export interface LookAgain {
  readonly facts: SetFacts;
  readonly yardsticks: Yardsticks;
}

/** Looked at again is what a repair may touch, and so far beyond it: it may plant something at its rim. */
const AROUND_PX = 48;
/** Below this share of its cells a finding counts as gone; the rest is the rim of the mask. */
const GONE_SHARE = 0.15;
/** A repair that leaves more than this helps too little to be proposed; one that brings more than this of something else, too. */
const HELPS_SHARE = 0.6;
/** What a repair would plant is left out of its mask where it is no more than this share of the finding, so many times. */
const [SPARED_SHARE, MOST_SPARED] = [0.25, 2];
/** Masks and the tones around them reach so far from a finding at most, px. */
const FAR_PX = 400;
/** A nudge by less is not worth resampling, px. */
const LEAST_NUDGE_PX = 0.15;

/** Whether a finding was gone before anything was tried: the repair of another one had closed it. */
export function isGone({ repair, rest }: Pick<TriedRepair, 'repair' | 'rest'>): boolean {
  return repair === null && rest === 0;
}

/** Whether a tried repair closes its finding. */
export function closes({ repair, rest }: Pick<TriedRepair, 'repair' | 'rest'>): boolean {
  return repair !== null && rest <= GONE_SHARE;
}

/**
 * Tries repairs for each finding, the first finding first. Those that close theirs act while the next are tried.
 * @param scene the merge and its frames; operations that act already come first
 * @param onTried is told of each finding as soon as it is settled
 * Cost: per donor that is tried one comparison of the place and two to three inspections of it, up to five where frames differ in tone;
 * exposures are all compared before one is tried, and all read for an evening.
 */
export async function repairMerge(
  scene: InspectionScene,
  findings: readonly ToRepair[],
  inspected: LookAgain,
  size: PictureSize,
  context: StepContext,
  onTried: (tried: TriedRepair) => void,
): Promise<void> {
  const kept: PlacedOperation[] = [];
  let closed = 0;
  for (const [n, finding] of findings.entries()) {
    const tried = await settle(finding, scene, kept, inspected, size, context);
    if (closes(tried)) {
      kept.push(placeOperation({ id: finding.id, ...tried.repair! }));
      closed += 1;
    }
    onTried(tried);
    context.onProgress((n + 1) / findings.length, `repaired ${closed} of ${n + 1} findings`);
  }
}

interface PictureSize {
  readonly width: number;
  readonly height: number;
}

/** Tries to repair a finding as what it is, and else as what its place is called when it is looked at by itself. */
async function settle(finding: ToRepair, ...at: TryAt): Promise<TriedRepair> {
  const first = await tryAs(finding, ...at);
  const { called } = first;
  const second =
    called === null || isClean(first) || isGone(first) ? null : await tryAs({ ...finding, defect: called }, ...at);
  const { findingId, repair, rest, plants } = second?.repair && isBetter(second, first) ? second : first;
  return { findingId, repair, rest, plants };
}

type TryAt = [
  scene: InspectionScene,
  kept: readonly PlacedOperation[],
  inspected: LookAgain,
  size: PictureSize,
  context: StepContext,
];

/** Tries one donor after the other until one closes the finding and leaves nothing else; else the best of what helped. */
async function tryAs(
  finding: ToRepair,
  scene: InspectionScene,
  kept: readonly PlacedOperation[],
  { facts, yardsticks }: LookAgain,
  size: PictureSize,
  context: StepContext,
): Promise<Attempt> {
  const { run, signal } = context;
  const gridWidth = Math.floor(size.width / CELL_PX);
  const { id, polygon, defect, bbox } = finding;
  const of = { defect, kind: facts.kind, nearSide: nearEndIn(yardsticks) };
  const acting = { ...scene, operations: [...scene.operations, ...operationsReaching(kept, bbox, FAR_PX)] };
  let best: Attempt = { findingId: id, repair: null, rest: 1, beside: 0, plants: null, called: null };
  const fits = new Map<RepairSource, readonly DonorPart[]>();
  const fit = async (source: RepairSource): Promise<readonly DonorPart[]> => {
    const known = fits.get(source);
    if (known || source === 'around') return known ?? [];
    const parts = await run('fitMask', { scene: acting, facts, source, polygon, ...maskGrowth(polygon, of) }, signal);
    fits.set(source, parts);
    return parts;
  };
  let sources = repairSources(finding.donors, of);
  if (facts.kind === 'bracket') {
    await Promise.all(sources.filter((source) => typeof source === 'number').map(fit));
    sources = bestFitting(sources, (frame) => fits.get(frame)?.[0]?.rim ?? Infinity);
  }
  for (const source of sources) {
    const fitted = await fit(source);
    const region = grown(boxOf([...polygon, ...fitted.flatMap((p) => p.shape.points)]), size);
    const lookWith = (operations: readonly Operation[]): Promise<readonly Detection[]> => {
      const place = { facts, yardsticks, region };
      return run('recheck', { scene: { ...scene, operations: [...operations] }, ...place }, signal);
    };
    const look = (by: readonly PlacedOperation[]): Promise<readonly Detection[]> =>
      lookWith([...scene.operations, ...operationsReaching(by, region, AROUND_PX)]);
    const before = await look(kept);
    // By itself a place may be called otherwise than in the whole picture.
    best = { ...best, called: best.called ?? calledHere(finding, before, gridWidth) };
    const names = before.some((d) => d.defect === defect) ? [defect] : before.map((d) => d.defect);
    const whole = cellsNamed(names, before, bbox, gridWidth);
    // What acts already, from before or for another finding, has closed it.
    const acts = scene.operations.length + kept.length > 0;
    if (whole === 0 && acts && cellsNamed([defect], await lookWith([]), bbox, gridWidth) > 0)
      return { ...best, rest: 0 };
    const repairs =
      source === 'around'
        ? [() => filled(finding, acting, context)]
        : [
            ...evenings(finding, fitted, of, acting, context),
            ...proposeRepair(polygon, fitted, of).map((proposed) => async () => {
              const met = facts.kind === 'panorama' ? await nudged(proposed, acting, context) : proposed;
              const how = { byLight: facts.kind === 'bracket', within: isOfDetailAlone(of) };
              return toned(met, (part) =>
                run('toneField', { scene: acting, ...part, marginPx: TONE_MARGIN_PX, ...how }, signal),
              );
            }),
          ];
    for (const make of repairs) {
      let repair = await make();
      for (let turn = 0; repair; turn++) {
        const after = await look([...kept, placeOperation({ id, ...repair })]);
        const touched = cellsUnder(repair, region, gridWidth);
        const { rest, beside, brought, planted } = judgeRepair(finding, before, after, {
          names,
          whole,
          touched,
          gridWidth,
        });
        // Why nothing is proposed is told: what it would bring.
        const plants = planted?.defect ?? (beside > HELPS_SHARE ? brought : null);
        if (plants) best = { ...best, plants: best.repair ? null : plants };
        else if (rest <= HELPS_SHARE && isBetter({ rest, beside }, best))
          best = { ...best, repair, rest, beside, plants: null };
        if (isClean(best)) return best;
        const isSmall = planted && planted.cells.length <= SPARED_SHARE * whole;
        repair = isSmall && turn < MOST_SPARED ? sparing(repair, planted, gridWidth) : null;
      }
    }
  }
  return best;
}

type Left = Pick<JudgedRepair, 'rest' | 'beside'>;

/** What came of trying, and what the place was called (see `calledHere`). */
type Attempt = TriedRepair & Left & { readonly called: DefectWord | null };

/** Whether a repair closes its finding and leaves nothing else worth trying another for. */
function isClean(tried: TriedRepair & Left): boolean {
  return closes(tried) && tried.beside <= GONE_SHARE;
}

/** Repairs that close a finding go before others; of two alike the one after which less is wrong. */
function isBetter(a: Left, b: Left & { readonly repair: Operation | null }): boolean {
  if (b.repair === null) return a.rest < b.rest;
  const [closesA, closesB] = [a, b].map((x) => x.rest <= GONE_SHARE);
  return closesA === closesB ? a.rest + a.beside < b.rest + b.beside : closesA!;
}

/** A repair with masks that leave out what it would plant; null where nothing of it is left, or a mask is no outline. */
function sparing({ also = [], ...own }: Operation, { cells }: Detection, gridWidth: number): Operation | null {
  const parts = [own, ...also].flatMap((part): OperationPart[] => {
    const { shape, tone } = part;
    if (shape.kind !== 'outline') return [];
    return spareCells(shape, cells, gridWidth).map((spared) => ({
      ...part,
      ...{ shape: spared, tone: tone && fieldOver(tone, shapeRegion(shape), shapeRegion(spared)) },
    }));
  });
  return asOperation(parts);
}

/** Parts as one operation; null of none, and of more than a record may hold. */
function asOperation([first, ...also]: readonly OperationPart[]): Operation | null {
  return first && also.length <= MOST_FURTHER_PARTS ? { ...first, ...(also.length > 0 && { also }) } : null;
}

/** A speck filled from around it; null where nothing there can be used. */
async function filled(
  { polygon }: ToRepair,
  scene: InspectionScene,
  { run, signal }: StepContext,
): Promise<Operation | null> {
  const shape = speckMask(polygon);
  const shift = await run('findFill', { scene, shape, apart: [polygon] }, signal);
  if (!shift) return null;
  const tone = await run('toneField', { scene, donor: null, shape, shift, apart: [polygon] }, signal);
  return { donor: null, shape, shift, ...(tone && { tone }) };
}

/** Ways to even the tone of a finding that is one of tone alone, told by the frame that its mask was fitted to, and in brackets by all. */
function evenings(
  { id, polygon }: ToRepair,
  fitted: readonly DonorPart[],
  of: RepairCase,
  scene: InspectionScene,
  { run, signal }: StepContext,
): (() => Promise<Operation | null>)[] {
  const [only, ...others] = fitted;
  if (!only || others.length > 0 || !isOfToneAlone(of)) return [];
  const { donor, shape: mask } = only;
  const even = async (): Promise<OperationPart | null> => {
    const isHalo = of.defect === 'halo';
    const shape = isHalo ? haloShape(mask.points) : evenedShape(mask.points);
    const donors = of.kind === 'bracket' ? [...scene.frames.keys()] : [donor];
    const order = { scene, donors, shape, marginPx: EVEN_MARGIN_PX, ...(isHalo && { found: polygon }) };
    const tone = await run('evenField', order, signal);
    return tone && { donor: null, shape, tone };
  };
  if (of.defect !== 'seam') return [even];
  // No even field has a step: what is left of it along its line is covered by the frame, which has none.
  const covered = async (): Promise<Operation | null> => {
    const evened = await even();
    if (!evened) return null;
    const acting = { ...scene, operations: [...scene.operations, placeOperation({ id, ...evened })] };
    const shape = fittedShape(polygon);
    const tone = await run(
      'toneField',
      { scene: acting, donor, shape, marginPx: TONE_MARGIN_PX, byLight: of.kind === 'bracket' },
      signal,
    );
    return tone && { ...evened, also: [{ donor, shape, tone }] };
  };
  return [covered, even];
}

/** A proposed repair with its donors moved to meet the merge around them: parallax and lenses leave views a px or two off. */
async function nudged(
  proposed: ProposedRepair,
  scene: InspectionScene,
  { run, signal }: StepContext,
): Promise<ProposedRepair> {
  const parts = await Promise.all(
    proposed.parts.map(async (part) => {
      const shift = await run('nudge', { scene, donor: part.donor, shape: part.shape }, signal);
      return shift && Math.hypot(...shift) >= LEAST_NUDGE_PX ? { ...part, shift } : part;
    }),
  );
  return { ...proposed, parts };
}

/** A proposed repair as one operation; null where its tone cannot be matched. */
async function toned(
  { parts, isMatched }: ProposedRepair,
  toneOf: (part: ProposedRepair['parts'][number]) => Promise<ToneField | null>,
): Promise<Operation | null> {
  const made: OperationPart[] = [];
  for (const part of parts) {
    const tone = isMatched ? await toneOf(part) : null;
    if (isMatched && !tone) return null;
    made.push({ ...part, ...(tone && { tone }) });
  }
  return asOperation(made);
}

function boxOf(points: readonly (readonly [number, number])[]): Region {
  const [xs, ys] = [points.map(([x]) => x), points.map(([, y]) => y)];
  const [x, y] = [Math.floor(Math.min(...xs)), Math.floor(Math.min(...ys))];
  return { x, y, width: Math.ceil(Math.max(...xs)) - x, height: Math.ceil(Math.max(...ys)) - y };
}

function grown({ x, y, width, height }: Region, size: PictureSize): Region {
  const [left, top] = [Math.max(0, x - AROUND_PX), Math.max(0, y - AROUND_PX)];
  return {
    x: left,
    y: top,
    width: Math.min(size.width - (size.width % CELL_PX), x + width + AROUND_PX) - left,
    height: Math.min(size.height - (size.height % CELL_PX), y + height + AROUND_PX) - top,
  };
}
