// Measuring a camera's focus step against steps that are known.
import { calibrateFromDistances, calibrateStep, imageDistanceMm } from '.';

describe('calibrateStep', () => {
  const optics = { focalLengthMm: 100, fNumber: 8, cocMm: 0.012 };
  const distances = (stepDioptres: number, frames = 8): number[] =>
    Array.from({ length: frames }, (_, k) => 1 / (1 / 500 - (k * stepDioptres) / 1000));
  const scales = (mm: readonly number[]): number[] =>
    mm.map((s) => imageDistanceMm(100, s) / imageDistanceMm(100, mm[0]!));

  it('finds the step from the scales of a unit-focusing lens', () => {
    const mm = distances(0.02);
    const found = calibrateStep(scales(mm), optics, 500);
    expect(found.stepDioptres).toBeCloseTo(0.02, 9);
    expect(found.errorDioptres).toBeLessThan(1e-9);
    found.focusMm.forEach((s, k) => expect(s).toBeCloseTo(mm[k]!, 4));
  });

  it('agrees with what the frames say of themselves, and tells the share of a slice', () => {
    const mm = distances(0.02);
    const slice = 1 / 600;
    const found = calibrateFromDistances(mm, optics);
    expect(found.stepDioptres).toBeCloseTo(0.02, 9);
    // A slice spans 2·N·c·(1/f − 1/s)/f, near enough, in inverse mm.
    expect(found.fraction).toBeCloseTo(0.02e-3 / ((2 * 8 * 0.012 * (1 / 100 - slice)) / 100), 1);
  });

  it('says how sure it is: the true step lies within three errors under a scale noise of 1e-5', () => {
    let seed = 7;
    const noise = (): number => {
      seed = (seed * 16807) % 2147483647;
      return seed / 2147483647 - 0.5;
    };
    const noisy = scales(distances(0.02, 15)).map((s) => s * (1 + 3.5e-5 * noise()));
    const found = calibrateStep(noisy, optics, 500);
    expect(found.errorDioptres).toBeGreaterThan(1e-6);
    expect(Math.abs(found.stepDioptres - 0.02)).toBeLessThan(3 * found.errorDioptres);
  });

  it('two frames leave the error unknown; one is refused', () => {
    expect(calibrateStep(scales(distances(0.02, 2)), optics, 500).errorDioptres).toBe(Infinity);
    expect(() => calibrateStep([1], optics, 500)).toThrow('at least 2 frames');
  });
});
