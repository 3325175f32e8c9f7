// Finish: the crop under the pointer, shapes, and whether a picture can be printed, against arithmetic by hand.
import { findingOf } from '../../testing/merges';
import { aspectOf, costWords } from './CutForm';
import { cornersOnPicture, draggedCrop, gripAt } from './cutTool';
import { printAnswer, printedSize, reaching } from './printWords';

const picture = { width: 1200, height: 800 };
const crop = { x: 100, y: 100, width: 600, height: 400 };

describe('the crop under the pointer', () => {
  it('is taken by its corners, else by its inside', () => {
    expect(gripAt(crop, 104, 97, 10)).toBe('upper-left');
    expect(gripAt(crop, 695, 505, 10)).toBe('lower-right');
    expect(gripAt(crop, 400, 300, 10)).toBe('inside');
    expect(gripAt(crop, 50, 300, 10)).toBeNull();
  });

  it('moves as far as the picture goes, at whole px', () => {
    expect(draggedCrop(picture, 0, crop, 'inside', 30.4, -20.6, null)).toEqual({ ...crop, x: 130, y: 79 });
    const far = draggedCrop(picture, 0, crop, 'inside', 5000, 0, null);
    expect(far.x).toBeGreaterThanOrEqual(598);
    expect(far.x + far.width).toBeLessThanOrEqual(1200);
  });

  it('grows by a corner, the one across from it staying where it is; of a shape it keeps it', () => {
    expect(draggedCrop(picture, 0, crop, 'upper-left', -40, -20, null)).toEqual({
      x: 60,
      y: 80,
      width: 640,
      height: 420,
    });
    const shaped = draggedCrop(picture, 0, crop, 'lower-right', 90, 0, 1.5);
    expect([shaped.x, shaped.y, shaped.width, shaped.height]).toEqual([100, 100, 690, 460]);
    expect(draggedCrop(picture, 0, crop, 'lower-right', -5000, -5000, null)).toMatchObject({ width: 64, height: 64 });
  });

  it('stays within a picture that is turned', () => {
    const inner = { x: 200, y: 200, width: 600, height: 300 };
    const moved = draggedCrop(picture, 5, inner, 'inside', -400, -400, null);
    for (const [x, y] of cornersOnPicture(picture, 5, moved)) {
      expect(x).toBeGreaterThan(-0.01);
      expect(y).toBeGreaterThan(-0.01);
    }
    expect(moved.x).toBeLessThan(200);
  });
});

it('shapes are told by two numbers; others are none', () => {
  expect([aspectOf('any', ''), aspectOf('3:2', ''), aspectOf('own', '3 : 1'), aspectOf('own', '2.35')]).toEqual([
    null,
    1.5,
    3,
    2.35,
  ]);
  expect([aspectOf('own', ''), aspectOf('own', 'wide'), aspectOf('own', '100:1')]).toEqual([NaN, NaN, NaN]);
});

it('what a crop costs is said of the picture and of the subject', () => {
  expect(costWords({ ofPicture: 0, ofSubject: null })).toBe('Nothing is cut off.');
  expect(costWords({ ofPicture: 0.043, ofSubject: 0 })).toBe('4.3 % of the picture is cut off, none of it subject.');
  expect(costWords({ ofPicture: 0.25, ofSubject: 0.08 })).toBe(
    '25 % of the picture is cut off, and 8.0 % of the subject.',
  );
});

describe('the print', () => {
  const print = (longSideMm: number, distanceMm: number | null = null) => ({
    kind: 'print' as const,
    longSideMm,
    distanceMm,
  });

  // By hand: px over inches; what the eye tells apart at a distance d is 25.4 / (d · tan 1′) px to the inch.
  it.each([
    [6000, 600, null, 254, 121, true],
    [6000, 600, 300, 254, 291, true],
    [6000, 1500, null, 102, 48, true],
    [4000, 400, 400, 254, 218, true],
    [3000, 900, null, 85, 81, false],
    [2000, 600, null, 85, 121, false],
    [8000, 400, 300, 508, 291, true],
    [12000, 3000, 2000, 102, 44, true],
    [6000, 200, 300, 762, 291, true],
    [1200, 300, 300, 102, 291, true],
  ])(
    'of %d px, %d mm wide, seen from %s mm: %d px to the inch, of which the eye tells %d apart',
    (px, side, distance, ppi, useful, fits) => {
      const answer = printAnswer({ width: px, height: (px * 2) / 3 }, print(side, distance), []);
      const [, shownPpi, shownUseful] = /are (\d+) px to the inch.* tells (\d+) apart/.exec(answer.reasons[0]!)!;
      expect(Number(shownPpi)).toBe(ppi);
      expect(Math.abs(Number(shownUseful) - useful)).toBeLessThanOrEqual(1);
      expect(answer.isFit).toBe(fits);
    },
  );

  it('waits for what shows from there, and for nothing else', () => {
    const sight = { bands: [{ cyclesPerPx: 0.1, rms: 0.05, mask: 0 }], luma: 0.5, sizePx: 80, colour: 0 };
    const faint = { ...sight, bands: [{ cyclesPerPx: 0.1, rms: 0.0004, mask: 0 }] };
    const of = (part: Parameters<typeof findingOf>[1]) =>
      printAnswer({ width: 6000, height: 4000 }, print(600), [findingOf('a', part)]);
    expect(of({ sight }).title).toBe('Not yet for 60 × 40 cm: something shows');
    expect(of({ sight, decision: 'accepted' }).isFit).toBe(false);
    expect(of({ sight, decision: 'repaired' }).title).toBe('Can be printed 60 × 40 cm');
    expect(of({ sight: faint }).isFit).toBe(true);
    const [far] = reaching([findingOf('a', { sight })], 0.1);
    expect(far!.farMm).toBeGreaterThan(1000);
    expect(reaching([findingOf('a', { decision: 'repaired' }), findingOf('b', { sight: null })], 0.1)).toEqual([
      { finding: expect.objectContaining({ id: 'b' }) as unknown, farMm: null },
    ]);
  });

  it('is of the crop where there is one', () => {
    expect(printedSize(picture, { turnDeg: 0, crop: null })).toBe(picture);
    expect(printedSize(picture, { turnDeg: 1, crop })).toBe(crop);
  });
});
