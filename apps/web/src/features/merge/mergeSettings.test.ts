// Choices of a merge: how they begin, and that edits stay within what the server takes.
import { mergeOptionsSchema } from '@blendrak/contract';
import { changeGradient, gradientsFor, startSettings } from './mergeSettings';

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
