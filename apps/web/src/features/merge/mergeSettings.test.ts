// Choices of a merge: how they begin, and that edits stay within what the server takes.
import { mergeOptionsSchema } from '@blendrak/contract';
import {
  changeGradient,
  CHOICES,
  exposureWords,
  gradientsFor,
  shapesFrom,
  startSettings,
  withPart,
} from './mergeSettings';
import { stackFacts } from '../../testing/merges';

it('offers what the server takes, and all of it', () => {
  const { stackMethod, projection, method } = mergeOptionsSchema.shape;
  const accepted = (
    schema: { safeParse(v: unknown): { success: boolean } },
    words: readonly (readonly [string, string])[],
  ) => words.every(([word]) => schema.safeParse(word).success);
  expect(accepted(stackMethod, CHOICES.stackMethod)).toBe(true);
  expect(accepted(projection, CHOICES.projection)).toBe(true);
  expect(accepted(method, CHOICES.method)).toBe(true);
  expect(CHOICES.method).toHaveLength(method.unwrap().options.length);
  expect(CHOICES.stackMethod).toHaveLength(stackMethod.unwrap().options.length);
});

it('keeps one part per frame, and none where nothing is marked', () => {
  const dab = [{ kind: 'brush' as const, points: [[0.5, 0.5] as [number, number]], radius: 0.1 }];
  const two = withPart(withPart([], 0, dab), 2, [...dab, ...dab]);
  expect(two.map((p) => p.frame)).toEqual([0, 2]);
  expect(shapesFrom(two, 2)).toHaveLength(2);
  expect(shapesFrom(two, 1)).toEqual([]);
  expect(withPart(two, 0, [])).toEqual([{ frame: 2, shapes: [...dab, ...dab] }]);
  expect(mergeOptionsSchema.safeParse({ method: 'painted', parts: two }).success).toBe(true);
});

it('writes exposures with their sign', () => {
  const { focus: _focus, borders: _borders, ...of } = stackFacts();
  const bracket = { ...of, kind: 'bracket' as const, evs: [-2, 1.26], moving: 0 };
  expect([0, 1, 2].map((k) => exposureWords(bracket, k))).toEqual(['-2.0 EV', '+1.3 EV', '']);
  expect(exposureWords(stackFacts(), 1)).toBe('');
});

it('begins as usual without a merge', () => {
  expect(startSettings(null)).toEqual(mergeOptionsSchema.parse({}));
});

it('has one line fewer than frames, sharing the height evenly', () => {
  expect(gradientsFor(3).map((g) => g.y)).toEqual([1 / 3, 2 / 3]);
  expect(gradientsFor(1)).toEqual([]);
});

it.each([
  ['y', 7, 1],
  ['y', -1, 0],
  ['width', 0, 0.005],
  ['angleDeg', Number.NaN, -360],
] as const)('keeps %s = %d within what is accepted', (key, value, kept) => {
  const [, changed] = changeGradient(gradientsFor(3), 1, key, value);
  expect(changed![key]).toBe(kept);
  expect(mergeOptionsSchema.safeParse({ gradients: changeGradient(gradientsFor(3), 1, key, value) }).success).toBe(
    true,
  );
});
