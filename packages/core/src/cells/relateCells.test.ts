// The local linear relation of two pictures, against pictures whose relation is known.
import { makeRandom } from '../testing/pictures';
import { relateCells, type RelatedFrame } from './index';

const [W, H] = [16, 12];
const SIZE = 16 * W * H;
const random = makeRandom(9);
const texture = Float32Array.from({ length: SIZE }, () => 0.3 + 0.3 * random());
const noise = new Float32Array(W * H).fill(1e-6);
const whole = new Uint8Array(W * H).fill(1);
const frame = (luma: Float32Array, over: Partial<RelatedFrame> = {}): RelatedFrame => ({
  ...{ luma, valid: whole, noise, range: [0.01, 0.98] },
  ...over,
});
const inner = 6 * W + 8;

it('finds gain and nothing left where the merge is 0.6 · frame + 0.2', () => {
  const merge = texture.map((v) => 0.6 * v + 0.2);
  const { gain, misfit, telling } = relateCells(merge, noise, frame(texture), W, H);
  expect(telling[inner]).toBe(1);
  expect(gain[inner]).toBeCloseTo(0.6, 3);
  expect(misfit[inner]).toBeLessThan(0.05);
});

it('leaves all of the variance of another picture: its rest over 3 % of itself', () => {
  const other = Float32Array.from({ length: SIZE }, () => 0.3 + 0.3 * random());
  const { misfit } = relateCells(other, noise, frame(texture), W, H);
  expect(misfit[inner]).toBeGreaterThan(20);
  expect(misfit[inner]).toBeLessThan(1 / 0.03 + 1);
});

it('is not content with an empty merge: the structure of the frame is missing', () => {
  const { misfit } = relateCells(new Float32Array(SIZE).fill(0.5), noise, frame(texture), W, H);
  expect(misfit[inner]).toBeGreaterThan(20);
});

it('never takes a negative for the picture', () => {
  const negative = texture.map((v) => 1 - v);
  const { gain, misfit } = relateCells(negative, noise, frame(texture), W, H);
  expect(gain[inner]).toBe(0);
  expect(misfit[inner]).toBeGreaterThan(20);
});

it('says nothing beside places that are clipped or not covered', () => {
  const clipped = texture.slice();
  clipped[(4 * 6 + 1) * 4 * W + 4 * 8 + 1] = 0.995;
  expect(relateCells(texture, noise, frame(clipped), W, H).telling[inner]).toBe(0);
  const hole = whole.slice();
  hole[inner + 2] = 0;
  const { telling } = relateCells(texture, noise, frame(texture, { valid: hole }), W, H);
  expect([telling[inner], telling[inner - 4]]).toEqual([0, 1]);
});
