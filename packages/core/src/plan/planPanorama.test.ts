// Panoramas: check values, coverage, parallax, and what is refused by name.
import fc from 'fast-check';
import { hasErrors, planPanorama, type PanoramaRequest } from '.';
import { messagesOf, panorama } from '../testing/plans';

describe('planPanorama', () => {
  it('35 mm portrait, 120° with 33 %: 5 frames of 37.85°, 12,217 px of arc', () => {
    const { plan } = planPanorama(panorama);
    expect([plan!.columns, plan!.rows]).toEqual([5, 1]);
    expect(plan!.frameDeg[0]).toBeCloseTo(37.85, 2);
    expect(plan!.canvas.width).toBe(12_217);
    expect(plan!.heads[0]!.yawDeg).toBeCloseTo(-(120 - 37.85) / 2, 2);
    expect(plan!.trueOverlap[0]).toBeGreaterThanOrEqual(0.33);
  });

  it('from a print backwards: the focal length whose canvas is as wide as the print', () => {
    const { plan } = planPanorama({ ...panorama, from: 'print', printWidthMm: 2032, ppi: 300 });
    expect(plan!.canvas.width).toBe(24_000);
    expect(plan!.canvas.printWidthMm).toBeCloseTo(2032, 0);
    expect(plan!.focalLengthMm).toBeCloseTo((24_000 * 0.006) / ((120 * Math.PI) / 180), 3);
  });

  it('rows look up and down, and every direction of the wanted angle is in some frame', () => {
    const { plan } = planPanorama({ ...panorama, orientation: 'landscape', verticalDeg: 100, projection: 'spherical' });
    expect(plan!.rows).toBe(4);
    const high = Math.floor(plan!.cleanVerticalDeg / 2);
    expect(high).toBeGreaterThan(40);
    const tanX = 18 / 35;
    const tanY = 12 / 35;
    const seen = (yaw: number, pitch: number): boolean =>
      plan!.heads.some(({ yawDeg, pitchDeg }) => {
        const rad = Math.PI / 180;
        const [x, y, z] = [
          Math.cos(pitch) * Math.sin(yaw - yawDeg * rad),
          Math.sin(pitch),
          Math.cos(pitch) * Math.cos(yaw - yawDeg * rad),
        ];
        const t = pitchDeg * rad;
        const forward = z * Math.cos(t) + y * Math.sin(t);
        return (
          forward > 0 &&
          Math.abs(x / forward) <= tanX + 1e-6 &&
          Math.abs((y * Math.cos(t) - z * Math.sin(t)) / forward) <= tanY + 1e-6
        );
      });
    let unseen = 0;
    for (let yaw = -60; yaw <= 60; yaw += 2) {
      for (let pitch = -high; pitch <= high; pitch += 2)
        if (!seen((yaw * Math.PI) / 180, (pitch * Math.PI) / 180)) unseen += 1;
    }
    expect(unseen).toBe(0);
  });

  it('judges parallax and says how near the pupil must be', () => {
    const off = planPanorama({ ...panorama, pupilOffsetMm: 60 });
    expect(off.plan!.parallax).toBe('breaks-edges');
    expect(messagesOf(off)[0]).toContain('warning pupilOffsetMm');
    const near = planPanorama({ ...panorama, pupilOffsetMm: off.plan!.allowedOffsetMm });
    expect(near.plan!.parallaxPx).toBeCloseTo(0.5, 6);
    expect(planPanorama(panorama).plan!.parallax).toBe('unseen');
  });

  it('a bracket at each direction multiplies frames and time', () => {
    const { plan } = planPanorama({ ...panorama, exposuresEach: 3 });
    expect(plan!.frames).toBe(15);
    expect(plan!.timeS).toBeCloseTo(15 * (1 / 60 + 3), 6);
  });

  it.each<[string, Partial<PanoramaRequest>, string]>([
    [
      'a flat picture of 130°',
      { projection: 'flat', horizontalDeg: 130 },
      'error projection: flat perspective: 130° across. Up to 120° is accepted',
    ],
    ['an overlap of 120 %', { overlap: 1.2 }, 'error overlap: overlap: 120 %.'],
    ['400°', { horizontalDeg: 400 }, 'error horizontalDeg: angle across: 400°. From 1 to 360° is accepted.'],
    ['4,000 frames', { focalLengthMm: 800 }, 'error focalLengthMm: This takes'],
    ['a print of a thumbnail', { from: 'print', printWidthMm: 1 }, 'error printWidthMm: print width: 1 mm.'],
  ])('refuses %s at its field', (_, over, words) => {
    const answer = planPanorama({ ...panorama, ...over });
    expect(answer.plan).toBeNull();
    expect(messagesOf(answer).find((m) => m.startsWith('error'))).toContain(words);
  });

  it('for any numbers at all: finite figures or named errors', () => {
    const any = fc.oneof(fc.double(), fc.double({ min: 0, max: 400, noNaN: true }));
    const over = fc.record(
      {
        horizontalDeg: any,
        verticalDeg: any,
        focalLengthMm: any,
        overlap: fc.oneof(any, fc.double({ min: 0, max: 1, noNaN: true })),
        pupilOffsetMm: any,
        nearestMm: any,
        printWidthMm: any,
        from: fc.constantFrom('lens' as const, 'print' as const),
        projection: fc.constantFrom(
          'flat' as const,
          'cylindrical' as const,
          'spherical' as const,
          'repositioned' as const,
        ),
      },
      { requiredKeys: [] },
    );
    fc.assert(
      fc.property(over, (o) => {
        const { plan, problems } = planPanorama({ ...panorama, ...o });
        expect(plan === null).toBe(hasErrors(problems));
        if (!plan) return;
        const figures = [
          plan.canvas.width,
          plan.canvas.height,
          plan.parallaxPx,
          plan.turnDeg,
          plan.timeS,
          plan.allowedOffsetMm,
          plan.cleanVerticalDeg,
        ];
        expect(figures.every(Number.isFinite)).toBe(true);
      }),
      { numRuns: 400 },
    );
  });
});
