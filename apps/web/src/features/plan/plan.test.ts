// What the Plan screens start from and draw with.
import { hasErrors, planBracket, planFocusStack, planPanorama, type PlanSheet } from '@blendrak/core/plan';
import { kitSchema, planWriteSchema } from '@blendrak/contract';
import { cardPage } from './card/cardPage';
import { newPlan, PLAN_KINDS, type PlanKind } from './newPlan';
import { layAxis } from './pictures/depthAxis';

const kit = kitSchema.parse({
  measured: [],
  bodies: [{ name: 'A', sensorWidthMm: 17.3, sensorHeightMm: 13, pixelsWide: 5184, pixelsHigh: 3888, stepScale: [] }],
  lenses: [
    [12, 200],
    [60, 190],
    [400, 3000],
  ].map(([focalLengthMm, nearestFocusMm]) => ({
    name: `${focalLengthMm} mm`,
    focalLengthMm,
    nearestFocusMm,
    widestFNumber: 2.8,
    smallestFNumber: 22,
    sharpestFNumber: 5.6,
    pupilMagnification: 1,
  })),
});
const problemsOf = (sheet: PlanSheet) =>
  (sheet.kind === 'focus-stack'
    ? planFocusStack(sheet.request)
    : sheet.kind === 'panorama'
      ? planPanorama(sheet.request)
      : planBracket(sheet.request)
  ).problems;

describe('newPlan', () => {
  it.each(Object.keys(PLAN_KINDS) as PlanKind[])(
    '%s: can be saved and planned as it stands, without a warning',
    (kind) => {
      const plan = newPlan(kind, kit);
      expect(planWriteSchema.safeParse(plan).success).toBe(true);
      expect(problemsOf(plan.sheet)).toEqual([]);
    },
  );

  it('finds a plan with whatever single lens there is', () => {
    for (const lens of kit.lenses) {
      const plan = newPlan('focus-stack', { ...kit, lenses: [lens] });
      expect(hasErrors(problemsOf(plan.sheet))).toBe(false);
    }
  });
});

describe('layAxis', () => {
  const slices = [
    { focusMm: 400, nearMm: 360, farMm: 460 },
    { focusMm: 900, nearMm: 440, farMm: Infinity },
  ];

  it.each(['distance', 'dioptres'] as const)(
    'in %s: nearer is further left, and a place leads back to its distance',
    (scale) => {
      const axis = layAxis({ nearestMm: 370, farthestMm: 2000 }, slices, scale, false);
      const at = [370, 400, 460, 900, 2000].map((mm) => axis.at(mm));
      expect([...at].sort((a, b) => a - b)).toEqual(at);
      [370, 400, 900].forEach((mm) => expect(axis.from(axis.at(mm))).toBeCloseTo(mm, 6));
      expect(axis.ticks.length).toBeGreaterThan(2);
    },
  );

  it('dioptres reach infinity; distances end at an arrow', () => {
    const range = { nearestMm: 370, farthestMm: Infinity };
    const dioptres = layAxis(range, slices, 'dioptres', false);
    expect(dioptres.at(Infinity)).toBeLessThanOrEqual(1);
    expect(dioptres.ticks.at(-1)).toBe(Infinity);
    const distance = layAxis(range, slices, 'distance', false);
    expect(distance.open).toBe(true);
    expect(distance.at(Infinity)).toBe(1);
  });

  it('slices of equal depth of field are equally wide in dioptres', () => {
    const equal = [300, 320, 345].map((mm) => ({
      focusMm: mm,
      nearMm: 1 / (1 / mm + 1e-5),
      farMm: 1 / (1 / mm - 1e-5),
    }));
    const axis = layAxis({ nearestMm: 300, farthestMm: 350 }, equal, 'dioptres', false);
    const widths = equal.map((s) => axis.at(s.farMm) - axis.at(s.nearMm));
    widths.forEach((w) => expect(w).toBeCloseTo(widths[0]!, 9));
  });
});

it('the card taken along is one page without scripts or anything to load, and keeps odd names harmless', () => {
  const page = cardPage({
    title: '<script>alert(1)</script>',
    kind: 'Bracket',
    settings: [{ label: 'Frames', value: '3' }],
    frames: [{ name: '1', detail: '1/8 s' }],
    watch: ['Fixed white balance.'],
    cautions: [],
    rules: 'Local rules come first.',
    notes: '',
  });
  expect(page).toContain('<!doctype html>');
  expect(page).not.toMatch(/<script|src=|https?:|url\(/);
  expect(page).toContain('type="checkbox"');
  expect(page).toContain('Local rules come first.');
});
