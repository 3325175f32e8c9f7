// Plan against reality: what was to be shot, and what the files and their alignment say was.
import { median } from '../image';
import type { PlanSheet } from './makeCaptureCard';
import { planBracket } from './planBracket';
import { planFocusStack } from './planFocusStack';
import { planPanorama } from './planPanorama';

/** What is known of a set; null or empty where files are silent. */
export interface SetFacts {
  readonly frames: number;
  /** In shooting order; Infinity allowed. */
  readonly focusMm: readonly number[];
  readonly exposuresS: readonly number[];
  readonly fNumbers: readonly number[];
  readonly focalLengthsMm: readonly number[];
  /** Share of the picture's side that not every frame reaches. */
  readonly lostMargin: number | null;
  /** Shift between neighbouring frames, as a share of the frame; panoramas. */
  readonly neighbourShift: readonly number[];
}

export interface Comparison {
  readonly what: string;
  readonly unit: string;
  readonly planned: number;
  /** Null when neither file nor alignment tells. */
  readonly actual: number | null;
  readonly verdict: 'as planned' | 'better' | 'worse' | 'unknown';
}

/** Compares a plan with a set, row by row. Returns nothing for a plan that cannot be computed. */
export function comparePlan(sheet: PlanSheet, facts: SetFacts): Comparison[] {
  if (sheet.kind === 'focus-stack') return compareStack(sheet.request, facts);
  return sheet.kind === 'panorama' ? comparePanorama(sheet.request, facts) : compareBracket(sheet.request, facts);
}

/** More is better where a missing frame cannot be repaired; a tenth either way is as planned. */
function row(
  what: string,
  unit: string,
  planned: number,
  actual: number | null,
  better: 'more' | 'less' | 'equal',
): Comparison {
  return { what, unit, planned, actual, verdict: actual === null ? 'unknown' : judge(planned, actual, better) };
}

function judge(planned: number, actual: number, better: 'more' | 'less' | 'equal'): Comparison['verdict'] {
  const near = Math.abs(actual - planned) <= Math.max(Math.abs(planned) * 0.1, 1e-6);
  if (near) return 'as planned';
  if (better === 'equal') return 'worse';
  return actual > planned === (better === 'more') ? 'better' : 'worse';
}

function compareStack(request: Extract<PlanSheet, { kind: 'focus-stack' }>['request'], facts: SetFacts): Comparison[] {
  const { plan } = planFocusStack(request);
  if (!plan) return [];
  const rows = [row('Frames', '', plan.slices.length, facts.frames, 'more')];
  rows.push(row('Aperture', 'f/', request.fNumber, middle(facts.fNumbers), 'equal'));
  rows.push(row('Focal length', 'mm', request.lens.focalLengthMm, middle(facts.focalLengthsMm), 'equal'));
  if (request.drive === 'focus') {
    const planned = steps(plan.slices.map((s) => s.focusMm));
    if (planned.length > 0) {
      const step = middle(planned)!;
      const actual = middle(steps(facts.focusMm));
      rows.push(row('Focus step', 'dpt', step, actual, 'less'));
      if (plan.leastOverlap !== null) {
        // A slice spans a fixed share of dioptres: the overlap follows from the step that was really made.
        const span = step / (1 - plan.leastOverlap);
        rows.push(
          row('Overlap', '%', 100 * plan.leastOverlap, actual === null ? null : 100 * (1 - actual / span), 'more'),
        );
      }
    }
  }
  rows.push(
    row(
      'Margin lost',
      '%',
      100 * plan.breathing.margin,
      facts.lostMargin === null ? null : 100 * facts.lostMargin,
      'less',
    ),
  );
  return rows;
}

function comparePanorama(request: Extract<PlanSheet, { kind: 'panorama' }>['request'], facts: SetFacts): Comparison[] {
  const { plan } = planPanorama(request);
  if (!plan) return [];
  const shift = middle(facts.neighbourShift);
  return [
    row('Frames', '', plan.frames, facts.frames, 'more'),
    row('Focal length', 'mm', plan.focalLengthMm, middle(facts.focalLengthsMm), 'equal'),
    row('Overlap', '%', 100 * plan.trueOverlap[0], shift === null ? null : 100 * (1 - shift), 'more'),
  ];
}

function compareBracket(request: Extract<PlanSheet, { kind: 'bracket' }>['request'], facts: SetFacts): Comparison[] {
  const { plan } = planBracket(request);
  if (!plan) return [];
  const logs = [...facts.exposuresS].map((s) => Math.log2(s)).sort((a, b) => a - b);
  const gaps = logs
    .slice(1)
    .map((v, k) => v - logs[k]!)
    .filter((v) => v > 0.05);
  return [
    row('Frames', '', plan.frames, facts.frames, 'more'),
    row('Aperture', 'f/', request.fNumber, middle(facts.fNumbers), 'equal'),
    row('Step', 'EV', request.stepEv, middle(gaps), 'less'),
    row('Range held', 'EV', plan.heldEv, logs.length > 1 ? request.usableEv + logs.at(-1)! - logs[0]! : null, 'more'),
  ];
}

/** Steps between neighbouring focus distances, dioptres. */
function steps(focusMm: readonly number[]): number[] {
  return focusMm.slice(1).map((mm, k) => Math.abs(1000 / mm - 1000 / focusMm[k]!));
}

function middle(values: readonly number[]): number | null {
  return values.length === 0 ? null : median(values);
}
