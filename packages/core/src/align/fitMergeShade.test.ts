// The vignetting of frames that a merge was freed of, from known ones.
import { linearToSrgb } from '../image';
import { makeRandom } from '../testing/pictures';
import { fitMergeShade, type ShadePairs } from './fitMergeShade';

interface Made {
  readonly vignetting: readonly [number, number];
  /** What the merge makes of light, encoded. */
  readonly tone: (light: number) => number;
  /** Light of the scene at a place of the frame, −1 to 1 each way. */
  readonly scene: (x: number, y: number) => number;
  /** Share of places that show something else. */
  readonly moved?: number;
  readonly gain?: number;
}

function pairsOf({ vignetting: [v1, v2], tone, scene, moved = 0, gain = 1 }: Made, seed: number): ShadePairs {
  const random = makeRandom(seed);
  const n = 4000;
  const planes = () => [new Float32Array(n), new Float32Array(n), new Float32Array(n)] as const;
  const [source, target, radius] = [planes(), planes(), new Float32Array(n)];
  for (let i = 0; i < n; i++) {
    const [x, y] = [2 * random() - 1, 2 * random() - 1];
    const r = Math.hypot(x, 0.7 * y) / Math.hypot(1, 0.7);
    radius[i] = r;
    for (let c = 0; c < 3; c++) {
      const light = Math.min(1, Math.max(0, scene(x, y) * (0.7 + 0.6 * random()) * (1 - 0.1 * c)));
      const there = random() < moved ? random() : light;
      source[c]![i] = linearToSrgb(light * gain * (1 + v1 * r ** 2 + v2 * r ** 4)) + 0.01 * (random() - 0.5);
      target[c]![i] = tone(there) + 0.01 * (random() - 0.5);
    }
  }
  return { source, target, radius };
}

const plain = (v: number): number => linearToSrgb(v);
/** An S-curve as finishing puts it on. */
const contrasty = (v: number): number => {
  const e = linearToSrgb(v);
  return e + 0.25 * e * (1 - e) * (2 * e - 1);
};
const even = (): number => 0.3;
/** A bright sky above, and so in the corners, a dark ground below. */
const landscape = (_x: number, y: number): number => (y < -0.2 ? 0.6 : 0.12);

const lightAt = ([v1, v2]: readonly [number, number], r: number): number => 1 + v1 * r ** 2 + v2 * r ** 4;

// A curve after the light makes its gains differ from tone to tone.
it.each([
  [3, 'an even scene', { vignetting: [-0.35, 0.1], tone: plain, scene: even }],
  [3, 'a landscape', { vignetting: [-0.35, 0.1], tone: plain, scene: landscape }],
  [6, 'a merge with an S-curve', { vignetting: [-0.2, -0.1], tone: contrasty, scene: landscape }],
  [3, 'a fifth of the places moved', { vignetting: [-0.3, 0], tone: plain, scene: landscape, moved: 0.2 }],
] as const satisfies readonly (readonly [number, string, Made])[])(
  'to %d %%, at any radius, light is told of %s',
  (percent, _name, made) => {
    const found = fitMergeShade([pairsOf(made, 3), pairsOf({ ...made, gain: 0.7 }, 4)]);
    expect(found).not.toBeNull();
    for (const r of [0.3, 0.6, 0.85, 1])
      expect(Math.abs(lightAt(found!, r) - lightAt(made.vignetting, r))).toBeLessThan(percent / 100);
  },
);

it.each([
  ['a plain merge', plain],
  ['a merge with an S-curve', contrasty],
] as const)('%s that was not freed of any shows none, whatever the scene', (_name, tone) => {
  for (const scene of [even, landscape]) {
    const made = { vignetting: [0, 0] as const, tone, scene };
    expect(fitMergeShade([pairsOf(made, 5), pairsOf({ ...made, gain: 0.6 }, 6)])).toBeNull();
  }
});

it('nothing is told from too few places, and odd numbers of values are refused', () => {
  expect(fitMergeShade([])).toBeNull();
  const some = pairsOf({ vignetting: [-0.3, 0], tone: plain, scene: even }, 7);
  expect(() => fitMergeShade([{ ...some, radius: some.radius.subarray(1) }])).toThrow('fitMergeShade.frames');
});
