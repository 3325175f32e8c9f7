// Scores of many scenes added up into the table of what the product must reach.
import { DEFECT_WORDS, type DefectWord } from '@blendrak/contract';
import type { Fault, SetKind } from '@blendrak/scene';
import { MENDED, type RepairScore } from './scoreRepair';
import type { OwnMergeScore } from './ownMergeScore';
import type { ReportScore, ScoredFinding } from './scoreReport';

/** Counts of one defect in one kind of set. */
export interface DefectTally {
  seeded: number;
  found: number;
  plainSeeded: number;
  plainFound: number;
  labelled: number;
  donorRight: number;
  repairableRight: number;
}

/** Findings in merges that were finished in one way. */
export interface FinishedTally {
  merges: number;
  before: number;
  after: number;
  /** Most that one merge has more than before. */
  mostMore: number;
}

/** A fault that a frame can repair, and the share of its error that is gone; below 0 where it grew. */
export interface RepairedFault extends Pick<Fault, 'defect' | 'plain'> {
  readonly fall: number;
}

/** What was mended by itself of one merge, and what it did to the rest. */
export interface MergeRepair extends Pick<RepairScore, 'damage' | 'worse'> {
  readonly faults: readonly RepairedFault[];
}

/** What was measured in all scenes of a kind. */
export interface KindTally {
  scenes: number;
  megapixels: number;
  defects: Map<DefectWord, DefectTally>;
  /** Findings of all faulty merges. */
  findings: ScoredFinding[];
  falseInClean: number;
  falseInFaulty: number;
  alignmentPx: number[];
  /** Findings in clean merges that were finished, and in the same before, by the way they were finished. */
  finished: Map<string, FinishedTally>;
  /** The product's own merges. */
  merges: OwnMergeScore[];
  /** What was mended by itself in the faulty merges. */
  repairs: MergeRepair[];
  seconds: { render: number; inspect: number; merge: number; repair: number };
  /** Why the product could not be asked, by step. */
  refusals: Map<string, string>;
}

export function emptyTally(): KindTally {
  return {
    scenes: 0,
    megapixels: 0,
    defects: new Map(),
    findings: [],
    falseInClean: 0,
    falseInFaulty: 0,
    alignmentPx: [],
    finished: new Map(),
    merges: [],
    repairs: [],
    seconds: { render: 0, inspect: 0, merge: 0, repair: 0 },
    refusals: new Map(),
  };
}

/** Adds the score of a faulty merge. */
export function addFaulty(tally: KindTally, score: ReportScore): void {
  tally.falseInFaulty += score.falseAlarms.length;
  tally.findings.push(...score.findings);
  for (const f of score.faults) {
    const sum = tally.defects.get(f.defect) ?? {
      seeded: 0,
      found: 0,
      plainSeeded: 0,
      plainFound: 0,
      labelled: 0,
      donorRight: 0,
      repairableRight: 0,
    };
    tally.defects.set(f.defect, sum);
    sum.seeded += 1;
    if (f.plain) sum.plainSeeded += 1;
    if (!f.found) continue;
    sum.found += 1;
    if (f.plain) sum.plainFound += 1;
    if (f.labelled) sum.labelled += 1;
    if (f.donorRight) sum.donorRight += 1;
    if (f.repairableRight) sum.repairableRight += 1;
  }
}

/** Adds the score of a clean merge. */
export function addClean(tally: KindTally, score: ReportScore): void {
  tally.falseInClean += score.falseAlarms.length;
}

/** Adds a clean merge that was finished in a way. */
export function addFinished(tally: KindTally, finishing: string, after: number, before: number): void {
  const sum = tally.finished.get(finishing) ?? { merges: 0, before: 0, after: 0, mostMore: 0 };
  tally.finished.set(finishing, sum);
  sum.merges += 1;
  sum.before += before;
  sum.after += after;
  sum.mostMore = Math.max(sum.mostMore, after - before);
}

/**
 * Adds a faulty merge that was repaired by itself.
 * @param faults what was seeded, in the order of the score
 */
export function addRepair(
  tally: KindTally,
  { falls, ...rest }: RepairScore,
  faults: readonly Pick<Fault, 'defect' | 'plain'>[],
): void {
  const asked = faults.flatMap(({ defect, plain }, k): RepairedFault[] => {
    const fall = falls[k] ?? null;
    return fall === null ? [] : [{ defect, plain, fall }];
  });
  tally.repairs.push({ faults: asked, ...rest });
}

export type Evaluation = ReadonlyMap<SetKind, KindTally>;

function percent(part: number, whole: number): string {
  return whole === 0 ? '–' : `${((100 * part) / whole).toFixed(0)} %`;
}

function middle(values: readonly number[], digits: number): string {
  if (values.length === 0) return '–';
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[sorted.length >> 1]!.toFixed(digits);
}

function quantileText(values: readonly number[], q: number): string {
  if (values.length === 0) return '–';
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.floor(q * sorted.length))]!.toFixed(3);
}

const MUST_SIMILARITY: Readonly<Record<SetKind, number>> = { 'focus-stack': 0.975, panorama: 0.96, bracket: 0.975 };

/** The table as text, one block per kind. */
export function evaluationTable(evaluation: Evaluation): string {
  const lines: string[] = [];
  for (const [kind, t] of evaluation) {
    lines.push(`${kind}: ${t.scenes} scenes, ${t.megapixels.toFixed(1)} MP of merges`);
    lines.push('  defect         seeded  plain   recall of plain  of all   label   donor  repairable');
    for (const defect of DEFECT_WORDS) {
      const d = t.defects.get(defect);
      if (!d) continue;
      const cells = [
        percent(d.plainFound, d.plainSeeded).padStart(15),
        percent(d.found, d.seeded).padStart(7),
        percent(d.labelled, d.found).padStart(7),
        percent(d.donorRight, d.labelled).padStart(7),
        percent(d.repairableRight, d.labelled).padStart(11),
      ];
      lines.push(
        `  ${defect.padEnd(14)} ${String(d.seeded).padStart(6)} ${String(d.plainSeeded).padStart(6)}  ${cells.join(' ')}`,
      );
    }
    const perTen = t.megapixels === 0 ? 0 : (10 * t.falseInClean) / t.megapixels;
    lines.push(
      `  false alarms: ${t.falseInClean} in clean merges (${perTen.toFixed(1)} per 10 MP, must be ≤ 1), ${t.falseInFaulty} in faulty ones`,
    );
    lines.push(...findingLines(t), ...finishedLines(t));
    lines.push(`  alignment: ${middle(t.alignmentPx, 3)} px median against truth (must be ≤ 0.3)`);
    lines.push(...mergeLines(kind, t.merges));
    lines.push(...repairLines(t));
    const { render, inspect, merge, repair } = t.seconds;
    lines.push(
      `  seconds: ${render.toFixed(0)} rendering, ${inspect.toFixed(0)} inspecting, ${merge.toFixed(0)} merging, ${repair.toFixed(0)} repairing`,
    );
    for (const [step, reason] of t.refusals) lines.push(`  ${step}: not measured, ${reason}`);
    lines.push('');
  }
  return lines.join('\n');
}

/** Bounds of the classes in which confidence is held against what came true. */
const CLASSES = [0.5, 0.6, 0.7, 0.8, 0.9, 1.001] as const;

/** Precision, false alarms per merge, fragments, and whether confidence says how often a finding is right. */
function findingLines({ findings, scenes, falseInClean, falseInFaulty }: KindTally): string[] {
  const judged = findings.filter((f) => f.outcome !== 'excused');
  const hits = judged.filter((f) => f.outcome === 'hit');
  if (judged.length === 0) return ['  findings: none'];
  const classes = CLASSES.slice(0, -1).flatMap((low, k) => {
    const here = judged.filter((f) => f.confidence >= low && f.confidence < CLASSES[k + 1]!);
    if (here.length === 0) return [];
    const right = here.filter((f) => f.outcome === 'hit').length;
    return [`${low.toFixed(1)}: ${percent(right, here.length)} of ${here.length}`];
  });
  const perMerge = ((falseInClean + falseInFaulty) / (2 * Math.max(1, scenes))).toFixed(1);
  return [
    `  findings: precision ${percent(hits.length, judged.length)}, ${perMerge} false alarms per merge, ` +
      `${percent(hits.filter((f) => f.fragment).length, hits.length)} of the hits are fragments`,
    `  right by confidence: ${classes.join(', ')}`,
  ];
}

function finishedLines({ finished }: KindTally): string[] {
  return [...finished].map(
    ([name, { merges, before, after, mostMore }]) =>
      `  clean, then ${name}: ${after} findings in ${merges} merges, ${before} before; at most ${mostMore} more (must be ≤ 1)`,
  );
}

function isMended({ fall }: RepairedFault): boolean {
  return fall >= MENDED;
}

function repairLines({ repairs }: KindTally): string[] {
  if (repairs.length === 0) return ['  automatic repair: not measured'];
  const faults = repairs.flatMap((r) => r.faults);
  const share = (of: readonly RepairedFault[]): string =>
    `${percent(of.filter(isMended).length, of.length)} of ${of.length}`;
  const mean = (of: (r: MergeRepair) => number): string =>
    (repairs.reduce((sum, r) => sum + of(r), 0) / repairs.length).toFixed(3);
  const byDefect = DEFECT_WORDS.flatMap((defect) => {
    const of = faults.filter((f) => f.defect === defect);
    return of.length === 0 ? [] : [`${defect} ${of.filter(isMended).length}/${of.length}`];
  });
  return [
    `  automatic repair: ${share(faults)} repairable faults mended (must be ≥ 75 %), ${share(faults.filter((f) => f.plain))} plain ones, ` +
      `ΔE00 ${mean((r) => r.damage)} elsewhere (must be ≤ 0.05), ${mean((r) => r.worse)} of it for the worse`,
    ...(byDefect.length > 0 ? [`  mended: ${byDefect.join(', ')}`] : []),
  ];
}

function mergeLines(kind: SetKind, merges: readonly OwnMergeScore[]): string[] {
  if (merges.length === 0) return ['  own merge: not measured'];
  const similarity = merges.map((m) => m.similarity);
  const pairs = merges.flatMap((m) => m.pairErrorsPx);
  const lines = merges.flatMap((m) => m.lineErrorsPx);
  const halos = merges.flatMap((m) => m.haloWidthsPx);
  const leans = merges.flatMap((m) => m.leanDeg ?? []);
  return [
    `  own merge: SSIM ${middle(similarity, 4)} median, ${Math.min(...similarity).toFixed(4)} worst (must be ≥ ${MUST_SIMILARITY[kind]}), ` +
      `PSNR ${middle(
        merges.map((m) => m.psnrDb),
        1,
      )} dB`,
    `  own alignment: ${middle(pairs, 3)} px median, ${quantileText(pairs, 0.95)} px at 95 % of ${pairs.length} pairs of frames against truth`,
    ...(lines.length > 0
      ? [`  straight lines: off by ${middle(lines, 2)} px in the median, ${quantileText(lines, 0.95)} px at 95 %`]
      : []),
    ...(halos.length > 0
      ? [
          `  beside near edges: ${percent(halos.filter((w) => w > 0).length, halos.length)} of ${halos.length} places spoilt, ` +
            `${quantileText(halos, 0.9)} px wide at 90 %, ${quantileText(halos, 0.95)} px at 95 %`,
        ]
      : []),
    ...(leans.length > 0 ? [`  uprights lean by ${middle(leans, 2)}° (median of scenes, worst place in each)`] : []),
  ];
}

/** The same as plain data, for a file. */
export function evaluationRecord(evaluation: Evaluation): unknown {
  return Object.fromEntries(
    [...evaluation].map(([kind, t]) => [
      kind,
      {
        ...t,
        // Thousands of places say no more than their quantiles, which the table gives.
        merges: t.merges.map(({ haloWidthsPx: _h, lineErrorsPx: _l, ...score }) => score),
        defects: Object.fromEntries(t.defects),
        finished: Object.fromEntries(t.finished),
        refusals: Object.fromEntries(t.refusals),
      },
    ]),
  );
}
