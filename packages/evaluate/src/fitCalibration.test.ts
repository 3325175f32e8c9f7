// Calibrations against a world whose odds are known, and against what a fit has to fulfil.
import { surenessOf, weighed } from '@blendrak/core/inspect';
import { calibrationFile, fitCalibration, type JudgedFinding } from './fitCalibration';

/** Numbers from 0 to 1 that repeat after their seed (mulberry32). */
function makeRandom(seed: number): () => number {
  let a = seed;
  return () => {
    a = (a + 0x6d2b79f5) | 0;
    let t = Math.imul(a ^ (a >>> 15), 1 | a);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 2 ** 32;
  };
}

/** In this world halos are real less often than their evidence says, borders always nearly. */
function world(n: number, seed: number): JudgedFinding[] {
  const random = makeRandom(seed);
  return Array.from({ length: n }, () => {
    const defect = (['halo', 'ghost', 'border'] as const)[Math.floor(3 * random())]!;
    const known = { kind: 'panorama' as const, defect, evidence: 0.5 + 0.48 * random(), steps: 0.6 + 8 * random() };
    const [own, seen] = weighed(known);
    const odds = -1 + 0.7 * own + 0.8 * seen + { halo: -1.5, ghost: 0, border: 3 }[defect];
    return { ...known, isReal: random() < 1 / (1 + Math.exp(-odds)) };
  });
}

const SEEDS = [{ kind: 'panorama' as const, first: 1, scenes: 2 }];

it('of findings that are said to be so sure, so many are real, on findings it has not seen', () => {
  const calibration = fitCalibration(world(3000, 1), SEEDS);
  const fresh = world(6000, 2).map((f) => ({ sure: surenessOf(f, calibration), isReal: f.isReal }));
  for (const low of [0.1, 0.3, 0.5, 0.7, 0.9]) {
    const here = fresh.filter(({ sure }) => sure >= low && sure < low + 0.1);
    const [said, came] = [here.map((f) => f.sure), here.map((f) => Number(f.isReal))].map(
      (values) => values.reduce((a, b) => a + b, 0) / values.length,
    ) as [number, number];
    expect([low, here.length > 60, Math.abs(said - came) < 0.08]).toEqual([low, true, true]);
  }
});

it('where one sort is always right, little is said beyond what was seen, and nothing is certain', () => {
  const few = world(400, 3).map((f) => ({ ...f, isReal: f.defect === 'border' ? true : f.isReal }));
  const sure = surenessOf({ kind: 'panorama', defect: 'border', evidence: 0.6, steps: 2 }, fitCalibration(few, SEEDS));
  expect([sure > 0.8, sure < 0.999]).toEqual([true, true]);
  // Of a sort that was never seen, the others speak.
  const unseen = surenessOf({ kind: 'panorama', defect: 'dust', evidence: 0.6, steps: 2 }, fitCalibration(few, SEEDS));
  expect([unseen > 0.2, unseen < 0.95]).toEqual([true, true]);
});

it('with nothing to learn from, evidence stands as it is', () => {
  const calibration = fitCalibration([], []);
  for (const kind of ['focus-stack', 'panorama', 'bracket'] as const)
    for (const evidence of [0.3, 0.5, 0.9])
      expect(surenessOf({ kind, defect: 'halo', evidence, steps: NaN }, calibration)).toBeCloseTo(evidence, 6);
});

it('is written as the file that it is read from', async () => {
  const calibration = fitCalibration(world(300, 4), SEEDS);
  const text = calibrationFile(calibration);
  expect(text).toContain("import type { Calibration } from './calibrationShape';");
  const literal = text.slice(text.indexOf('= {') + 2, text.lastIndexOf(';'));
  expect(new Function(`return ${literal}`)()).toEqual(calibration);
});
