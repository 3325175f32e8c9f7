// Readings in words.
import type { Reading } from '@blendrak/contract';
import { onPicture } from './usePins';
import { figuresOf, verdictOn } from './readingWords';

const names = ['a.jpg', 'b.jpg', 'c.jpg'];
const whole = { offsetPx: 0.02, kinkDeg: 0.01, errorPx: 0.02 };
const line = (breaks: Extract<Reading, { kind: 'line' }>['breaks']): Reading => ({
  ...{ kind: 'line', merge: [0, 0], frames: [], spacingPx: 1, breaks },
});
const measure = (grain: number) => ({ colour: [0.5, 0.5, 0.5] as [number, number, number], grain, detail: 0.01 });
const pair = (difference: number, grain = 0.01) => ({ from: measure(0.01), to: measure(grain), difference });

it('a segment drawn beyond the picture ends at its edge', () => {
  const pin = { kind: 'line' as const, from: [-5, 20] as [number, number], to: [130, 90] as [number, number] };
  expect(onPicture(pin, { width: 120, height: 80 })).toEqual({ kind: 'line', from: [0, 20], to: [120, 80] });
});

it('a broken line is told by its worst border, whole ones by what they cross', () => {
  const broken = { at: 40, border: [0, 1] as [number, number], isBroken: true };
  const small = { ...broken, merge: { ...whole, offsetPx: 0.5 }, frame: null };
  const large = {
    ...broken,
    border: [1, 2] as [number, number],
    merge: { ...whole, offsetPx: -1.84 },
    frame: { ...whole, index: 1 },
  };
  expect(verdictOn(line([small, large]), names)).toBe('Broken where b.jpg meets c.jpg: 1.8 px aside, turned by 0.0°.');
  expect(figuresOf(line([large]), names)).toEqual([
    ['At 40 px, 2 | 3', 'broken'],
    ['offset, kink', '−1.84 px, +0.0°'],
    ['in b.jpg', '+0.02 px, +0.0°'],
  ]);
  expect(verdictOn(line([{ ...small, isBroken: false }]), names)).toContain('across every border');
  expect(verdictOn(line([]), names)).toContain('no border');
  expect(verdictOn({ ...line([]), merge: [0, null, null, 0] } as Reading, names)).toContain('over 50 % of the way');
});

it('an edge says which band it has that a frame has not', () => {
  const shape = { before: 0.2, after: 0.6, widthPx: 3, at: 20 };
  const edge: Reading = {
    ...{ kind: 'edge', merge: [], frames: [], spacingPx: 1, shape },
    sharpest: { frame: 2, shape: { ...shape, widthPx: 2.6 } },
    bands: [{ side: 'before', heightPercent: -12, widthPx: 7 }],
  };
  expect(verdictOn(edge, names)).toBe('A darker band beside the edge that c.jpg has not.');
  expect(figuresOf(edge, names)).toContainEqual(['Band before the edge', '−12 % of the step, 7 px']);
  expect(verdictOn({ ...edge, bands: [] }, names)).toBe('No band beside the edge that c.jpg has not.');
  expect(verdictOn({ ...edge, sharpest: null }, names)).toContain('nothing to compare');
});

it('both sides of a seam: only the step that no frame has is the merge’s', () => {
  const patch = (ownStep: number[]): Reading => ({
    ...{ kind: 'patch', sidePx: 31, merge: pair(4, 0.02) },
    frames: ownStep.map((own, frame) => ({ frame, pair: pair(0.4), ownStep: own })),
  });
  expect(verdictOn(patch([3.6, 3.2]), names)).toContain('3.2 ΔE00 that no frame has');
  expect(verdictOn(patch([3.6, 0.2]), names)).toContain('as they do in the scene');
  expect(verdictOn(patch([]), names)).toContain('No frame covers both');
  expect(figuresOf(patch([3]), names)).toContainEqual(['Grain, from | to', '1.0 % | 2.0 % (2.0 ×)']);
});
