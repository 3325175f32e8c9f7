// Which end of a series is near: told from whose edge stays sharp at jumps in depth, and from what the files say.
import type { Plane } from '../image';
import { openTestKernels } from '../testing/openTestKernels';
import { addNoise, gaussianBlur } from '../testing/pictures';
import { frameOf, occludedSeries, STACK_NOISE } from '../testing/stack';
import type { Kernels } from '../kernels';
import { gatherCells, sharpestFrames } from '../cells';
import { nearEndSaid, nearSideOf, voteNearSide, type NearSideVotes } from './index';

let kernels: Kernels;
beforeAll(async () => {
  kernels = await openTestKernels();
});

const [W, H, COUNT] = [256, 256, 7];

function votesOf(planes: readonly Plane[]): NearSideVotes {
  const stack = gatherCells(
    kernels,
    null,
    planes.map((p) => frameOf(kernels, p)),
    { x: 0, y: 0, width: W, height: H },
  );
  return voteNearSide(stack, sharpestFrames(stack));
}

describe('at a jump in depth', () => {
  const planes = occludedSeries(W, H, W / 2, 11, COUNT);
  const turned = planes.map(({ data }) => ({
    ...{ width: H, height: W },
    data: data.map((_, i) => data[(i % H) * W + Math.floor(i / H)]!),
  }));

  it.each([
    ['in rows', planes],
    ['in columns', turned],
  ] as const)('the end that focuses the near thing gets nearly all votes, %s', (_along, series) => {
    const { first, last } = votesOf(series);
    expect(first).toBeGreaterThan(12);
    expect(last).toBeLessThan(0.15 * first);
  });

  it('backwards it is the other end', () => {
    expect(nearSideOf(votesOf([...planes].reverse()))).toBe('last');
  });
});

it.each([
  ['the last', COUNT - 1],
  ['the first', 0],
])(
  'strong edges of one flat thing say nothing, wherever it lies: beside them any frame shows most of their blur (focused in %s)',
  (_where, depth) => {
    const bars = Float32Array.from({ length: W * H }, (_, i) => (Math.floor((i % W) / 48) % 2 ? 0.85 : 0.15));
    const series = Array.from({ length: COUNT }, (_, k) =>
      addNoise(gaussianBlur({ width: W, height: H, data: bars }, 0.6 + 1.3 * Math.abs(k - depth)), STACK_NOISE, 40 + k),
    );
    const { first, last } = votesOf(series);
    expect(first + last).toBeLessThan(4);
  },
);

describe('what files say of the distance', () => {
  it.each([
    ['from near to far', [0.3, 0.31, 0.32, 0.34], 'first'],
    ['from far to near', [2, 1.5, 1.2, 1], 'last'],
    ['with one step that a lens rounded to the one before', [0.3, 0.31, 0.31, 0.34], 'first'],
    ['of a camera on a rail, which keeps it', [0.3, 0.3, 0.3, 0.3], null],
    ['to and fro', [0.3, 0.4, 0.32, 0.41, 0.33], null],
    ['of which one is missing', [0.3, null, 0.32, 0.34], null],
    ['of two frames', [0.3, 0.4], null],
    ['of none', [], null],
  ] as const)('%s', (_what, distances, end) => {
    expect(nearEndSaid(distances)).toBe(end);
  });
});
