// Where painting a donor in would lose what another exposure holds.
import { lostCells } from './lostCells';

const [W, H] = [32, 16];
/** A picture whose left quarter, and whose right one, are of other values than its middle. */
const picture = (left: number, middle: number, right: number): Float32Array =>
  Float32Array.from({ length: W * H }, (_, i) => (i % W < 8 ? left : i % W < 24 ? middle : right));
const flags = (cells: Uint8Array): string => [...cells.subarray(0, W / 4)].join('');
/** An exposure whose channels are all as this one, and clipped beyond these values. */
const held = (luma: Float32Array, range: readonly [number, number] = [0.05, 0.9]) => ({
  channels: [luma, luma, luma, new Float32Array(luma.length).fill(1)],
  ranges: [range, range, range],
});

it('what the donor has white or black is lost where another exposure holds it, and only there', () => {
  const donor = held(picture(0.95, 0.5, 0.03));
  const holdsLeft = held(picture(0.6, 0.5, 0.02));
  const holdsRight = held(picture(0.97, 0.5, 0.2));
  expect(flags(lostCells(donor, [holdsLeft], W, H))).toBe('11000000');
  expect(flags(lostCells(donor, [holdsRight], W, H))).toBe('00000011');
  expect(flags(lostCells(donor, [holdsLeft, holdsRight], W, H))).toBe('11000011');
});

it('nothing is lost where none has it, where others cover nothing, and of a donor that holds all', () => {
  const white = held(picture(0.95, 0.5, 0.5));
  expect(flags(lostCells(white, [], W, H))).toBe('00000000');
  const nowhere = { ...held(picture(0.5, 0.5, 0.5)), channels: Array.from({ length: 4 }, () => picture(0, 0, 0)) };
  expect(flags(lostCells(white, [nowhere], W, H))).toBe('00000000');
  expect(flags(lostCells(held(picture(0.5, 0.6, 0.7)), [white], W, H))).toBe('00000000');
});

it('a few px at an end clip no cell; another tone has other ends', () => {
  const few = picture(0.5, 0.5, 0.5).map((v, i) => (i % 4 === 0 ? 0.95 : v));
  const other = held(picture(0.5, 0.5, 0.5));
  expect(flags(lostCells(held(few), [other], W, H))).toBe('00000000');
  // Toned down, white is white at less.
  expect(flags(lostCells(held(picture(0.5, 0.7, 0.5), [0.02, 0.68]), [other], W, H))).toBe('00111100');
});

it('a channel that is white has lost its colour; one that is black alone is a colour', () => {
  const [grey, red] = [picture(0.5, 0.5, 0.5), picture(0.95, 0.5, 0.02)];
  const donor = { ...held(grey), channels: [red, grey, grey, picture(1, 1, 1)] };
  expect(flags(lostCells(donor, [held(grey)], W, H))).toBe('11000000');
});

it('refuses what is not in whole cells', () => {
  expect(() => lostCells(held(new Float32Array(30)), [], 10, 3)).toThrow('lostCells.size');
});
