// Field arithmetic against independently computed values, and what must hold for any lens.
import fc from 'fast-check';
import {
  airyDiscMm,
  bracketFrames,
  breathing,
  measuredBreathing,
  canvasOf,
  circleOfConfusionMm,
  closeUpBlurMm,
  closeUpDepthMm,
  defocusBlurMm,
  effectiveFNumber,
  extendedMagnification,
  fieldOfViewDeg,
  framesAlong,
  hyperfocalMm,
  imageDistanceMm,
  longestExposureS,
  magnificationAt,
  motionBlurPx,
  nearLimitAtInfinityMm,
  parallaxPx,
  planRailSeries,
  recommendFNumber,
  sliceAt,
  sliceFromFar,
  sliceFromNear,
  totalBlurMm,
} from '.';

const optics = (focalLengthMm: number, fNumber: number, cocMm: number) => ({ focalLengthMm, fNumber, cocMm });

describe('depth of field', () => {
  it.each([
    [12, 11, 0.02, 654.5],
    [18, 9, 0.03, 1200],
  ])('%i mm at f/%i with %f mm at infinity is sharp from %f mm', (f, n, c, near) => {
    expect(nearLimitAtInfinityMm(optics(f, n, c))).toBeCloseTo(near, 1);
    expect(sliceAt(optics(f, n, c), Infinity).nearMm).toBeCloseTo(near, 1);
  });

  it('24 mm at f/8, 0.030 mm, focused at 1 m: hyperfocal, near and far limit, and the blur of a point at 400 mm', () => {
    const lens = optics(24, 8, 0.03);
    expect(hyperfocalMm(lens)).toBeCloseTo(2424, 1);
    expect(sliceAt(lens, 1000).nearMm).toBeCloseTo(710.9, 1);
    expect(sliceAt(lens, 1000).farMm).toBeCloseTo(1685.4, 1);
    expect(defocusBlurMm(24, 8, 1000, 400)).toBeCloseTo(0.1107, 4);
  });

  it.each([
    [100, 5.6, 0.03, 500, 496.66, 503.38],
    [50, 4, 0.02, 300, 297.62, 302.42],
  ])('%i mm at f/%f, %f mm, focused at %i mm: %f to %f mm', (f, n, c, s, near, far) => {
    const slice = sliceAt(optics(f, n, c), s);
    expect(slice.nearMm).toBeCloseTo(near, 2);
    expect(slice.farMm).toBeCloseTo(far, 2);
  });

  it.each([
    [8, 1, 0.64],
    [5.6, 2, 0.168],
    [4, 5, 0.0384],
  ])('close-up at f/%f and magnification %i: %f mm', (n, m, depth) => {
    expect(closeUpDepthMm(n, 0.02, m)).toBeCloseTo(depth, 4);
  });

  const lens = fc.record({
    focalLengthMm: fc.double({ min: 8, max: 300, noNaN: true }),
    fNumber: fc.double({ min: 1.4, max: 32, noNaN: true }),
    cocMm: fc.double({ min: 0.002, max: 0.05, noNaN: true }),
  });

  it('limits blur exactly by the accepted disc', () => {
    fc.assert(
      fc.property(lens, fc.double({ min: 1.5, max: 60, noNaN: true }), (l, times) => {
        const focusMm = l.focalLengthMm * times;
        const { nearMm, farMm } = sliceAt(l, focusMm);
        for (const mm of [nearMm, farMm].filter((d) => d !== Infinity)) {
          expect(defocusBlurMm(l.focalLengthMm, l.fNumber, focusMm, mm) / l.cocMm).toBeCloseTo(1, 6);
        }
      }),
    );
  });

  it('finds the slice again from its near or its far limit', () => {
    fc.assert(
      fc.property(lens, fc.double({ min: 1.5, max: 60, noNaN: true }), (l, times) => {
        const slice = sliceAt(l, Math.min(l.focalLengthMm * times, 0.99 * hyperfocalMm(l)));
        expect(sliceFromNear(l, slice.nearMm).focusMm / slice.focusMm).toBeCloseTo(1, 6);
        expect(sliceFromFar(l, slice.farMm).focusMm / slice.focusMm).toBeCloseTo(1, 6);
      }),
    );
  });
});

describe('blur and close-ups', () => {
  it('diffraction disc at effective f/16 is 21.5 µm, and f/8 at life size is such', () => {
    expect(effectiveFNumber(8, 1)).toBe(16);
    expect(airyDiscMm(16) * 1000).toBeCloseTo(21.5, 1);
  });

  it('close-up blur at the end of the depth of field is the accepted disc', () => {
    expect(closeUpBlurMm(5.6, 2, closeUpDepthMm(5.6, 0.02, 2, 1.3) / 2, 1.3)).toBeCloseTo(0.02, 10);
  });

  it('close-up blur agrees with the thin lens for a small offset at magnification 0.5', () => {
    const f = 60;
    const s = f * 3;
    expect(magnificationAt(f, s)).toBeCloseTo(0.5, 12);
    // The thin lens measures at the front principal plane: N there is the marked one, m² / (N(1+m)) holds with b = f·m·δ/(N·d).
    const exact = defocusBlurMm(f, 8, s, s + 0.01);
    expect(closeUpBlurMm(8, 0.5, 0.01) / exact).toBeCloseTo(1, 3);
  });

  it('adds in quadrature', () => {
    expect(totalBlurMm(0.003, 0.004, 0.012)).toBeCloseTo(0.013, 10);
  });

  it('tubes raise the magnification by their length over the focal length', () => {
    expect(extendedMagnification(0.5, 25, 50)).toBe(1);
  });

  it('a leaf at 0.2 m/s, 3 m away, 35 mm, 6 µm: 48.6, 13.0 and 1.56 px', () => {
    const leaf = { speedMmPerS: 200, distanceMm: 3000, focalLengthMm: 35, pixelPitchMm: 0.006 };
    expect(motionBlurPx(leaf, 1 / 8)).toBeCloseTo(48.6, 1);
    expect(motionBlurPx(leaf, 1 / 30)).toBeCloseTo(13, 1);
    expect(motionBlurPx(leaf, 1 / 250)).toBeCloseTo(1.56, 2);
    expect(motionBlurPx(leaf, longestExposureS(leaf, 2))).toBeCloseTo(2, 10);
    expect(longestExposureS({ ...leaf, speedMmPerS: 0 }, 2)).toBe(Infinity);
  });

  it('the accepted disc: two pixels, diagonal over 1500, or one arc minute on the print carried back', () => {
    const camera = { sensorWidthMm: 36, sensorHeightMm: 24, pixelsWide: 6000, pixelsHigh: 4000 };
    expect(circleOfConfusionMm(camera, { by: 'pixels', pixels: 2 })).toBeCloseTo(0.012, 10);
    expect(circleOfConfusionMm(camera, { by: 'diagonal' })).toBeCloseTo(0.02884, 5);
    // One arc minute at 600 mm is 0.1745 mm; a 720 mm print enlarges 36 mm twenty times.
    const print = { by: 'print', printWidthMm: 720, viewingDistanceMm: 600 } as const;
    expect(circleOfConfusionMm(camera, print)).toBeCloseTo(0.1745 / 20, 5);
  });

  it('recommends the smallest opening whose diffraction hides in the accepted blur, from f/4 to f/11', () => {
    const lens = { widestFNumber: 2.8, smallestFNumber: 22 };
    expect(recommendFNumber(0.012, 0, 1, lens)).toBe(8);
    expect(recommendFNumber(0.03, 0, 1, lens)).toBe(11);
    expect(recommendFNumber(0.004, 1, 1, lens)).toBe(4);
    expect(recommendFNumber(0.012, 0, 1, { widestFNumber: 16, smallestFNumber: 22 })).toBe(16);
  });
});

describe('breathing', () => {
  it.each([
    [100, 400, 500, 1.0667],
    [24, 500, Infinity, 1.0504],
  ])('%i mm from %f to %f mm: %f', (f, near, far, scale) => {
    const found = breathing(f, near, far);
    expect(found.scale).toBeCloseTo(scale, 4);
    expect(found.margin).toBeCloseTo(1 - 1 / scale, 4);
  });

  it('as measured: 1.2 % per dioptre from 0.25 m to 0.5 m is two dioptres, 2.4 %, whatever its sign', () => {
    expect(measuredBreathing(-1.2, 250, 500).scale).toBeCloseTo(Math.exp(0.024), 9);
    expect(measuredBreathing(1.2, 500, Infinity).margin).toBeCloseTo(1 - Math.exp(-0.024), 9);
    expect(() => measuredBreathing(1, 0, 500)).toThrow('more than 0 mm');
  });

  it('refuses a distance inside the focal length', () => {
    expect(() => imageDistanceMm(50, 40)).toThrow('distanceMm: expected more than the focal length of 50 mm');
  });
});

describe('angles, canvases and parallax', () => {
  it('200 mm on 36 mm sees 10.29°, 35 mm on 24 mm 37.85°', () => {
    expect(fieldOfViewDeg(36, 200)).toBeCloseTo(10.29, 2);
    expect(fieldOfViewDeg(24, 35)).toBeCloseTo(37.85, 2);
  });

  it('120° of 37.85° frames with 33 % overlap take 5; a full turn has no ends', () => {
    expect(framesAlong(120, 37.85, 0.33)).toBe(5);
    expect(framesAlong(360, 40, 0.25)).toBe(12);
    expect(framesAlong(30, 37.85, 0.33)).toBe(1);
  });

  it('frames cover the angle with at least the overlap, and one fewer would not', () => {
    const angle = fc.double({ min: 5, max: 350, noNaN: true });
    fc.assert(
      fc.property(
        angle,
        fc.double({ min: 5, max: 90, noNaN: true }),
        fc.double({ min: 0, max: 0.8, noNaN: true }),
        (wanted, frame, overlap) => {
          const n = framesAlong(wanted, frame, overlap);
          const reach = (count: number): number => frame + (count - 1) * frame * (1 - overlap);
          expect(reach(n)).toBeGreaterThanOrEqual(Math.min(wanted, reach(n)) - 1e-6);
          expect(reach(n)).toBeGreaterThan(wanted - 1e-4);
          if (n > 1) expect(reach(n - 1)).toBeLessThan(wanted + 1e-4);
        },
      ),
    );
  });

  it('120° at 35 mm and 6 µm are 12,217 px of arc on the cylinder; flat ends at 120°', () => {
    const focalPx = 35 / 0.006;
    expect(canvasOf('cylindrical', 120, 50, focalPx)!.width).toBeCloseTo(12_217, -1);
    expect(canvasOf('flat', 90, 50, focalPx)!.width).toBeCloseTo(2 * focalPx, 6);
    expect(canvasOf('flat', 121, 50, focalPx)).toBeNull();
    expect(canvasOf('spherical', 360, 180, focalPx)!.height).toBeCloseTo(Math.PI * focalPx, 6);
  });

  it('pupil 60 mm off, 20° turn, 2 m against infinity, 35 mm, 6 µm: 60.8 px; none about the pupil', () => {
    const turn = { turnDeg: 20, nearestMm: 2000, farthestMm: Infinity, focalLengthMm: 35, pixelPitchMm: 0.006 };
    expect(parallaxPx({ ...turn, pupilOffsetMm: 60 })).toBeCloseTo(60.8, 1);
    expect(parallaxPx({ ...turn, pupilOffsetMm: 0 })).toBe(0);
  });
});

describe('counts', () => {
  it('rail: step, frames and travel', () => {
    const series = planRailSeries(5, 0.64, 0.25);
    expect(series.stepMm).toBeCloseTo(0.48, 10);
    expect(series.frames).toBe(12);
    expect(series.travelMm).toBeCloseTo(5.28, 10);
    expect(planRailSeries(4.8, 0.64, 0.25).frames).toBe(11);
  });

  it('bracket: one frame when it holds the scene, else the rest in steps', () => {
    expect(bracketFrames(9, 10, 2)).toBe(1);
    expect(bracketFrames(16, 10, 2)).toBe(4);
    expect(bracketFrames(16.5, 10, 2)).toBe(5);
  });
});
