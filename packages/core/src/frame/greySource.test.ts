// A picture seen without its colour.
import { greySource, type PixelSource } from './index';

const block = { width: 2, height: 1, data: Uint8Array.from([200, 100, 50, 10, 20, 30]) };
const source: PixelSource = { width: 2, height: 1, bits: 8, levels: 1, read: () => block };

it('shows the mix in all three channels, rounded, and leaves the picture itself as it was', () => {
  const grey = greySource(source, [0.5, 0.25, 0.25]).read(0, { x: 0, y: 0, width: 2, height: 1 });
  expect([...grey.data]).toEqual([138, 138, 138, 18, 18, 18]);
  expect([...block.data]).toEqual([200, 100, 50, 10, 20, 30]);
});

it('a picture without colour stays as it is, with any shares', () => {
  const plain = { ...source, read: () => ({ ...block, data: Uint16Array.from([5, 5, 5, 65535, 65535, 65535]) }) };
  const grey = greySource(plain, [0.2126, 0.7152, 0.0722]).read(0, { x: 0, y: 0, width: 2, height: 1 });
  expect([...grey.data]).toEqual([5, 5, 5, 65535, 65535, 65535]);
});

it('names shares that are none', () => {
  expect(() => greySource(source, [1, 1, 0])).toThrow('greySource.weights: expected shares that sum to 1');
});
