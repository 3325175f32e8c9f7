// How far a donor is off: against translations that are known, whatever the tone, and whatever stands in the middle.
import { makePlane, type Plane } from '../image';
import { findNudge } from './index';

const [W, H] = [160, 120];
/** A texture that is known between px, too. */
const scene = (x: number, y: number): number =>
  0.5 +
  0.1 * Math.sin(x / 2.3 + 0.4 * Math.sin(y / 7)) +
  0.08 * Math.sin(y / 1.9 + x / 11) +
  0.05 * Math.cos((x + y) / 3.1);
const plane = (value: (x: number, y: number) => number): Plane => {
  const out = makePlane(W, H);
  for (let i = 0; i < out.data.length; i++) out.data[i] = value((i % W) + 0.5, Math.floor(i / W) + 0.5);
  return out;
};
const inMask = (i: number): boolean => Math.hypot((i % W) - 80, Math.floor(i / W) - 60) < 30;
const around = Uint8Array.from({ length: W * H }, (_, i) => (inMask(i) ? 0 : 1));

it.each([
  [0.4, -0.7],
  [1.6, 0.9],
  [-2.2, 1.3],
])(
  'finds a translation by (%s, %s) px within 0.1, although tones differ and the middle shows something else',
  (dx, dy) => {
    const merge = plane((x, y) => scene(x, y));
    merge.data.forEach((_, i) => (inMask(i) ? (merge.data[i] = 0.9) : 0));
    const donor = plane((x, y) => 0.8 * scene(x - dx, y - dy) + 0.1 + 0.0005 * x);
    const found = findNudge(merge, donor, around)!;
    expect(Math.hypot(found[0] - dx, found[1] - dy)).toBeLessThan(0.1);
  },
);

it('leaves a donor where it lies when it fits there, and does not guess where there is nothing, or only an edge', () => {
  const merge = plane(scene);
  expect(findNudge(merge, plane(scene), around)).toEqual([0, 0]);
  expect(
    findNudge(
      plane(() => 0.5),
      plane(() => 0.4),
      around,
    ),
  ).toBeNull();
  const edge = (at: number) => plane((x) => 1 / (1 + Math.exp(at - x)));
  expect(findNudge(edge(40), edge(41), around)).toBeNull();
  expect(() => findNudge(merge, makePlane(W, H - 1), around)).toThrow('findNudge.size');
});
