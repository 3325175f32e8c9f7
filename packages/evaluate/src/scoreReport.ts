// A report held against the truth: what was found, whether it was called by its name, and what was cried for nothing.
import type { Report, ReportFinding } from '@blendrak/contract';
import { CELL, type CellGrid, type Defect, type Fault, type MergeTruth } from '@blendrak/scene';

/** How one seeded or natural fault fared. Null where the question does not arise. */
export interface ScoredFault {
  readonly defect: Defect;
  readonly plain: boolean;
  readonly found: boolean;
  readonly labelled: boolean | null;
  readonly donorRight: boolean | null;
  readonly repairableRight: boolean | null;
}

/** How one finding fared. */
export interface ScoredFinding {
  readonly defect: Defect;
  readonly confidence: number;
  /** The detector's own confidence, and just noticeable steps; what a calibration is learnt from. */
  readonly evidence: number;
  readonly steps: number;
  /** hit: on a fault; alarm: on nothing; excused: on what nobody could have avoided or seen. */
  readonly outcome: 'hit' | 'alarm' | 'excused';
  /** Whether a finding before it had hit all of its faults already: one cause, cried twice. */
  readonly fragment: boolean;
}

export interface ReportScore {
  readonly faults: readonly ScoredFault[];
  readonly findings: readonly ScoredFinding[];
  /** Findings that hit nothing, by the word they used. */
  readonly falseAlarms: readonly Defect[];
}

/** What scoring needs to know of a merge. */
export interface ScoredMerge {
  readonly truth: MergeTruth;
  readonly grid: CellGrid;
  /** Names of the delivered frames, as the truth numbers them. */
  readonly names: readonly string[];
  /** Frames that are right over some cells, by error. */
  bestAt(cells: readonly number[]): readonly number[];
}

const REPORTED = 0.5;
/** A finding whose box is larger than this share of the picture finds nothing. */
const LARGEST_SHARE = 0.25;
/** Nor does one of which more lies outside than this many times what it hits. */
const LARGEST_STRAY = 12;
// A fault is hit by a finding that covers this share of it, or lies in it by that share of itself.
const COVERS_FAULT = 0.2;
const LIES_IN_FAULT = 0.3;
// A finding of which this share is unavoidable or faint is neither hit nor alarm.
const NEITHER_SHARE = 0.3;

/** Scores a report of findings at confidence ½ and above. */
export function scoreReport(report: Pick<Report, 'findings' | 'merge'>, merge: ScoredMerge): ReportScore {
  const { truth, grid } = merge;
  const hits = truth.faults.map((): { finding: ReportFinding; cells: ReadonlySet<number> }[] => []);
  const wrong = new Set(truth.faults.flatMap((f) => f.cells));
  const excused = (c: number): boolean => truth.unavoidable[c] === 1 || truth.faint[c] === 1;
  const falseAlarms: Defect[] = [];
  const findings: ScoredFinding[] = [];
  const area = report.merge.width * report.merge.height;
  for (const finding of report.findings) {
    if (finding.confidence < REPORTED) continue;
    const cells = new Set(polygonCells(finding.region.polygon, grid));
    const [, , w, h] = finding.region.bbox;
    const hit = w * h > LARGEST_SHARE * area ? [] : hitFaults(cells, truth.faults, wrong, excused);
    const { defect, confidence, measurements } = finding;
    const evidence = measurements['evidence']?.value ?? confidence;
    const known = { defect, confidence, evidence, steps: measurements['noticeableSteps']?.value ?? NaN };
    const fragment = hit.length > 0 && hit.every((i) => hits[i]!.length > 0);
    for (const i of hit) hits[i]!.push({ finding, cells });
    if (hit.length > 0) {
      findings.push({ ...known, outcome: 'hit', fragment });
      continue;
    }
    const neither = [...cells].filter(excused).length;
    if (w * h <= LARGEST_SHARE * area && neither >= NEITHER_SHARE * cells.size && cells.size > 0) {
      findings.push({ ...known, outcome: 'excused', fragment });
      continue;
    }
    findings.push({ ...known, outcome: 'alarm', fragment });
    falseAlarms.push(defect);
  }
  return { faults: truth.faults.map((fault, i) => scoreFault(fault, hits[i]!, merge)), findings, falseAlarms };
}

function hitFaults(
  cells: ReadonlySet<number>,
  faults: readonly Fault[],
  known: ReadonlySet<number>,
  excused: (cell: number) => boolean,
): number[] {
  const stray = [...cells].filter((c) => !known.has(c) && !excused(c)).length;
  const hit = faults.flatMap((fault, i) => {
    const shared = fault.cells.filter((c) => cells.has(c)).length;
    return shared >= COVERS_FAULT * fault.cells.length || (shared > 0 && shared >= LIES_IN_FAULT * cells.size)
      ? [i]
      : [];
  });
  const size = hit.reduce((sum, i) => sum + faults[i]!.cells.length, 0);
  return stray > LARGEST_STRAY * size ? [] : hit;
}

function scoreFault(
  fault: Fault,
  hits: readonly { finding: ReportFinding; cells: ReadonlySet<number> }[],
  { names, bestAt }: ScoredMerge,
): ScoredFault {
  const { defect, plain } = fault;
  if (hits.length === 0) {
    return { defect, plain, found: false, labelled: null, donorRight: null, repairableRight: null };
  }
  const same = hits.find((h) => h.finding.defect === defect);
  if (!same) return { defect, plain, found: true, labelled: false, donorRight: null, repairableRight: null };
  const { donor, repairable } = same.finding;
  const named = donor === null ? -1 : names.indexOf(donor);
  // Right there: in what the finding covers of the fault.
  const covered = fault.cells.filter((c) => same.cells.has(c));
  const right =
    donor === null
      ? fault.donorOptional || !fault.repairable
      : fault.repairable &&
        // What frames cover only together is repaired in parts: the one that is named is one of them.
        (fault.donors.length === 0 ||
          fault.donors.includes(named) ||
          (!fault.donorOptional && bestAt(covered).includes(named)));
  return {
    defect,
    plain,
    found: true,
    labelled: true,
    donorRight: right,
    repairableRight: repairable === fault.repairable,
  };
}

/** Cells whose centres lie in a polygon of merge px (even-odd rule); a polygon thinner than a cell gives its corners' cells. */
export function polygonCells(polygon: readonly (readonly [number, number])[], grid: CellGrid): number[] {
  const cells: number[] = [];
  const ys = polygon.map(([, y]) => y / CELL);
  const top = Math.max(0, Math.floor(Math.min(...ys)));
  const bottom = Math.min(grid.height - 1, Math.ceil(Math.max(...ys)));
  for (let row = top; row <= bottom; row++) {
    const y = (row + 0.5) * CELL;
    const crossings: number[] = [];
    polygon.forEach(([x0, y0], i) => {
      const [x1, y1] = polygon[(i + 1) % polygon.length]!;
      if (y0 <= y === y1 <= y) return;
      crossings.push((x0 + ((y - y0) / (y1 - y0)) * (x1 - x0)) / CELL);
    });
    crossings.sort((a, b) => a - b);
    for (let k = 0; k + 1 < crossings.length; k += 2) {
      const from = Math.max(0, Math.ceil(crossings[k]! - 0.5));
      const to = Math.min(grid.width - 1, Math.floor(crossings[k + 1]! - 0.5));
      for (let x = from; x <= to; x++) cells.push(row * grid.width + x);
    }
  }
  if (cells.length > 0) return cells;
  const corner = ([x, y]: readonly [number, number]): number =>
    Math.min(grid.height - 1, Math.max(0, Math.floor(y / CELL))) * grid.width +
    Math.min(grid.width - 1, Math.max(0, Math.floor(x / CELL)));
  return [...new Set(polygon.map(corner))];
}
