// The ink of marks: one that the picture does not contain.
import { chooseInk } from './ink';

/** A picture of some colours, in equal shares. */
const picture = (...colours: readonly (readonly [number, number, number])[]): Uint8ClampedArray =>
  Uint8ClampedArray.from(
    Array.from({ length: 4000 }, (_, i) => [...colours[Math.floor(i / 7) % colours.length]!, 255]).flat(),
  );
const rgbOf = (ink: string): number[] => [1, 3, 5].map((i) => parseInt(ink.slice(i, i + 2), 16));

it('is dark on white and light on black', () => {
  const luma = (ink: string): number => {
    const [r, g, b] = rgbOf(ink) as [number, number, number];
    return 0.3 * r + 0.59 * g + 0.11 * b;
  };
  expect(luma(chooseInk(picture([255, 255, 255])))).toBeLessThan(60);
  expect(luma(chooseInk(picture([0, 0, 0])))).toBeGreaterThan(190);
});

it('is none of the picture’s colours, where it holds many', () => {
  const colours = [
    [255, 255, 255],
    [0, 0, 0],
    [0, 229, 255],
    [255, 230, 0],
  ] as const;
  const [r, g, b] = rgbOf(chooseInk(picture(...colours))) as [number, number, number];
  for (const [u, v, w] of colours)
    expect(0.3 * (r - u) ** 2 + 0.59 * (g - v) ** 2 + 0.11 * (b - w) ** 2).toBeGreaterThan(1500);
});

it('is not turned away by a speck of its colour', () => {
  const plain = chooseInk(picture([255, 255, 255]));
  const speck = picture([255, 255, 255]);
  speck.set([...rgbOf(plain), 255], 0);
  expect(chooseInk(speck)).toBe(plain);
});

it('is one of the inks also for an empty picture', () => {
  expect(chooseInk(new Uint8ClampedArray(0))).toMatch(/^#[0-9a-f]{6}$/);
});
