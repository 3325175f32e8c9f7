// Where an exposure tells of tones, px by px.
import { tellsTone } from './tellsTone';

const RANGES = [
  [0.02, 0.8],
  [0.02, 0.8],
  [0.02, 0.8],
] as const;
/** One px, R, G and B, beside one of a donor. */
const tells = (merge: readonly number[], donor: readonly number[], covered = 1): number =>
  tellsTone(
    merge.map((v) => Float32Array.of(v)),
    [...donor, covered].map((v) => Float32Array.of(v)),
    RANGES,
  )[0]!;

it('where it holds the place, whatever the merge is there', () => {
  expect(tells([0.4, 0.5, 0.6], [0.3, 0.3, 0.3])).toBe(1);
  expect(tells([1, 1, 1], [0.3, 0.3, 0.3])).toBe(1);
});

it('where it is clipped only before a merge that is clipped alike, channel by channel', () => {
  expect(tells([0.6, 0.6, 0.6], [0.85, 0.85, 0.85])).toBe(0);
  expect(tells([1, 1, 1], [0.85, 0.85, 0.85])).toBe(1);
  expect(tells([1, 1, 0.9], [0.85, 0.85, 0.85])).toBe(0);
  expect(tells([1, 1, 0.9], [0.85, 0.85, 0.7])).toBe(1);
  expect(tells([0.1, 0.1, 0.1], [0.01, 0.01, 0.01])).toBe(0);
  expect(tells([0, 0, 0], [0.01, 0.01, 0.01])).toBe(1);
});

it('nowhere that it does not cover, and nothing of planes of other sizes', () => {
  expect(tells([0.4, 0.5, 0.6], [0.3, 0.3, 0.3], 0)).toBe(0);
  const one = [Float32Array.of(0), Float32Array.of(0), Float32Array.of(0)];
  expect(() => tellsTone(one, [...one, new Float32Array(2)], RANGES)).toThrow('tellsTone.length');
});
