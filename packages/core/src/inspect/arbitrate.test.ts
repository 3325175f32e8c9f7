// Arbitration: who explains whom, by the table and by tables of our own.
import { arbitrate, CLAIMS, DEFECTS, DETECTORS, detectorOf, type Defect, type Detection } from '.';

const WIDTH = 100;

/** A detection over a box of cells. */
function box(defect: Defect, x: number, y: number, width: number, height: number): Detection {
  const cells = Array.from({ length: width * height }, (_, n) => (y + Math.floor(n / width)) * WIDTH + x + (n % width));
  const bbox = { x: 4 * x, y: 4 * y, width: 4 * width, height: 4 * height };
  return { defect, cells, bbox, polygon: [], confidence: 0.9, measurements: {} };
}
const words = (found: readonly Detection[]): string[] => found.map((d) => d.defect);

it('a part that no frame explains explains the softness and the halo at it, not those elsewhere', () => {
  const moved = box('misalignment', 10, 10, 20, 20);
  const near = [box('soft-patch', 12, 12, 10, 10), box('halo', 28, 10, 6, 20)];
  const far = [box('soft-patch', 60, 10, 10, 10), box('halo', 60, 40, 6, 20)];
  expect(arbitrate([moved, ...near, ...far], WIDTH)).toEqual([moved, ...far]);
});

it('a halo takes the softness of its edge, unless the soft patch is much larger and holds it', () => {
  const edge = box('halo', 10, 10, 4, 40);
  expect(words(arbitrate([edge, box('soft-patch', 9, 10, 5, 40)], WIDTH))).toEqual(['halo']);
  expect(words(arbitrate([edge, box('soft-patch', 5, 5, 40, 50)], WIDTH))).toEqual(['soft-patch']);
});

it('what a mask did is no missing slice', () => {
  const gap = box('focus-gap', 10, 10, 10, 10);
  for (const cause of ['misalignment', 'halo', 'soft-patch'] as const)
    expect(words(arbitrate([gap, box(cause, 8, 8, 14, 14)], WIDTH))).toEqual([cause]);
  expect(words(arbitrate([gap, box('halo', 60, 60, 9, 9)], WIDTH))).toEqual(['focus-gap', 'halo']);
});

it('who has given way claims nothing any more', () => {
  const claims = [
    { of: 'ghost', explains: 'seam', share: 0.5 },
    { of: 'seam', explains: 'border', share: 0.5 },
  ] as const;
  const all = [box('ghost', 10, 10, 9, 9), box('seam', 11, 11, 7, 7), box('border', 12, 12, 4, 4)];
  expect(words(arbitrate(all, WIDTH, claims))).toEqual(['ghost', 'border']);
  expect(words(arbitrate(all.slice(1), WIDTH, claims))).toEqual(['seam']);
});

it('the table names defects of the closed list, and nobody explains itself', () => {
  for (const { of, explains, share } of CLAIMS) {
    expect(DEFECTS).toEqual(expect.arrayContaining([of, explains]));
    expect([of === explains, share > 0 && share < 1]).toEqual([false, true]);
  }
});

describe('the registry', () => {
  it('has one detector for a defect, each with words for its cause and what to do', () => {
    expect(new Set(DETECTORS.map((d) => d.defect)).size).toBe(DETECTORS.length);
    const facts = {
      measurements: { frameBefore: { value: 0, unit: 'index' } },
      shown: 'f1',
      donor: 'f2',
      frames: ['f1', 'f2'],
    };
    for (const detector of DETECTORS) {
      expect(detector.cause(facts)).toMatch(/^[A-Z].*\.$/);
      expect(detector.cause(facts)).not.toMatch(/undefined|null/);
      expect(detector.advice).toMatch(/^[A-Z].*\.$/);
      expect(detector.kinds.length).toBeGreaterThan(0);
    }
  });

  it('names the defects that are found when another is asked for', () => {
    const known = DETECTORS.map((d) => d.defect);
    const unknown = DEFECTS.find((d) => !known.includes(d))!;
    expect(() => detectorOf(unknown)).toThrow(`detectorOf.defect: expected ${known.join(', ')}`);
  });

  it('tells where the series ends from where a slice lacks', () => {
    const gap = detectorOf('focus-gap');
    const at = (value: number) =>
      gap.cause({
        measurements: { frameBefore: { value, unit: 'index' } },
        shown: '',
        donor: '',
        frames: ['a', 'b', 'c'],
      });
    expect([at(-1), at(1), at(2)]).toEqual([
      expect.stringContaining('starts behind this place'),
      expect.stringContaining('between b and c was never shot'),
      expect.stringContaining('ends before this place'),
    ]);
  });
});
