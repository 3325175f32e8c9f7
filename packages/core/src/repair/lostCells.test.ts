// Where painting a donor in would lose what another exposure holds.
import { lostCells } from './lostCells';

const [W, H] = [32, 16];
/** A picture whose left quarter, and whose right one, are of other values than its middle. */
const picture = (left: number, middle: number, right: number): Float32Array =>
  Float32Array.from({ length: W * H }, (_, i) => (i % W < 8 ? left : i % W < 24 ? middle : right));
const flags = (cells: Uint8Array): string => [...cells.subarray(0, W / 4)].join('');
const range = [0.05, 0.9] as const;

it('what the donor has white or black is lost where another exposure holds it, and only there', () => {
  const donor = { luma: picture(0.95, 0.5, 0.03), range };
  const holdsLeft = { luma: picture(0.6, 0.5, 0.02), range };
  const holdsRight = { luma: picture(0.97, 0.5, 0.2), range };
  expect(flags(lostCells(donor, [holdsLeft], W, H))).toBe('11000000');
  expect(flags(lostCells(donor, [holdsRight], W, H))).toBe('00000011');
  expect(flags(lostCells(donor, [holdsLeft, holdsRight], W, H))).toBe('11000011');
});

it('nothing is lost where none has it, where others cover nothing, and of a donor that holds all', () => {
  const white = { luma: picture(0.95, 0.5, 0.5), range };
  expect(flags(lostCells(white, [], W, H))).toBe('00000000');
  expect(flags(lostCells(white, [{ luma: picture(0, 0, 0), range }], W, H))).toBe('00000000');
  expect(flags(lostCells({ luma: picture(0.5, 0.6, 0.7), range }, [white], W, H))).toBe('00000000');
});

it('a few px at an end clip no cell; another tone has other ends', () => {
  const few = picture(0.5, 0.5, 0.5).map((v, i) => (i % 4 === 0 ? 0.95 : v));
  const other = { luma: picture(0.5, 0.5, 0.5), range };
  expect(flags(lostCells({ luma: few, range }, [other], W, H))).toBe('00000000');
  // Toned down, white is white at less.
  expect(flags(lostCells({ luma: picture(0.5, 0.7, 0.5), range: [0.02, 0.68] }, [other], W, H))).toBe('00111100');
});

it('refuses what is not in whole cells', () => {
  expect(() => lostCells({ luma: new Float32Array(30), range }, [], 10, 3)).toThrow('lostCells.size');
});
