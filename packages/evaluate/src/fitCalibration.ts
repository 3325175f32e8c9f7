// A calibration learnt from findings whose truth is known.
import {
  weighed,
  type Calibration,
  type Defect,
  type Evident,
  type KindCalibration,
  type MergeKind,
} from '@blendrak/core/inspect';

/** A finding, and whether something was wrong there. */
export interface JudgedFinding extends Evident {
  readonly isReal: boolean;
}

/** Each defect's own constant is held back as if by so many findings that say nothing: rare ones are taken to be like all. */
const HELD_BACK = 2;
/** The weights are held back less: there are two of them, and all findings speak. */
const HELD_WEIGHT = 0.5;
/** Evidence is expected to speak for a finding: its weight is drawn to 1, all others to 0. */
const drawnTo = (k: number): number => (k === 1 ? 1 : 0);
/** Without a finding of each sort nothing can be learnt; evidence stands as it is. */
const AS_IT_IS: KindCalibration = { constant: 0, evidence: 1, steps: 0, defects: {} };
const ROUNDS = 50;
const CLOSE = 1e-9;

/**
 * Fits how sure findings of one kind are: logistic regression with a penalty on its weights, by Newton's method (iteratively reweighted
 * least squares: P. McCullagh and J. Nelder, Generalized Linear Models, 1989).
 */
export function fitKind(findings: readonly Omit<JudgedFinding, 'kind'>[]): KindCalibration {
  const real = findings.filter((f) => f.isReal).length;
  if (real === 0 || real === findings.length) return AS_IT_IS;
  const defects = [...new Set(findings.map((f) => f.defect))].sort();
  const rows = findings.map((f) => [1, ...weighed(f), ...defects.map((d) => Number(d === f.defect))]);
  const penalty = [0, HELD_WEIGHT, HELD_WEIGHT, ...defects.map(() => HELD_BACK)];
  let weights: number[] = penalty.map((_, k) => drawnTo(k));
  for (let round = 0; round < ROUNDS; round++) {
    const step = newtonStep(rows, findings, weights, penalty);
    weights = weights.map((w, k) => w + step[k]!);
    if (step.every((s) => Math.abs(s) < CLOSE)) break;
  }
  const [constant, evidence, steps, ...own] = weights.map((w) => Number(w.toFixed(3)));
  return {
    ...{ constant: constant!, evidence: evidence!, steps: steps! },
    defects: Object.fromEntries(defects.map((d, k): [Defect, number] => [d, own[k]!])),
  };
}

function newtonStep(
  rows: readonly (readonly number[])[],
  findings: readonly { readonly isReal: boolean }[],
  weights: readonly number[],
  penalty: readonly number[],
): number[] {
  const n = weights.length;
  const slope = weights.map((w, k) => -penalty[k]! * (w - drawnTo(k)));
  const curve = weights.map((_, j) => weights.map((_w, k) => (j === k ? penalty[k]! + 1e-9 : 0)));
  rows.forEach((row, i) => {
    const odds = row.reduce((sum, v, k) => sum + v * weights[k]!, 0);
    const p = 1 / (1 + Math.exp(-odds));
    for (let j = 0; j < n; j++) {
      slope[j]! += row[j]! * (Number(findings[i]!.isReal) - p);
      for (let k = 0; k < n; k++) curve[j]![k]! += p * (1 - p) * row[j]! * row[k]!;
    }
  });
  return solve(curve, slope);
}

/** Gauss elimination; the matrix is positive definite, so no pivots are sought. */
function solve(matrix: readonly (readonly number[])[], right: readonly number[]): number[] {
  const rows = matrix.map((row, i) => [...row, right[i]!]);
  const n = rows.length;
  for (let i = 0; i < n; i++)
    for (let j = i + 1; j < n; j++) {
      const f = rows[j]![i]! / rows[i]![i]!;
      for (let k = i; k <= n; k++) rows[j]![k]! -= f * rows[i]![k]!;
    }
  const out = new Array<number>(n).fill(0);
  for (let i = n - 1; i >= 0; i--) {
    let sum = rows[i]![n]!;
    for (let k = i + 1; k < n; k++) sum -= rows[i]![k]! * out[k]!;
    out[i] = sum / rows[i]![i]!;
  }
  return out;
}

/** A calibration of all kinds, with the seeds that it comes from. */
export function fitCalibration(findings: readonly JudgedFinding[], seeds: Calibration['seeds']): Calibration {
  const of = (kind: MergeKind): KindCalibration => fitKind(findings.filter((f) => f.kind === kind));
  return { seeds, kinds: { 'focus-stack': of('focus-stack'), panorama: of('panorama'), bracket: of('bracket') } };
}

/** A calibration as the file that holds it, core/inspect/calibration. */
export function calibrationFile({ seeds, kinds }: Calibration): string {
  const defects = (of: KindCalibration['defects']): string =>
    Object.entries(of)
      .map(([defect, value]) => `${/^[a-z]+$/.test(defect) ? defect : `'${defect}'`}: ${value}`)
      .join(', ');
  return [
    '// Data: how sure findings are, as `blendrak evaluate --calibration` learnt it. Made anew when detectors change; never by hand.',
    "import type { Calibration } from './calibrationShape';",
    '',
    'export const CALIBRATION: Calibration = {',
    '  seeds: [',
    ...seeds.map(({ kind, first, scenes }) => `    { kind: '${kind}', first: ${first}, scenes: ${scenes} },`),
    '  ],',
    '  kinds: {',
    ...Object.entries(kinds).flatMap(([kind, { constant, evidence, steps, defects: own }]) => [
      `    ${kind === 'focus-stack' ? "'focus-stack'" : kind}: {`,
      `      constant: ${constant},`,
      `      evidence: ${evidence},`,
      `      steps: ${steps},`,
      `      defects: { ${defects(own)} },`,
      '    },',
    ]),
    '  },',
    '};',
    '',
  ].join('\n');
}
