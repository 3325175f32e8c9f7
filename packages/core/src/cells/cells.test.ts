// Cells joined and surrounds read: held against direct sums.
import { makeRandom } from '../testing/pictures';
import { cellTent, coarserCells, type CellStack } from './index';

describe('cellTent', () => {
  const random = makeRandom(4);
  const [width, height] = [9, 7];
  const plane = Float32Array.from({ length: width * height }, () => random());

  it('weights the surround by [1 2 3 2 1] in rows and columns', () => {
    let sum = 0;
    for (let dy = -2; dy <= 2; dy++) {
      for (let dx = -2; dx <= 2; dx++) {
        sum += (3 - Math.abs(dx)) * (3 - Math.abs(dy)) * plane[(3 + dy) * width + 4 + dx]!;
      }
    }
    expect(cellTent(width, height).meanAt(plane, 3 * width + 4)).toBeCloseTo(sum / 81, 6);
  });

  it('keeps a constant at corners, where the surround is cut off', () => {
    const flat = new Float32Array(width * height).fill(0.3);
    expect(cellTent(width, height).meanAt(flat, 0)).toBeCloseTo(0.3, 6);
    expect(cellTent(width, height).textureAt(flat, 0)).toBe(0);
  });

  it('sees no texture in a gradient, and the variance of a chequer in a chequer on a gradient', () => {
    const { textureAt } = cellTent(width, height);
    const at = 3 * width + 4;
    const cells = (value: (x: number, y: number) => number): Float32Array =>
      Float32Array.from(plane, (_, i) => value(i % width, Math.floor(i / width)));
    expect(
      textureAt(
        cells((x, y) => 0.1 * x - 0.05 * y),
        at,
      ),
    ).toBeCloseTo(0, 6);
    const chequer = (x: number, y: number): number => ((x + y) % 2 === 0 ? 0.1 : -0.1);
    // The tent's mean of a chequer is (1/81)·0.1 squared off its mean square.
    expect(
      textureAt(
        cells((x, y) => 0.1 * x + chequer(x, y)),
        at,
      ),
    ).toBeCloseTo(0.01 - (0.1 / 81) ** 2, 5);
  });
});

describe('coarserCells', () => {
  it('joins 2 × 2 cells to their mean and keeps the odd column for itself', () => {
    const data = Float32Array.from({ length: 15 }, (_, i) => i);
    const picture = { fine: data, middle: data, coarse: data, mean: [data, data, data] as const };
    const valid = new Uint8Array(15).fill(1);
    valid[6] = 0;
    const stack: CellStack = {
      unitPx: 1,
      region: { x: 0, y: 0, width: 20, height: 12 },
      width: 5,
      height: 3,
      merge: null,
      frames: [{ ...picture, valid, residual: data, relation: null }],
      unexplained: data,
      noise: [0, 0],
      noiseMiddle: data,
      grain: null,
      picked: new Uint8Array(15),
    };
    const half = coarserCells(stack);
    expect([half.width, half.height]).toEqual([3, 2]);
    expect([...half.frames[0]!.fine]).toEqual([3, 5, 6.5, 10.5, 12.5, 14]);
    expect([...half.frames[0]!.valid]).toEqual([0, 1, 1, 1, 1, 1]);
  });
});
