// Straightening and cropping, against closed forms and counts by hand.
import { cropCost, largestCrop, leanOf, liesWithin, tiltOf, turnedPlace, type Edge } from '.';

const size = { width: 1200, height: 800 };
const free = { turnDeg: 0, aspect: null, blocked: [] };
const area = ({ width, height }: { width: number; height: number }): number => width * height;

describe('a turn', () => {
  it('keeps the middle, turns clockwise as seen, and back is where it was', () => {
    const turned = turnedPlace(size, 10);
    expect(turned(600, 400)).toEqual([600, 400]);
    // What lay to the right of the middle lies lower afterwards.
    const [x, y] = turned(1000, 400);
    expect([x, y].map((v) => Math.round(v * 1000) / 1000)).toEqual([
      Math.round((600 + 400 * Math.cos(Math.PI / 18)) * 1000) / 1000,
      Math.round((400 + 400 * Math.sin(Math.PI / 18)) * 1000) / 1000,
    ]);
    const [bx, by] = turnedPlace(size, -10)(x, y);
    expect([bx, by].map((v) => Math.round(v * 1e6) / 1e6)).toEqual([1000, 400]);
  });

  it('of more than 20° is refused', () => {
    expect(() => turnedPlace(size, 21)).toThrow('turnPicture.turnDeg: expected -20 to 20°, received 21');
  });
});

describe('the largest crop', () => {
  it('of a straight picture without faults is the picture', () => {
    expect(largestCrop(size, free)).toEqual({ x: 0, y: 0, width: 1200, height: 800 });
  });

  // The largest upright rectangle in a turned one, in closed form: for a turn t with the short side limiting (s ≤ 2 sin cos · l)
  // it is s/(2 sin t) by s/(2 cos t); else from the two equations w cos t + h sin t = W, w sin t + h cos t = H.
  it.each([1, 3, 7.5, -4])('of a picture turned by %d° is that of the closed form to 1 %', (turnDeg) => {
    const t = (Math.abs(turnDeg) * Math.PI) / 180;
    const [cos, sin] = [Math.cos(t), Math.sin(t)];
    const across = cos * cos - sin * sin;
    const want =
      800 <= 2 * sin * cos * 1200
        ? (800 / (2 * sin)) * (800 / (2 * cos))
        : ((1200 * cos - 800 * sin) / across) * ((800 * cos - 1200 * sin) / across);
    const crop = largestCrop(size, { ...free, turnDeg })!;
    expect(liesWithin(size, turnDeg, crop)).toBe(true);
    expect(area(crop) / want).toBeGreaterThan(0.98);
    expect(area(crop) / want).toBeLessThan(1.001);
  });

  it('keeps clear of what is to be cut off, at the edges and within', () => {
    const strip = [[0, 780], [1200, 780], [1200, 800], [0, 800]] as const; // prettier-ignore
    expect(largestCrop(size, { ...free, blocked: [strip] })).toEqual({ x: 0, y: 0, width: 1200, height: 780 });
    const spot = [[290, 300], [310, 300], [310, 320], [290, 320]] as const; // prettier-ignore
    expect(largestCrop(size, { ...free, blocked: [spot] })).toEqual({ x: 310, y: 0, width: 890, height: 800 });
  });

  it.each([1, 3 / 2, 16 / 9, 4 / 5])('of a shape %d has it, is clean, and no larger one fits', (aspect) => {
    const blocked = [[[0, 0], [100, 0], [100, 800], [0, 800]]] as const; // prettier-ignore
    const crop = largestCrop(size, { turnDeg: 0, aspect, blocked })!;
    expect(crop.width / crop.height).toBeCloseTo(aspect, 2);
    expect(crop.x).toBeGreaterThanOrEqual(100);
    const want = Math.min(1100, 800 * aspect);
    expect(Math.abs(crop.width - want)).toBeLessThanOrEqual(3);
  });

  it('of a picture that is blocked all over is none; a shape that is a line is refused', () => {
    expect(largestCrop(size, { ...free, blocked: [[[0, 0], [1200, 0], [1200, 800], [0, 800]]] })).toBeNull(); // prettier-ignore
    expect(() => largestCrop(size, { ...free, aspect: 50 })).toThrow(
      'largestCrop.aspect: expected 0.05 to 20, received 50',
    );
  });
});

describe('the cost of a crop', () => {
  it('is the share of the picture, and of the subject where one was marked', () => {
    const crop = { x: 0, y: 0, width: 600, height: 800 };
    const square = (x0: number, x1: number) => ({
      kind: 'polygon' as const,
      corners: [[x0, 0.25], [x1, 0.25], [x1, 0.75], [x0, 0.75]] as const, // prettier-ignore
    });
    expect(cropCost(size, 0, crop, [])).toEqual({ ofPicture: 0.5, ofSubject: null });
    expect(cropCost(size, 0, crop, [square(0.1, 0.4)]).ofSubject).toBe(0);
    expect(cropCost(size, 0, crop, [square(0.4, 0.8)]).ofSubject).toBeCloseTo(0.75, 2);
  });
});

describe('the lean', () => {
  const along = (deg: number, length: number): Edge => {
    const t = (deg * Math.PI) / 180;
    return [100, 100, 100 + length * Math.cos(t), 100 + length * Math.sin(t)];
  };

  it('of an edge is told from the nearer axis, clockwise above 0, whichever way it is drawn', () => {
    expect(leanOf(along(2, 300))).toBeCloseTo(2, 9);
    expect(leanOf(along(182, 300))).toBeCloseTo(2, 9);
    expect(leanOf(along(91.5, 300))).toBeCloseTo(1.5, 9);
    expect(leanOf(along(-88, 300))).toBeCloseTo(2, 9);
    expect(() => leanOf([5, 5, 5, 5])).toThrow('two different ends');
  });

  it('of a picture is what most edges agree on; the turn takes it back', () => {
    const edges = [along(1.8, 900), along(92, 400), along(2.1, 300), along(-6, 500), along(40, 2000)];
    const tilt = tiltOf(edges)!;
    expect(tilt.turnDeg).toBeCloseTo(-(1.8 * 900 + 2 * 400 + 2.1 * 300) / 1600, 3);
    expect([tilt.edges, tilt.share]).toEqual([3, 1600 / 2100]);
    expect(tiltOf([along(0.02, 800), along(90.01, 700)])!.turnDeg).toBeCloseTo(-0.015, 2);
  });

  it('is not told where edges do not agree, or are too few', () => {
    expect(tiltOf([along(1, 500), along(-3, 500), along(6, 500), along(-8, 500)])).toBeNull();
    expect(tiltOf([along(1, 500)])).toBeNull();
    expect(tiltOf([])).toBeNull();
  });
});
