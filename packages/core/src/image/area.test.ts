// Marked areas as masks, against closed forms.
import fc from 'fast-check';
import { paintArea, type AreaShape, type Place } from '.';

const count = (shapes: readonly AreaShape[], w = 200, h = 150): number =>
  paintArea(shapes, w, h).data.reduce((s, v) => s + v, 0);

const square: AreaShape = {
  kind: 'polygon',
  corners: [
    [0.25, 0.2],
    [0.75, 0.2],
    [0.75, 0.8],
    [0.25, 0.8],
  ],
};

describe('paintArea', () => {
  it('fills a rectangle exactly, whichever way round its corners run', () => {
    expect(count([square])).toBe(100 * 90);
    expect(count([{ ...square, corners: [...square.corners].reverse() }])).toBe(100 * 90);
  });

  it('fills any triangle to within its outline of its area', () => {
    const place = fc.tuple(fc.double({ min: 0, max: 1, noNaN: true }), fc.double({ min: 0, max: 1, noNaN: true }));
    fc.assert(
      fc.property(place, place, place, (a, b, c) => {
        const [w, h] = [120, 120];
        const area = (Math.abs((b[0] - a[0]) * (c[1] - a[1]) - (c[0] - a[0]) * (b[1] - a[1])) / 2) * w * h;
        const length = (p: Place, q: Place): number => Math.hypot((p[0] - q[0]) * w, (p[1] - q[1]) * h);
        const outline = length(a, b) + length(b, c) + length(c, a);
        expect(Math.abs(count([{ kind: 'polygon', corners: [a, b, c] }], w, h) - area)).toBeLessThanOrEqual(
          outline + 1,
        );
      }),
    );
  });

  it('leaves a hole where a polygon crosses itself an even number of times', () => {
    const ring: AreaShape = {
      kind: 'polygon',
      corners: [
        [0.1, 0.1],
        [0.9, 0.1],
        [0.9, 0.9],
        [0.1, 0.9],
        [0.1, 0.1],
        [0.3, 0.3],
        [0.3, 0.7],
        [0.7, 0.7],
        [0.7, 0.3],
        [0.3, 0.3],
      ],
    };
    expect(paintArea([ring], 100, 100).data[50 * 100 + 50]).toBe(0);
    expect(paintArea([ring], 100, 100).data[20 * 100 + 50]).toBe(1);
  });

  it('covers a disc of π r² under a brush that is set down once, and a stadium along a stroke', () => {
    const r = 0.1 * 200;
    const dab = count([{ kind: 'brush', points: [[0.5, 0.5]], radius: 0.1 }]);
    expect(Math.abs(dab / (Math.PI * r * r) - 1)).toBeLessThan(0.02);
    const stroke = count([
      {
        kind: 'brush',
        points: [
          [0.3, 0.5],
          [0.7, 0.5],
        ],
        radius: 0.1,
      },
    ]);
    expect(Math.abs(stroke / (Math.PI * r * r + 2 * r * 80) - 1)).toBeLessThan(0.02);
  });

  it('is the union of its shapes, clipped to the picture', () => {
    const dab: AreaShape = { kind: 'brush', points: [[0, 0]], radius: 0.05 };
    expect(count([square, square])).toBe(count([square]));
    expect(count([square, dab])).toBe(count([square]) + count([dab]));
    expect(Math.abs(count([dab]) / ((Math.PI * 100) / 4) - 1)).toBeLessThan(0.1);
    expect(count([])).toBe(0);
  });

  it('names shapes that enclose nothing', () => {
    expect(() => paintArea([{ kind: 'polygon', corners: square.corners.slice(0, 2) }], 9, 9)).toThrow(
      'paintArea.shapes.0.corners.length: expected at least 3',
    );
    expect(() => paintArea([square, { kind: 'brush', points: [], radius: 1 }], 9, 9)).toThrow(
      'paintArea.shapes.1.points.length: expected at least 1',
    );
    expect(() => paintArea([{ kind: 'brush', points: [[0, 0]], radius: 0 }], 9, 9)).toThrow(
      'radius: expected more than 0',
    );
  });
});
