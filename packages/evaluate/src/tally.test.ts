// Scores added up: what the table says of counts that are known.
import {
  addClean,
  addFaulty,
  addFinished,
  addRepair,
  emptyTally,
  evaluationRecord,
  evaluationTable,
  type KindTally,
} from './tally';
import type { OwnMergeScore } from './ownMergeScore';
import type { ReportScore, ScoredFault, ScoredFinding } from './scoreReport';

const fault = (part: Partial<ScoredFault>): ScoredFault => ({
  ...{ defect: 'halo', plain: true, found: true, labelled: true, donorRight: true, repairableRight: true },
  ...part,
});
const finding = (confidence: number, outcome: ScoredFinding['outcome'], fragment = false): ScoredFinding => ({
  ...{ defect: 'halo', confidence, evidence: confidence, steps: 2, outcome, fragment },
});
const score = (faults: ScoredFault[], findings: ScoredFinding[] = []): ReportScore => ({
  faults,
  findings,
  falseAlarms: findings.filter((f) => f.outcome === 'alarm').map((f) => f.defect),
});
const table = (tally: KindTally): string => evaluationTable(new Map([['focus-stack', tally]]));
/** The cells of a defect's row. */
const rowOf = (text: string, defect: string): string[] =>
  text
    .split('\n')
    .find((line) => line.trim().startsWith(defect))!
    .trim()
    .split(/\s{2,}|\s(?=\d)/)
    .map((cell) => cell.trim());

it('of nothing says nothing, and divides by nothing', () => {
  const text = table(emptyTally());
  expect(text).toContain('focus-stack: 0 scenes, 0.0 MP');
  expect(text).toContain('false alarms: 0 in clean merges (0.0 per 10 MP');
  expect(text).toContain('findings: none');
  expect(text).toContain('alignment: – px median');
  expect(text).toContain('own merge: not measured');
  expect(text).not.toMatch(/NaN|Infinity/);
});

it('says how much was mended, of all that could be, and at what cost', () => {
  const tally = emptyTally();
  expect(table(tally)).toContain('automatic repair: not measured');
  const [halo, ghost] = [{ defect: 'halo', plain: true } as const, { defect: 'ghost', plain: false } as const];
  addRepair(tally, { falls: [0.7, 1, null, 0.69, 0.9], damage: 0.01, worse: 0 }, [halo, halo, halo, halo, ghost]);
  addRepair(tally, { falls: [0.7, 0.8, 0.9, 0.9], damage: 0.03, worse: 0.02 }, [halo, ghost, ghost, ghost]);
  const text = table(tally);
  expect(text).toContain(
    '88 % of 8 repairable faults mended (must be ≥ 75 %), 75 % of 4 plain ones, ΔE00 0.020 elsewhere (must be ≤ 0.05), 0.010 of it for the worse',
  );
  expect(text).toContain('mended: halo 3/4, ghost 4/4');
});

it('counts plain ones apart, labels of those found, donors of those labelled', () => {
  const tally = emptyTally();
  addFaulty(
    tally,
    score([
      fault({}),
      fault({ plain: false }),
      fault({ donorRight: false }),
      fault({ labelled: false, donorRight: null, repairableRight: null }),
      fault({ found: false, labelled: null, donorRight: null, repairableRight: null }),
      fault({ defect: 'seam', plain: false, found: false, labelled: null, donorRight: null, repairableRight: null }),
    ]),
  );
  const halo = tally.defects.get('halo')!;
  expect(halo).toEqual({
    ...{ seeded: 5, found: 4, plainSeeded: 4, plainFound: 3 },
    ...{ labelled: 3, donorRight: 2, repairableRight: 3 },
  });
  const text = table(tally);
  expect(rowOf(text, 'halo')).toEqual(['halo', '5', '4', '75 %', '80 %', '75 %', '67 %', '100 %']);
  // Of a defect that no plain one was seeded of nothing is claimed.
  expect(rowOf(text, 'seam')).toEqual(['seam', '1', '0', '–', '0 %', '–', '–', '–']);
});

it('adds scenes up, and knows alarms in clean merges from those in faulty ones', () => {
  const tally = emptyTally();
  tally.scenes = 2;
  tally.megapixels = 5;
  addFaulty(tally, score([], [finding(0.9, 'alarm'), finding(0.9, 'hit')]));
  addFaulty(tally, score([], [finding(0.9, 'excused')]));
  addClean(tally, score([], [finding(0.6, 'alarm'), finding(0.7, 'alarm')]));
  expect([tally.falseInClean, tally.falseInFaulty]).toEqual([2, 1]);
  const text = table(tally);
  expect(text).toContain('false alarms: 2 in clean merges (4.0 per 10 MP, must be ≤ 1), 1 in faulty ones');
  // What is excused is neither right nor wrong.
  expect(text).toContain('precision 50 %, 0.8 false alarms per merge');
});

it('holds confidence against what came true, class by class', () => {
  const tally = emptyTally();
  addFaulty(
    tally,
    score(
      [],
      [
        finding(0.55, 'alarm'),
        finding(0.59, 'hit'),
        finding(0.8, 'hit'),
        finding(0.85, 'hit', true),
        finding(0.89, 'alarm'),
        finding(1, 'hit'),
      ],
    ),
  );
  const text = table(tally);
  expect(text).toContain('right by confidence: 0.5: 50 % of 2, 0.8: 67 % of 3, 0.9: 100 % of 1');
  expect(text).toContain('25 % of the hits are fragments');
});

it('gives medians and far quantiles of own merges, and names why a step was not measured', () => {
  const merge = (similarity: number, part: Partial<OwnMergeScore> = {}): OwnMergeScore => ({
    ...{ stillShare: 1, similarity, psnrDb: 34, pairErrorsPx: [0.1, 0.2, 0.9], leanDeg: null },
    ...{ haloWidthsPx: [0, 0, 4, 8], lineErrorsPx: [] },
    ...part,
  });
  const tally = emptyTally();
  tally.merges.push(merge(0.99), merge(0.91), merge(0.97, { leanDeg: 1.25, lineErrorsPx: [0.2, 0.3] }));
  tally.alignmentPx.push(0.3, 0.1, 0.2);
  tally.refusals.set('shoot', 'the disk is full');
  const text = table(tally);
  expect(text).toContain('alignment: 0.200 px median');
  expect(text).toContain('own merge: SSIM 0.9700 median, 0.9100 worst (must be ≥ 0.975), PSNR 34.0 dB');
  expect(text).toContain('own alignment: 0.200 px median, 0.900 px at 95 % of 9 pairs');
  expect(text).toContain('beside near edges: 50 % of 12 places spoilt, 8.000 px wide at 90 %');
  expect(text).toContain('straight lines: off by 0.30 px in the median');
  expect(text).toContain('uprights lean by 1.25°');
  expect(text).toContain('shoot: not measured, the disk is full');
  const record = evaluationRecord(new Map([['focus-stack', tally]])) as Record<string, Record<string, unknown>>;
  const kept = record['focus-stack']!;
  expect(kept['refusals']).toEqual({ shoot: 'the disk is full' });
  expect((kept['merges'] as object[])[0]).not.toHaveProperty('haloWidthsPx');
  expect(JSON.parse(JSON.stringify(record))).toEqual(record);
});

it('holds finished merges against the same before they were finished', () => {
  const tally = emptyTally();
  addFinished(tally, 'grain', 4, 1);
  addFinished(tally, 'grain', 0, 1);
  addFinished(tally, 'curve', 1, 1);
  expect(tally.finished.get('grain')).toEqual({ merges: 2, before: 2, after: 4, mostMore: 3 });
  expect(table(tally)).toContain('clean, then grain: 4 findings in 2 merges, 2 before; at most 3 more');
  expect(table(tally)).toContain('clean, then curve: 1 findings in 1 merges, 1 before; at most 0 more');
});
