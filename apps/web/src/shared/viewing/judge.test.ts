// Findings judged for a way of looking.
import type { Finding } from '@blendrak/contract';
import { viewingOf } from '@blendrak/core/print';
import { findingOf } from '../../testing/merges';
import { judge, sightWords, viewingWords } from './judge';

const picture = { width: 6000, height: 4000 };
const fine = (rms: number): Finding['sight'] => ({
  ...{ bands: [{ cyclesPerPx: 0.17, rms, mask: 0 }], luma: 0.5, sizePx: 80, colour: 0 },
});

it('a print is as far away as its diagonal, and no nearer than a close look', () => {
  const print = viewingOf({ kind: 'print', longSideMm: 600, distanceMm: null }, picture);
  expect(print.pitchMm).toBeCloseTo(0.1, 9);
  expect(print.distanceMm).toBeCloseTo(Math.hypot(600, 400), 6);
  expect(viewingOf({ kind: 'print', longSideMm: 150, distanceMm: null }, picture).distanceMm).toBe(300);
  expect(viewingWords({ kind: 'print', longSideMm: 600, distanceMm: 1500 }, picture)).toBe(
    'as a print of 60 × 40 cm from 1.5 m',
  );
});

it('what is plain on a screen may not be seen in a print: it is counted, and stays when it was decided or marked by hand', () => {
  const findings = [
    findingOf('faint', { sight: fine(0.001) }),
    findingOf('plain', { sight: fine(0.2) }),
    findingOf('decided', { sight: fine(0.001), decision: 'accepted' }),
    findingOf('marked', { sight: fine(0.001), byHand: true }),
    findingOf('old', { severity: 55 }),
  ];
  const onScreen = judge(findings, { kind: 'screen' }, picture, false);
  expect([onScreen.unseen, onScreen.shown[0]!.id]).toEqual([0, 'plain']);
  const print = { kind: 'print', longSideMm: 600, distanceMm: null } as const;
  const { shown, unseen } = judge(findings, print, picture, false);
  expect([shown.map((f) => f.id).sort(), unseen]).toEqual([['decided', 'marked', 'old', 'plain'], 1]);
  expect(judge(findings, print, picture, true).shown).toHaveLength(5);
  // What was found before sights were kept keeps its figure.
  expect(shown.find((f) => f.id === 'old')!.severity).toBe(55);
});

it('with a limit on false alarms the least sure are held back, however visible; what was decided is neither counted nor held back', () => {
  const findings = [
    findingOf('surest', { severity: 30, confidence: 0.95 }),
    findingOf('sure', { severity: 40, confidence: 0.9 }),
    findingOf('unsure', { severity: 90, confidence: 0.6 }),
    findingOf('accepted', { severity: 50, confidence: 0.5, decision: 'accepted' }),
    findingOf('marked', { severity: 10, confidence: 0.5, byHand: true }),
  ];
  const shownAt = (falseAlarms: number | undefined) => {
    const settings = falseAlarms === undefined ? {} : { falseAlarms };
    const { shown, unsure, unseen } = judge(findings, { kind: 'screen', ...settings }, picture, false);
    return [shown.map((f) => f.id), unsure, unseen];
  };
  expect(shownAt(undefined)).toEqual([['unsure', 'accepted', 'sure', 'surest', 'marked'], 0, 0]);
  expect(shownAt(0.56)).toEqual([['unsure', 'accepted', 'sure', 'surest', 'marked'], 0, 0]);
  expect(shownAt(0.2)).toEqual([['accepted', 'sure', 'surest', 'marked'], 1, 0]);
  expect(shownAt(0.1)).toEqual([['accepted', 'surest', 'marked'], 2, 0]);
  expect(judge(findings, { kind: 'screen', falseAlarms: 0.1 }, picture, true).shown).toHaveLength(5);
});

it('the farther it is, the less is left of it; its farthest distance does not depend on where one stands', () => {
  const finding = findingOf('a', { sight: fine(0.02) });
  const at = (distanceMm: number) => sightWords(finding, { pitchMm: 0.25, distanceMm });
  const steps = [600, 1200, 2400].map((mm) => Number(at(mm)[0]![1]));
  expect(steps[0]).toBeGreaterThan(steps[1]!);
  expect(steps[1]).toBeGreaterThan(steps[2]!);
  expect(at(600)[1]).toEqual(at(2400)[1]);
  expect(at(600)[1]![1]).toMatch(/^\d+\.\d m$/);
  expect(sightWords(findingOf('b'), viewingOf({ kind: 'screen' }, picture))).toEqual([]);
});
