// Focus stacks: check values, what must hold for any request, and what is refused by name.
import fc from 'fast-check';
import { blurAtPx, findGaps, hasErrors, overlapOf, planFocusSeries, planFocusStack, type FocusRequest } from '.';
import { focus, messagesOf } from '../testing/plans';

describe('planFocusSeries', () => {
  const range = (nearestMm: number, farthestMm: number) => ({ nearestMm, farthestMm });

  it('16 mm, f/8, 0.020 mm, 300 mm to infinity, 20 %: 365.5, 565.0, 1268.5 mm and infinity', () => {
    const slices = planFocusSeries({ focalLengthMm: 16, fNumber: 8, cocMm: 0.02 }, range(300, Infinity), 0.2)!;
    expect(slices.map((s) => Number(s.focusMm.toFixed(1)))).toEqual([365.5, 565, 1268.5, Infinity]);
  });

  it('the same at f/11: 398.7, 854.5 mm and infinity', () => {
    const slices = planFocusSeries({ focalLengthMm: 16, fNumber: 11, cocMm: 0.02 }, range(300, Infinity), 0.2)!;
    expect(slices.map((s) => Number(s.focusMm.toFixed(1)))).toEqual([398.7, 854.5, Infinity]);
  });

  it.each([
    [24, 8, 0.03, 500, Infinity, 0.2, 3],
    [100, 5.6, 0.02, 400, 500, 0.3, 41],
  ])('%i mm, f/%f, %f mm from %i to %f mm, overlap %f: %i frames', (f, n, c, near, far, overlap, frames) => {
    expect(planFocusSeries({ focalLengthMm: f, fNumber: n, cocMm: c }, range(near, far), overlap)).toHaveLength(frames);
  });

  const optics = fc.record({
    focalLengthMm: fc.double({ min: 10, max: 120, noNaN: true }),
    fNumber: fc.double({ min: 4, max: 22, noNaN: true }),
    cocMm: fc.double({ min: 0.008, max: 0.03, noNaN: true }),
  });
  const scene = fc.tuple(fc.double({ min: 2.5, max: 30, noNaN: true }), fc.double({ min: 1.05, max: 8, noNaN: true }));
  const share = fc.double({ min: 0, max: 0.7, noNaN: true });

  it('covers any subject without a gap, neighbours overlapping by what was asked, none of them idle', () => {
    fc.assert(
      fc.property(optics, scene, share, (o, [times, depth], overlap) => {
        const nearest = o.focalLengthMm * times;
        const subject = range(nearest, nearest * depth);
        const slices = planFocusSeries(o, subject, overlap);
        if (!slices) return;
        expect(findGaps(slices, subject)).toEqual([]);
        const overlaps = slices.slice(1).map((s, k) => overlapOf(slices[k]!, s));
        expect(Math.min(1, ...overlaps)).toBeGreaterThan(overlap - 1e-6);
        expect(findGaps(slices.slice(0, -1), subject).length).toBe(1);
      }),
    );
  });

  it('needs no fewer frames for more overlap, nor for a wider aperture', () => {
    fc.assert(
      fc.property(optics, scene, share, (o, [times, depth], overlap) => {
        const nearest = o.focalLengthMm * times;
        const subject = range(nearest, nearest * depth);
        const count = (at: typeof o, share: number): number => planFocusSeries(at, subject, share)?.length ?? 1000;
        expect(count(o, Math.min(0.9, overlap + 0.1))).toBeGreaterThanOrEqual(count(o, overlap));
        expect(count({ ...o, fNumber: o.fNumber / 1.4 }, overlap)).toBeGreaterThanOrEqual(count(o, overlap));
      }),
    );
  });

  it('spare slices lie beyond both ends and overlap the series', () => {
    const o = { focalLengthMm: 60, fNumber: 8, cocMm: 0.012 };
    const subject = range(600, 900);
    const plain = planFocusSeries(o, subject, 0.2)!;
    const safe = planFocusSeries(o, subject, 0.2, 1)!;
    expect(safe).toHaveLength(plain.length + 2);
    expect(safe[0]!.farMm).toBeGreaterThan(600);
    expect(safe[0]!.nearMm).toBeLessThan(600);
    expect(findGaps(safe, range(safe[0]!.nearMm, safe.at(-1)!.farMm))).toEqual([]);
  });
});

describe('findGaps', () => {
  it('names what lies before, between and after the slices', () => {
    const slice = (nearMm: number, farMm: number) => ({ focusMm: (nearMm + farMm) / 2, nearMm, farMm });
    const gaps = findGaps([slice(30, 40), slice(12, 20)], { nearestMm: 10, farthestMm: 50 });
    expect(gaps).toEqual([
      { nearMm: 10, farMm: 12 },
      { nearMm: 20, farMm: 30 },
      { nearMm: 40, farMm: 50 },
    ]);
  });
});

describe('planFocusStack', () => {
  it('keeps blur along the whole depth within what was accepted', () => {
    const { plan } = planFocusStack(focus);
    const limit = Math.hypot(2, (2.44 * 550e-6 * 8 * (1 + plan!.magnification)) / 0.006, 1);
    for (let mm = 600; mm <= 900; mm += 3) expect(blurAtPx(focus, plan!.slices, mm)).toBeLessThan(limit + 1e-6);
    expect(plan!.chosen.worstBlurPx).toBeLessThan(limit + 1e-6);
    expect(plan!.chosen.worstBlurPx).toBeGreaterThan(plan!.chosen.bestBlurPx);
  });

  it('shows both schools: the sharpest aperture takes more frames and is sharper at best', () => {
    const { sharpest, stoppedDown } = planFocusStack(focus).plan!.schools;
    expect([sharpest!.fNumber, stoppedDown!.fNumber]).toEqual([5.6, 11]);
    expect(sharpest!.frames).toBeGreaterThan(stoppedDown!.frames);
    expect(sharpest!.bestBlurPx).toBeLessThan(stoppedDown!.bestBlurPx);
  });

  it('says when one frame is enough, and where to focus it', () => {
    const wide: FocusRequest = {
      ...focus,
      lens: { ...focus.lens, focalLengthMm: 16, nearestFocusMm: 150 },
      farthestMm: null,
    };
    const far = planFocusStack({ ...wide, nearestMm: 5000 }).plan!.single!;
    expect(far.enough).toBe(true);
    expect(far.focusMm).toBeCloseTo(10_000, 6);
    expect(far.trustedMm).toBeCloseTo(2 * far.nearLimitMm, 9);
    expect(planFocusStack({ ...wide, nearestMm: 400 }).plan!.single!.enough).toBe(false);
  });

  it('a distance set by hand that leaves a gap is shown as one', () => {
    const planned = planFocusStack(focus).plan!.slices.map((s) => s.focusMm);
    const byHand = planned.filter((_, k) => k !== 3);
    const answer = planFocusStack({ ...focus, focusMm: byHand });
    expect(answer.plan!.gaps).toHaveLength(1);
    expect(answer.plan!.leastOverlap).toBeLessThan(0);
    expect(answer.plan!.chosen.worstBlurPx).toBeGreaterThan(planFocusStack(focus).plan!.chosen.worstBlurPx * 1.2);
    expect(messagesOf(answer)).toContain('warning focusMm: 1 part of the subject would be sharp in no frame.');
  });

  it('a rail keeps its step, and its travel costs edges by the working distance', () => {
    const { plan } = planFocusStack({ ...focus, drive: 'rail', fNumber: 5.6, depthMm: 3, magnification: 2 });
    expect(plan!.rail!.stepMm).toBeCloseTo((2 * 5.6 * 0.012 * 3 * 0.8) / 4, 6);
    expect(plan!.gaps).toEqual([]);
    expect(plan!.breathing.margin).toBeCloseTo(plan!.rail!.travelMm / 90, 6);
    expect(plan!.leastOverlap).toBeCloseTo(0.2, 6);
  });

  it('adds up the time and warns of drifting light and of what moves', () => {
    const answer = planFocusStack({ ...focus, lightDriftEvPerMin: 0.2, motionMmPerS: 100, exposureS: 0.5 });
    const { plan } = answer;
    expect(plan!.timeS).toBeCloseTo(plan!.slices.length * 3.5, 6);
    expect(plan!.driftEv).toBeCloseTo((0.2 * plan!.timeS) / 60, 9);
    expect(
      messagesOf(answer)
        .filter((m) => m.startsWith('warning'))
        .map((m) => m.split(':')[0]),
    ).toEqual(['warning lightDriftEvPerMin', 'warning exposureS']);
  });

  it.each<[string, Partial<FocusRequest>, string]>([
    [
      'inside the focal length',
      { nearestMm: 40 },
      'error nearestMm: nearest point: 40 mm. More than the focal length of 60 mm is accepted',
    ],
    [
      'far before near',
      { farthestMm: 500 },
      'error farthestMm: farthest point: 500 mm. More than the nearest point (600 mm), or infinity, is accepted.',
    ],
    ['full overlap', { overlap: 1 }, 'error overlap: overlap: 100 %. From 0 to 94 % is accepted'],
    [
      '4,000 frames',
      { nearestMm: 70, farthestMm: null, accepted: { by: 'pixels', pixels: 0.5 }, overlap: 0.9, fNumber: 2.8 },
      'error overlap: This takes more than 999 frames.',
    ],
    [
      '3 km of rail',
      { drive: 'rail', depthMm: 3e6 },
      'error depthMm: depth on the rail: 3000000 mm. From 0.001 to 1000 mm is accepted.',
    ],
    ['an aperture the lens lacks', { fNumber: 1.4 }, 'error fNumber: f-number: 1.4. From 2.8 to 32 is accepted.'],
    [
      'no number',
      { exposureS: Number.NaN },
      'error exposureS: exposure: no number. From 0.00001 to 3600 s is accepted.',
    ],
  ])('refuses %s at its field, and plans nothing', (_, over, words) => {
    const answer = planFocusStack({ ...focus, ...over });
    expect(answer.plan).toBeNull();
    expect(messagesOf(answer).find((m) => m.startsWith('error'))).toContain(words.replace('0.00001', '0.00001'));
  });

  it('for any numbers at all: a plan of finite figures without errors, or errors and no plan', () => {
    const any = fc.oneof(
      fc.double(),
      fc.double({ min: 0, max: 3000, noNaN: true }),
      fc.constantFrom(0, -1, Infinity, Number.NaN),
    );
    const over = fc.record(
      {
        nearestMm: any,
        farthestMm: fc.option(any),
        fNumber: any,
        overlap: any,
        exposureS: any,
        depthMm: any,
        magnification: any,
        drive: fc.constantFrom('focus' as const, 'rail' as const),
        motionMmPerS: any,
      },
      { requiredKeys: [] },
    );
    fc.assert(
      fc.property(over, (o) => {
        const { plan, problems } = planFocusStack({ ...focus, ...o });
        expect(plan === null).toBe(hasErrors(problems));
        if (!plan) return;
        const figures = [
          plan.cocMm,
          plan.timeS,
          plan.driftEv,
          plan.breathing.scale,
          plan.chosen.worstBlurPx,
          plan.magnification,
        ];
        expect(figures.every(Number.isFinite)).toBe(true);
        expect(plan.slices.some((s) => Number.isNaN(s.focusMm) || Number.isNaN(s.farMm))).toBe(false);
      }),
      { numRuns: 400 },
    );
  });
});
