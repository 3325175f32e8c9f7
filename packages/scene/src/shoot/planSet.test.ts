// Series: what the camera does frame by frame, and what it refuses.
import { rotationOf } from '../optics/pose';
import { defaultSettings, frameSize, SUBJECTS, type Assignment, type ShootSettings, type Subject } from './assignment';
import { planSet, skyShare } from './planSet';

function assignment(subject: Subject, frames: number, over: Partial<ShootSettings> = {}, seed = 3): Assignment {
  return { subject, seed, frames, ...frameSize(subject, 800), settings: { ...defaultSettings(subject), ...over } };
}

describe('planSet', () => {
  it.each(SUBJECTS)('%s: follows from its seed alone, and differs with another', (subject) => {
    const shots = (seed: number): unknown => planSet(assignment(subject, 3, {}, seed)).shots;
    expect(shots(3)).toEqual(shots(3));
    expect(shots(4)).not.toEqual(shots(3));
  });

  it('steps a focus stack evenly in dioptres from the nearest to the farthest point, or by the step asked for', () => {
    const dioptres = (over: Partial<ShootSettings>): number[] =>
      planSet(assignment('gear-train', 5, over)).shots.map((s) => 1000 / s.focusMm!);
    const even = dioptres({});
    expect(even[0]).toBeCloseTo(1000 / 300, 6);
    expect(even[4]).toBeCloseTo(1000 / 348, 6);
    for (let k = 2; k < 5; k++) expect(even[k]! - even[k - 1]!).toBeCloseTo(even[1]! - even[0]!, 9);
    const asked = dioptres({ step: 0.04 });
    expect(asked[1]! - asked[0]!).toBeCloseTo(-0.04, 9);
  });

  it('shows more of the scene at far focus: the picture shrinks with the image distance', () => {
    const { shots } = planSet(assignment('signal-flags', 6));
    for (let k = 1; k < 6; k++) expect(shots[k]!.view.focalPx).toBeLessThan(shots[k - 1]!.view.focalPx);
  });

  it.each([
    [3, 3],
    [5, 1.5],
    [7, 1],
  ])('brackets %d exposures over six EV, %d EV apart, by the time alone', (frames, step) => {
    const { shots } = planSet(assignment('lamp-room', frames));
    for (let k = 1; k < frames; k++) {
      expect(shots[k]!.intendedEv - shots[k - 1]!.intendedEv).toBeCloseTo(step, 9);
      expect(shots[k]!.exposureS / shots[k - 1]!.exposureS).toBeCloseTo(2 ** step, 6);
      // Flicker of about one per cent on top.
      expect(Math.log2(shots[k]!.gain / shots[k - 1]!.gain)).toBeCloseTo(step, 0);
      expect(shots[k]!.startS).toBeGreaterThan(shots[k - 1]!.startS + shots[k - 1]!.exposureS);
    }
  });

  it('turns a panorama by the field of view less the overlap, row by row', () => {
    const { shots, canvas } = planSet(assignment('cove', 4, { rows: 2, step: 0.3 }));
    expect(shots.map((s) => s.place)).toEqual([
      [0, 0],
      [0, 1],
      [0, 2],
      [0, 3],
      [1, 0],
      [1, 1],
      [1, 2],
      [1, 3],
    ]);
    const across = 2 * Math.atan(600 / 2 / shots[0]!.view.focalPx);
    const yaw = (k: number): number => Math.atan2(-shots[k]!.view.rotation[2], shots[k]!.view.rotation[0]);
    expect(yaw(1) - yaw(0)).toBeCloseTo(across * 0.7, 1);
    expect(canvas.projection).toBe('cylinder');
    expect(canvas.width / canvas.focalPx).toBeCloseTo((across + 3 * across * 0.7) * 0.97, 1);
  });

  it('delivers the nested pair as a lower frame and an upper one blended from two exposures', () => {
    const { shots, frames } = planSet(assignment('tower-nested', 2));
    expect(shots).toHaveLength(3);
    expect(frames).toEqual([
      { shot: 0, sky: null },
      { shot: 1, sky: 2 },
    ]);
    expect(shots[2]!.intendedEv).toBeLessThan(-1);
    expect(skyShare(1000, 0)).toBe(1);
    expect(skyShare(1000, 999)).toBe(0);
  });

  it('moves the pupil only when it lies off the axis or the camera is held by hand', () => {
    const positions = (over: Partial<ShootSettings>): number[] =>
      planSet(assignment('cove', 4, over)).shots.map((s) => Math.hypot(...s.view.positionMm));
    expect(Math.max(...positions({}))).toBe(0);
    expect(Math.max(...positions({ pupilOffsetMm: 60 }))).toBeGreaterThan(10);
    expect(Math.max(...positions({ support: 'hand' }))).toBeGreaterThan(0.5);
  });

  it('lets light drift over the series and keeps lens faults where they are asked for', () => {
    const drifting = planSet(assignment('gear-train', 10, { lightDriftEvPerMin: 1 })).shots;
    expect(Math.log2(drifting[9]!.gain / drifting[0]!.gain)).toBeCloseTo(0.6, 1);
    expect(planSet(assignment('cove', 4)).shots[0]!.lens.vignetting).toBe(0);
    expect(planSet(assignment('cove', 4, { uncorrected: true })).shots[0]!.lens.vignetting).toBeGreaterThan(0.2);
    const odd = planSet(assignment('cove', 4, { fringedFrame: 2, shakenFrame: 1 })).shots;
    expect(odd.map((s) => s.lens.lateralColour > 0)).toEqual([false, false, true, false]);
    expect(odd.map((s) => Math.hypot(...s.shakePx) > 2)).toEqual([false, true, false, false]);
  });

  it.each([
    ['frames', { frames: 500 }, {}, 'frames is 500; from 1 to 100 is accepted'],
    ['width', { width: 20 }, {}, 'width is 20 px; from 64 px to 12000 px is accepted'],
    ['aperture', {}, { fNumber: 0.5 }, 'fNumber is 0.5; from 1.4 to 32 is accepted'],
    ['step', {}, { step: 9 }, 'step is 9 dpt; from 0.002 dpt to 2 dpt is accepted'],
    ['wind', {}, { wind: Number.NaN }, 'wind is NaN; from 0 to 2 is accepted'],
  ])('names a %s no camera takes', (_name, over, settings, words) => {
    expect(() => planSet({ ...assignment('gear-train', 5, settings), ...over })).toThrow(words);
  });

  it('levels the merge of a vertical pair: the tower stands upright in the middle', () => {
    const { canvas } = planSet(assignment('tower', 2));
    expect(canvas.projection).toBe('flat');
    expect(canvas.rotation[4]).toBe(rotationOf(0, 0, 0)[4]);
    expect(canvas.height).toBeGreaterThan(canvas.width);
  });
});
