// What the eye sees, against what is known of eyes.
import { contrastSensitivity, farthestSeen, noticeableSteps, ON_SCREEN, visibilityOf, type Sight } from '.';

describe('contrast sensitivity', () => {
  it('is the published curve: worked by hand at 4 cycles per degree, 100 cd/m², a field of 10°', () => {
    // exp(−0.0016·16·2^0.08) = exp(−0.02706) = 0.97330; 1 + 1.44 + 10.24 = 12.68; 63/45.709 = 1.37829; 1/(1 − e^−0.32) = 3.65130.
    expect(contrastSensitivity(4)).toBeCloseTo((5200 * 0.9733) / Math.sqrt(12.68 * (1.37829 + 3.6513)), 0);
  });

  it('peaks at some 2 to 5 cycles per degree, and ends at about 50', () => {
    const curve = Array.from({ length: 60 }, (_, k) => contrastSensitivity(k + 1));
    const peak = 1 + curve.indexOf(Math.max(...curve));
    expect(peak).toBeGreaterThanOrEqual(2);
    expect(peak).toBeLessThanOrEqual(5);
    expect(contrastSensitivity(50)).toBeLessThan(5);
    expect(contrastSensitivity(60)).toBeLessThan(1);
  });

  it('falls with darkness and with small fields', () => {
    expect(contrastSensitivity(4, 1)).toBeLessThan(0.6 * contrastSensitivity(4, 100));
    expect(contrastSensitivity(4, 100, 1)).toBeLessThan(0.4 * contrastSensitivity(4, 100, 10));
    expect(() => contrastSensitivity(0)).toThrow('cyclesPerDegree');
  });
});

const sight = (part: Partial<Sight> = {}): Sight => ({
  bands: [{ cyclesPerPx: 0.17, rms: 0.01, mask: 0 }],
  luma: 0.5,
  sizePx: 60,
  colour: 0,
  ...part,
});
const steps = (part: Partial<Sight> = {}, viewing = ON_SCREEN): number => noticeableSteps(sight(part), viewing);

describe('noticeable steps', () => {
  it('grow with the difference, hide in texture, and need some size', () => {
    const twice = steps({ bands: [{ cyclesPerPx: 0.17, rms: 0.02, mask: 0 }] });
    expect(twice / steps()).toBeCloseTo(2, 5);
    expect(steps({ bands: [{ cyclesPerPx: 0.17, rms: 0.01, mask: 0.05 }] })).toBeLessThan(0.4 * steps());
    expect(steps({ sizePx: 6 })).toBeLessThan(0.5 * steps());
  });

  it('of a grating at its threshold are one', () => {
    const pxDeg = (Math.atan(0.25 / 600) * 180) / Math.PI;
    const threshold = 1 / contrastSensitivity(0.1 / pxDeg, 100, 200 * pxDeg);
    // Encoded amplitude that makes this contrast at a luma of 0.5: light 0.2140, veil 0.01, slope 2.4/1.055·(0.555/1.055)^1.4 = 0.9257.
    const amplitude = (threshold * (0.21404 + 0.01)) / 0.92573;
    expect(steps({ bands: [{ cyclesPerPx: 0.1, rms: amplitude / Math.SQRT2, mask: 0 }], sizePx: 200 })).toBeCloseTo(
      1,
      2,
    );
  });

  it('count a difference of tone alone, where it is large enough to be compared', () => {
    expect(steps({ bands: [], colour: 3, sizePx: 200 })).toBeCloseTo(3, 5);
    expect(steps({ bands: [], colour: 3, sizePx: 10 })).toBeLessThan(1);
  });
});

describe('visibility', () => {
  it('is 20 at one step, 50 at four, 100 at twelve and more, and never falls', () => {
    expect([0, 1, 4, 12, 40].map(visibilityOf)).toEqual([0, 20, 50, 100, 100]);
    const many = Array.from({ length: 200 }, (_, k) => visibilityOf(k / 12));
    expect(many.every((v, k) => k === 0 || v >= many[k - 1]!)).toBe(true);
  });
});

describe('the farthest distance', () => {
  it('is where one step is left, whatever the way there', () => {
    const far = farthestSeen(sight(), 0.1);
    expect(noticeableSteps(sight(), { pitchMm: 0.1, distanceMm: far })).toBeCloseTo(1, 1);
    expect(noticeableSteps(sight(), { pitchMm: 0.1, distanceMm: 1.05 * far })).toBeLessThan(1);
  });

  it('scales with the print, and is 0 for what nobody sees', () => {
    expect(farthestSeen(sight(), 0.2) / farthestSeen(sight(), 0.1)).toBeCloseTo(2, 1);
    expect(farthestSeen(sight({ bands: [{ cyclesPerPx: 0.3, rms: 1e-5, mask: 0 }] }), 0.1)).toBe(0);
  });
});
