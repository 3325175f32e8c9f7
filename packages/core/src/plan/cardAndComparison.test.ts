// The card for the field says what the plan computed; reality is judged against it.
import { CAUTIONS, chooseStep, comparePlan, makeCaptureCard, planFocusStack, type PlanSheet, type SetFacts } from '.';
import { bracket, focus, panorama } from '../testing/plans';

const sheet: PlanSheet = {
  kind: 'focus-stack',
  request: focus,
  stepScale: [],
  notes: 'bring the rag',
  cautions: ['tides', 'sun'],
};
const valueOf = (card: NonNullable<ReturnType<typeof makeCaptureCard>['card']>, label: string): string | undefined =>
  card.settings.find((s) => s.label === label)?.value;

describe('makeCaptureCard', () => {
  it('lists every frame in shooting order between two separators', () => {
    const { slices } = planFocusStack(focus).plan!;
    const near = makeCaptureCard('Lamp', sheet).card!;
    expect(near.frames).toHaveLength(slices.length + 2);
    expect([near.frames[0]!.name, near.frames.at(-1)!.name]).toEqual(['Hand', 'Hand']);
    const far = makeCaptureCard('Lamp', { ...sheet, request: { ...focus, order: 'far-to-near' } }).card!;
    expect(far.frames[1]!.detail).toBe(near.frames.at(-2)!.detail);
    expect(valueOf(near, 'Frames')).toBe(String(slices.length));
    expect(valueOf(near, 'Aperture')).toBe('f/8');
  });

  it('carries notes, the cautions ticked, and always the word on local rules', () => {
    const card = makeCaptureCard('Lamp', sheet).card!;
    expect(card.notes).toBe('bring the rag');
    expect(card.cautions.map((c) => c.title)).toEqual(['Tides', 'Sun in the finder']);
    expect(makeCaptureCard('Lamp', { ...sheet, cautions: [] }).card!.rules).toMatch(/Local rules.*licensed guides/);
    expect(Object.values(CAUTIONS).every(([title, words]) => title && words)).toBe(true);
  });

  it('names the setting on the camera that keeps the overlap', () => {
    const stepScale = [
      { setting: '1', fraction: 0.2 },
      { setting: '3', fraction: 0.6 },
      { setting: '5', fraction: 1.1 },
    ];
    expect(valueOf(makeCaptureCard('Lamp', { ...sheet, stepScale }).card!, 'Step setting')).toBe('3 (40 % overlap)');
    expect(chooseStep(stepScale, 0.9)).toBeNull();
  });

  it('gives head angles of a panorama and times of a bracket', () => {
    const turn = makeCaptureCard('Cove', { kind: 'panorama', request: panorama, notes: '', cautions: [] }).card!;
    expect(turn.frames[1]!.detail).toBe('turn −41.1°');
    expect(turn.frames[3]!.detail).toBe('turn 0°');
    const light = makeCaptureCard('Room', { kind: 'bracket', request: bracket, notes: '', cautions: [] }).card!;
    expect(light.frames[1]!.detail).toBe('1/480 s (−3.0 EV)');
  });

  it('a plan with an error has no card but says what is wrong', () => {
    const answer = makeCaptureCard('Lamp', { ...sheet, request: { ...focus, nearestMm: 10 } });
    expect(answer.card).toBeNull();
    expect(answer.problems![0]!.field).toBe('nearestMm');
  });
});

describe('comparePlan', () => {
  const silent: SetFacts = {
    frames: 3,
    focusMm: [],
    exposuresS: [],
    fNumbers: [],
    focalLengthsMm: [],
    lostMargin: null,
    neighbourShift: [],
  };
  const verdicts = (rows: ReturnType<typeof comparePlan>) => Object.fromEntries(rows.map((r) => [r.what, r.verdict]));

  it('a stack shot as planned is as planned, row by row', () => {
    const plan = planFocusStack(focus).plan!;
    const rows = comparePlan(sheet, {
      ...silent,
      frames: plan.slices.length,
      focusMm: plan.slices.map((s) => s.focusMm),
      fNumbers: [8, 8],
      focalLengthsMm: [60],
      lostMargin: plan.breathing.margin,
    });
    expect(rows).toHaveLength(6);
    expect(new Set(rows.map((r) => r.verdict))).toEqual(new Set(['as planned']));
    expect(rows.find((r) => r.what === 'Overlap')!.actual).toBeCloseTo(20, 0);
  });

  it('a longer step overlaps less and is worse; what files do not say is unknown', () => {
    const far = planFocusStack(focus)
      .plan!.slices.map((s) => s.focusMm)
      .filter((_, k) => k % 2 === 0);
    const found = verdicts(comparePlan(sheet, { ...silent, frames: far.length, focusMm: far }));
    expect(found).toMatchObject({
      Frames: 'worse',
      'Focus step': 'worse',
      Overlap: 'worse',
      Aperture: 'unknown',
      'Margin lost': 'unknown',
    });
  });

  it('a bracket: step and range from the times of its files', () => {
    const rows = comparePlan(
      { kind: 'bracket', request: bracket, notes: '', cautions: [] },
      { ...silent, frames: 4, exposuresS: [1 / 480, 1 / 120, 1 / 30, 1 / 8] },
    );
    expect(verdicts(rows)).toMatchObject({ Frames: 'as planned', Step: 'as planned', 'Range held': 'as planned' });
  });

  it('a panorama: overlap from the shift of neighbours', () => {
    const rows = comparePlan(
      { kind: 'panorama', request: panorama, notes: '', cautions: [] },
      { ...silent, frames: 5, neighbourShift: [0.9, 0.9, 0.9] },
    );
    expect(rows.find((r) => r.what === 'Overlap')).toMatchObject({ actual: expect.closeTo(10, 6), verdict: 'worse' });
  });
});
