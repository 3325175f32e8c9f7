// The scorer checks itself: a perfect report scores 1, an empty one 0, one that marks everything is punished.
import type { ReportFinding } from '@blendrak/contract';
import { CELL, type Defect, type Fault, type MergeTruth } from '@blendrak/scene';
import { polygonCells, scoreReport, type ScoredMerge } from './scoreReport';

const GRID = { width: 100, height: 80 };
const NAMES = ['a.jpg', 'b.jpg', 'c.jpg', 'd.jpg'];

function block(x: number, y: number, w: number, h: number): number[] {
  return Array.from({ length: w * h }, (_, i) => (y + Math.floor(i / w)) * GRID.width + x + (i % w));
}

function fault(defect: Defect, cells: number[], over: Partial<Fault> = {}): Fault {
  return {
    defect,
    cells,
    shown: [0],
    donors: [1],
    donorOptional: false,
    repairable: true,
    plain: true,
    meanRms: 0.1,
    natural: false,
    moments: [],
    ...over,
  };
}

const FAULTS: readonly Fault[] = [
  fault('halo', block(10, 10, 8, 6)),
  fault('soft-patch', block(40, 12, 10, 10), { donors: [2, 3] }),
  fault('ghost', block(70, 40, 9, 9), { donors: [0, 1, 2] }),
  fault('focus-gap', block(12, 50, 20, 8), { donors: [], repairable: false, donorOptional: true }),
  fault('seam', block(60, 60, 20, 2), { donors: [0, 1], donorOptional: true, plain: false }),
];

function merge(faults: readonly Fault[] = FAULTS, unavoidable: number[] = [], faint: number[] = []): ScoredMerge {
  const mask = (cells: number[]): Uint8Array => {
    const out = new Uint8Array(GRID.width * GRID.height);
    for (const c of cells) out[c] = 1;
    return out;
  };
  const truth: MergeTruth = { faults, unavoidable: mask(unavoidable), faint: mask(faint) };
  return { truth, grid: GRID, names: NAMES, bestAt: () => [] };
}

/** A finding whose polygon is the box of some cells. */
function finding(defect: Defect, cells: readonly number[], over: Partial<ReportFinding> = {}): ReportFinding {
  const xs = cells.map((c) => c % GRID.width);
  const ys = cells.map((c) => Math.floor(c / GRID.width));
  const [x0, y0] = [Math.min(...xs) * CELL, Math.min(...ys) * CELL];
  const [x1, y1] = [(Math.max(...xs) + 1) * CELL, (Math.max(...ys) + 1) * CELL];
  return {
    id: 'f-1',
    defect,
    region: {
      bbox: [x0, y0, x1 - x0, y1 - y0],
      polygon: [
        [x0, y0],
        [x1, y0],
        [x1, y1],
        [x0, y1],
      ],
    },
    severity: 50,
    confidence: 0.9,
    cause: '',
    measurements: {},
    sources: [],
    donor: 'b.jpg',
    repairable: true,
    ...over,
  };
}

function perfect(): ReportFinding[] {
  return FAULTS.map((f) =>
    finding(f.defect, f.cells, { donor: f.donors.length > 0 ? NAMES[f.donors[0]!]! : null, repairable: f.repairable }),
  );
}

const picture = { file: 'm.tif', width: GRID.width * CELL, height: GRID.height * CELL };
const score = (findings: ReportFinding[], scored = merge()): ReturnType<typeof scoreReport> =>
  scoreReport({ findings, merge: picture }, scored);
const recall = (s: ReturnType<typeof scoreReport>): number => s.faults.filter((f) => f.found).length / s.faults.length;

describe('scoreReport', () => {
  it('gives a perfect report everything', () => {
    const s = score(perfect());
    expect(s.falseAlarms).toEqual([]);
    expect(s.faults.every((f) => f.found && f.labelled && f.donorRight && f.repairableRight)).toBe(true);
  });

  it('gives an empty report nothing, and no false alarm', () => {
    const s = score([]);
    expect(recall(s)).toBe(0);
    expect(s.falseAlarms).toEqual([]);
    expect(s.faults.every((f) => f.labelled === null && f.donorRight === null)).toBe(true);
  });

  it('gives a report that marks everything nothing but false alarms, as one box or as tiles', () => {
    const all = finding('halo', block(0, 0, GRID.width, GRID.height));
    expect(recall(score([all]))).toBe(0);
    expect(score([all]).falseAlarms).toHaveLength(1);
    const tiles: ReportFinding[] = [];
    for (let y = 0; y < 80; y += 40) for (let x = 0; x < 100; x += 50) tiles.push(finding('halo', block(x, y, 50, 40)));
    const small = [fault('halo', block(10, 10, 8, 6))];
    const s = score(tiles, merge(small));
    expect(recall(s)).toBe(0);
    expect(s.falseAlarms).toHaveLength(4);
    // Tiles small enough to hit are many: each that hits nothing is an alarm.
    const crumbs: ReportFinding[] = [];
    for (let y = 0; y < 80; y += 8) for (let x = 0; x < 100; x += 10) crumbs.push(finding('halo', block(x, y, 10, 8)));
    expect(score(crumbs).falseAlarms.length).toBeGreaterThan(70);
  });

  it('counts a wrong word as found but not as labelled', () => {
    const s = score([finding('soft-patch', FAULTS[0]!.cells)]);
    expect(s.faults[0]).toMatchObject({ found: true, labelled: false, donorRight: null });
    expect(s.falseAlarms).toEqual([]);
  });

  it('takes any of several right donors, and one that is best just there', () => {
    for (const donor of ['c.jpg', 'd.jpg']) {
      expect(score([finding('soft-patch', FAULTS[1]!.cells, { donor })]).faults[1]!.donorRight).toBe(true);
    }
    const wrong = [finding('soft-patch', FAULTS[1]!.cells, { donor: 'a.jpg' })];
    expect(score(wrong).faults[1]!.donorRight).toBe(false);
    expect(score(wrong, { ...merge(), bestAt: () => [0] }).faults[1]!.donorRight).toBe(true);
  });

  it('takes any copy of a ghost, but not none', () => {
    const donorRight = (donor: string | null): boolean | null =>
      score([finding('ghost', FAULTS[2]!.cells, { donor })]).faults[2]!.donorRight;
    expect([donorRight('a.jpg'), donorRight('b.jpg'), donorRight('c.jpg')]).toEqual([true, true, true]);
    expect(donorRight('d.jpg')).toBe(false);
    expect(donorRight(null)).toBe(false);
  });

  it('takes any frame for what frames cover only together', () => {
    const strip = fault('border', block(0, 0, 60, 3), { donors: [], donorOptional: true });
    const { faults } = score([finding('border', strip.cells, { donor: 'b.jpg' })], merge([strip]));
    expect(faults[0]).toMatchObject({ labelled: true, donorRight: true, repairableRight: true });
  });

  it('wants no donor where nothing can be repaired, and allows none where a tone is evened out', () => {
    const gap = score([finding('focus-gap', FAULTS[3]!.cells, { donor: null, repairable: false })]).faults[3]!;
    expect(gap).toMatchObject({ donorRight: true, repairableRight: true });
    const claimed = score([finding('focus-gap', FAULTS[3]!.cells, { donor: 'a.jpg', repairable: true })]).faults[3]!;
    expect(claimed).toMatchObject({ donorRight: false, repairableRight: false });
    expect(score([finding('seam', FAULTS[4]!.cells, { donor: null })]).faults[4]!.donorRight).toBe(true);
  });

  it('neither counts nor punishes what lies on unavoidable glow or on what is too faint to ask for', () => {
    const glow = block(30, 30, 8, 8);
    const found = [finding('halo', glow)];
    expect(score(found, merge(FAULTS, glow)).falseAlarms).toEqual([]);
    expect(score(found, merge(FAULTS, [], glow)).falseAlarms).toEqual([]);
    expect(score(found).falseAlarms).toEqual(['halo']);
  });

  it('ignores findings below the confidence at which they are reported', () => {
    const s = score(perfect().map((f) => ({ ...f, confidence: 0.4 })));
    expect(recall(s)).toBe(0);
    expect(s.falseAlarms).toEqual([]);
  });

  it('lets a finding of more than 12 times its region find nothing', () => {
    const small = [fault('halo', block(4, 4, 5, 4))];
    const wide = finding('halo', block(0, 0, 20, 16));
    expect(recall(score([wide], merge(small)))).toBe(0);
    const fair = finding('halo', block(0, 0, 14, 14));
    expect(recall(score([fair], merge(small)))).toBe(1);
  });
});

describe('polygonCells', () => {
  it('gives the cells of a box, and half of them for its triangle', () => {
    const box = polygonCells(
      [
        [8, 8],
        [48, 8],
        [48, 40],
        [8, 40],
      ],
      GRID,
    );
    expect(box).toHaveLength(10 * 8);
    expect(box[0]).toBe(2 * GRID.width + 2);
    const half = polygonCells(
      [
        [8, 8],
        [48, 8],
        [8, 40],
      ],
      GRID,
    ).length;
    expect(Math.abs(half - 40)).toBeLessThanOrEqual(6);
  });

  it('keeps within the picture and gives thin shapes the cells of their corners', () => {
    expect(
      polygonCells(
        [
          [-50, -50],
          [900, -50],
          [900, 900],
          [-50, 900],
        ],
        GRID,
      ),
    ).toHaveLength(8000);
    expect(
      polygonCells(
        [
          [10, 10],
          [11, 10],
          [11, 11],
        ],
        GRID,
      ),
    ).toEqual([2 * GRID.width + 2]);
  });
});
