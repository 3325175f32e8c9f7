// Brackets: exposures, times, and what is refused by name.
import { planBracket, type BracketRequest } from '.';
import { bracket, messagesOf } from '../testing/plans';

describe('planBracket', () => {
  it('centres the series on the middle exposure, dark to bright', () => {
    const { plan } = planBracket(bracket);
    expect(plan!.exposures.map((e) => e.ev)).toEqual([-3, -1, 1, 3]);
    expect(plan!.exposures[0]!.exposureS).toBeCloseTo(1 / 480, 9);
    expect(plan!.heldEv).toBe(16);
  });

  it('names extra times, multiplies by the directions of a panorama, adds up the time', () => {
    const { plan } = planBracket({ ...bracket, extras: [{ what: 'silky water', exposureS: 2 }], directions: 6 });
    expect(plan!.framesEach).toBe(5);
    expect(plan!.frames).toBe(30);
    const once = (1 / 60) * (2 ** -3 + 2 ** -1 + 2 + 2 ** 3) + 2 + 5 * 3;
    expect(plan!.timeS).toBeCloseTo(6 * once, 6);
    expect(plan!.exposures.at(-1)!.what).toBe('silky water');
  });

  it('warns when the frames asked for hold too little', () => {
    expect(messagesOf(planBracket({ ...bracket, frames: 2 }))[0]).toBe(
      'warning frames: 2 frames hold 12.0 EV of 16 EV: 4 would hold all.',
    );
  });

  it.each<[string, Partial<BracketRequest>, string]>([
    [
      'a step wider than the sensor',
      { stepEv: 4, usableEv: 3 },
      'error stepEv: step: 4 EV. Up to the usable range of 3 EV',
    ],
    ['40 exposures', { sceneEv: 30, usableEv: 5, stepEv: 0.5 }, 'error stepEv: This takes 51 exposures'],
    ['an hour and more', { exposureS: 2000 }, 'error exposureS: The series runs from'],
    ['half a frame', { frames: 2.5 }, 'error frames: frames: 2.5.'],
  ])('refuses %s at its field', (_, over, words) => {
    expect(messagesOf(planBracket({ ...bracket, ...over })).find((m) => m.startsWith('error'))).toContain(words);
  });
});
