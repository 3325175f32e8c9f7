// Similarities: there and back, composed, as boxes.
import fc from 'fast-check';
import {
  applySimilarity,
  composeSimilarity,
  invertSimilarity,
  mapRegion,
  matrixSimilarity,
  similarityMatrix,
  type Similarity,
} from '.';

const similarity = fc.record({
  re: fc.double({ min: 0.3, max: 3, noNaN: true }),
  im: fc.double({ min: -0.5, max: 0.5, noNaN: true }),
  tx: fc.double({ min: -500, max: 500, noNaN: true }),
  ty: fc.double({ min: -500, max: 500, noNaN: true }),
});
const coordinate = fc.double({ min: -3000, max: 3000, noNaN: true });

describe('similarities', () => {
  it('undo themselves', () => {
    fc.assert(
      fc.property(similarity, coordinate, coordinate, (s, x, y) => {
        const [bx, by] = applySimilarity(composeSimilarity(invertSimilarity(s), s), x, y);
        expect(Math.hypot(bx - x, by - y)).toBeLessThan(1e-6);
      }),
      { seed: 1 },
    );
  });

  it('compose like applying one after the other, and survive their matrix', () => {
    fc.assert(
      fc.property(similarity, similarity, coordinate, coordinate, (p, q, x, y) => {
        const direct = applySimilarity(p, ...applySimilarity(q, x, y));
        const composed = applySimilarity(matrixSimilarity(similarityMatrix(composeSimilarity(p, q))), x, y);
        expect(composed[0]).toBeCloseTo(direct[0], 5);
        expect(composed[1]).toBeCloseTo(direct[1], 5);
      }),
      { seed: 2 },
    );
  });

  it('map a region to a box that holds all its points', () => {
    const s: Similarity = { re: 1.1, im: 0.2, tx: -30, ty: 12 };
    const box = mapRegion(s, { x: 5, y: 7, width: 40, height: 20 }, 0);
    for (const [x, y] of [
      [5, 7],
      [45, 27],
      [20, 20],
    ] as const) {
      const [px, py] = applySimilarity(s, x, y);
      expect(px >= box.x && py >= box.y && px <= box.x + box.width && py <= box.y + box.height).toBe(true);
    }
  });

  it('refuse to invert a scale of zero', () => {
    expect(() => invertSimilarity({ re: 0, im: 0, tx: 1, ty: 1 })).toThrow(
      'invertSimilarity.s: expected a scale above 0',
    );
  });
});
