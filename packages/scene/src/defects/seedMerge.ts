// A merge made elsewhere with seeded defects: the recipe first, the truth once it is known how well each can be seen.
import { makeRandom } from '../world/random';
import { smoothCells } from './cells';
import { cleanLabels, motionZones } from './cleanLabels';
import { bestFrames, covering, type Draft, type PlannedFault, type Scout } from './draft';
import { isPlain, MIN_CELLS, visibleRms, type Defect, type Fault, type Moment } from './fault';
import { naturalFaults } from './naturalFaults';
import { edgeDraft, ghostDraft, shiftDraft } from './placeDrafts';
import { plainRecipe, type Recipe } from './recipe';
import { fringeDraft, glowDraft, softPatchDraft, speckleDraft } from './sharpnessDrafts';
import type { Survey } from './survey';
import { clippedDraft, overshootDraft, seamDraft } from './toneDrafts';

/** How many of each defect to try to seed. What finds no suitable place is left out. */
export type FaultPlan = Readonly<Partial<Record<Defect, number>>>;

/** A few of everything that suits the set. */
export const EVERY_FAULT: FaultPlan = {
  halo: 2,
  ghost: 1,
  seam: 1,
  misalignment: 1,
  'soft-patch': 2,
  'mask-speckle': 1,
  border: 1,
  fringe: 1,
  clipping: 2,
};

/** Recipes of a clean and a faulty merge, and what was drafted for the faulty one. */
export interface SeededRecipes {
  readonly clean: Recipe;
  readonly faulty: Recipe;
  readonly drafts: readonly PlannedFault[];
}

const DRAFTERS: Readonly<Partial<Record<Defect, readonly ((scout: Scout) => Draft | null)[]>>> = {
  halo: [glowDraft, overshootDraft],
  ghost: [ghostDraft],
  border: [edgeDraft],
  clipping: [clippedDraft],
  fringe: [fringeDraft],
  'soft-patch': [softPatchDraft],
  'mask-speckle': [speckleDraft],
  misalignment: [shiftDraft],
  seam: [seamDraft],
};

/** The order of drafting: what suits few places chooses first. */
const ORDER: readonly Defect[] = [
  'ghost',
  'halo',
  'clipping',
  'fringe',
  'soft-patch',
  'mask-speckle',
  'misalignment',
  'seam',
  'border',
];

/**
 * Drafts a merge.
 * @param survey of the frames at hand
 * @param subtle share of faults that are made faint, 0..1
 */
export function seedRecipes(survey: Survey, plan: FaultPlan, seed: number, subtle: number): SeededRecipes {
  const random = makeRandom(seed * 31337 + 3);
  const zones = motionZones(survey);
  const labels = cleanLabels(survey, zones);
  const clean = plainRecipe(labels);
  const faulty = plainRecipe(labels);
  const taken = new Uint8Array(labels.length);
  for (const zone of zones) for (const c of zone.cells) taken[c] = 1;
  const drafts: PlannedFault[] = [];
  for (const defect of ORDER) {
    for (let i = 0; i < (plan[defect] ?? 0); i++) {
      const scout: Scout = { survey, clean: labels, zones, taken, random, strength: random() < subtle ? 0.5 : 1 };
      for (const draft of DRAFTERS[defect]!) {
        const made = draft(scout);
        if (!made) continue;
        const { apply, ...planned } = made;
        apply(faulty);
        drafts.push(planned);
        break;
      }
    }
  }
  return { clean, faulty, drafts };
}

/** The truth of a faulty merge. */
export interface MergeTruth {
  readonly faults: readonly Fault[];
  /** Cells in which no frame shows what should be there: findings there are neither hit nor alarm. */
  readonly unavoidable: Uint8Array;
  /** Cells in which something is wrong that is too faint to be asked for: likewise. */
  readonly faint: Uint8Array;
}

/**
 * Keeps what can be seen of each draft and adds what the set has by nature.
 * @param difference mean squared difference of the faulty from the clean merge per cell
 * @param full survey of all frames that were shot, those left out included
 */
export function settleTruth(
  survey: Survey,
  full: Survey,
  recipes: SeededRecipes,
  difference: Float32Array,
): MergeTruth {
  const rms = smoothCells(difference, survey.grid).map(Math.sqrt);
  const seeded = recipes.drafts.flatMap((d) => settle(d, survey, rms));
  const taken = new Uint8Array(rms.length);
  for (const f of seeded) for (const c of f.cells) taken[c] = 1;
  const natural = naturalFaults(survey, full, recipes.faulty.labels, taken);
  const { unavoidable, faint } = natural;
  for (const d of recipes.drafts) for (const c of d.cells) if (!taken[c]) faint[c] = 1;
  return { faults: [...seeded, ...natural.faults], unavoidable, faint };
}

function settle(draft: PlannedFault, survey: Survey, rms: Float32Array): Fault[] {
  const cells = draft.cells.filter((c) => rms[c]! > visibleRms(draft.defect));
  if (cells.length < MIN_CELLS) return [];
  const meanRms = cells.reduce((s, c) => s + rms[c]!, 0) / cells.length;
  const { defect, shown, donorOptional } = draft;
  const able = draft.donors === 'best' ? bestFrames(survey, cells) : covering(survey, cells);
  const repairable = able.length > 0 || draft.donors === 'covering';
  const plain = isPlain(defect, meanRms);
  const moments = momentsOf(draft, survey);
  return [{ defect, cells, shown, donors: able, donorOptional, repairable, plain, meanRms, natural: false, moments }];
}

/** A frame has a moving thing where it covers more than this of a cell. */
const HAS = 0.25;

/**
 * In brackets and panoramas whichever frame has a moving thing whole may show it. Of a stack only the one that has it sharp is right.
 */
function momentsOf({ zone, cells, shown }: PlannedFault, { plan, moving }: Survey): Moment[] {
  if (!zone || plan.kind === 'focus-stack') return [];
  const others = zone.whole.filter((frame) => frame !== shown[0]);
  return others.map((frame) => {
    const has = zone.cells.filter((c) => moving[frame]![c]! > HAS);
    return { frame, zone: zone.cells, cells: [...new Set([...cells, ...has])] };
  });
}

/** The merge without faults, with what moves as another frame caught it. */
export function momentRecipe({ clean }: Pick<SeededRecipes, 'clean'>, { frame, zone }: Moment): Recipe {
  const labels = clean.labels.slice();
  for (const c of zone) labels[c] = frame;
  return { ...clean, labels };
}
