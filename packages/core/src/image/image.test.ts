// Smoothing, tone, regions, noise and blur against closed forms and brute force.
import fc from 'fast-check';
import { blockTexture, gaussianBlur, makeRandom, samplePlane } from '../testing/pictures';
import { openTestKernels } from '../testing/openTestKernels';
import { downloadPlanes, focusBands, meanCells, uploadPlanes } from '../kernels';
import { addNoise } from '../testing/pictures';
import {
  blurVarianceFromBands,
  boxSmooth,
  dilate,
  estimateNoise,
  leastNoise,
  evaluateTone,
  findComponents,
  findIslands,
  linearToSrgb,
  makePlane,
  median,
  medianOfFirst,
  noiseAt,
  outlineOf,
  quantile,
  robustDeviation,
  sampleBilinear,
  srgbToLinear,
  toneLut,
  weightedSmooth,
  type Component,
} from './index';

describe('smoothing', () => {
  const random = makeRandom(5);
  const plane = samplePlane(17, 11, () => random());

  it('equals a brute-force mean of what lies inside the window', () => {
    const out = boxSmooth(plane, 2);
    for (let y = 0; y < 11; y++) {
      for (let x = 0; x < 17; x++) {
        const inside: number[] = [];
        for (let yy = Math.max(0, y - 2); yy <= Math.min(10, y + 2); yy++) {
          for (let xx = Math.max(0, x - 2); xx <= Math.min(16, x + 2); xx++) inside.push(plane.data[yy * 17 + xx]!);
        }
        expect(out.data[y * 17 + x]).toBeCloseTo(inside.reduce((a, b) => a + b) / inside.length, 5);
      }
    }
  });

  it('keeps a constant where weights are uneven, and is 0 without weight', () => {
    const value = makePlane(12, 12, 0.7);
    const weight = samplePlane(12, 12, (x) => (x < 6 ? x / 6 : 0));
    const out = weightedSmooth(value, weight, 1);
    expect(out.data[3]).toBeCloseTo(0.7, 5);
    expect(out.data[11]).toBe(0);
  });

  it('refuses a broken radius', () => {
    expect(() => boxSmooth(plane, 1.5)).toThrow(
      'boxSmooth.radius: expected a whole number of samples, 0 or more, received 1.5',
    );
  });
});

describe('values', () => {
  it('sRGB round-trips within 1e-6 and meets the standard at 0.5', () => {
    for (let i = 0; i <= 100; i++) expect(linearToSrgb(srgbToLinear(i / 100))).toBeCloseTo(i / 100, 6);
    expect(srgbToLinear(0.5)).toBeCloseTo(0.21404, 5);
  });

  it('tone tables follow the curve and keep 16 bits', () => {
    const curve = [
      [0, 0.6, 1],
      [0, 0.5, 1],
      [0, 0.4, 1],
    ] as const;
    const lut = toneLut(curve, 16);
    expect(lut[32768]).toBeCloseTo(0.6, 4);
    expect(lut[2 * 65536 + 16384]).toBeCloseTo(evaluateTone(curve[2], 0.25), 4);
    expect(new Set(lut.subarray(0, 65536)).size).toBeGreaterThan(60000);
  });

  it('order statistics of known samples', () => {
    expect(median([3, 1, 2])).toBe(2);
    expect(quantile([0, 10], 0.25)).toBe(2.5);
    expect(quantile([], 0.5)).toBeNaN();
    expect(robustDeviation([1, 1, 1, 100])).toBe(0);
  });

  it('the median of the first values is that of a sorted copy, however many there are', () => {
    const random = makeRandom(7);
    for (const count of [1, 2, 3, 8, 9, 24, 25, 40]) {
      const values = Float64Array.from({ length: count + 3 }, () => random());
      const sorted = values.slice(0, count).sort();
      const middle = (sorted[Math.floor((count - 1) / 2)]! + sorted[Math.ceil((count - 1) / 2)]!) / 2;
      expect(medianOfFirst(values, count)).toBeCloseTo(middle, 14);
    }
  });

  it('bilinear sampling is exact on a ramp and repeats edges', () => {
    const ramp = samplePlane(8, 8, (x, y) => x + 10 * y);
    expect(sampleBilinear(ramp, 3.25, 4.75)).toBeCloseTo(3.25 + 47.5, 4);
    expect(sampleBilinear(ramp, -5, 0.5)).toBeCloseTo(0.5 + 5, 4);
  });
});

describe('regions', () => {
  const grid = (rows: string[]) => ({
    width: rows[0]!.length,
    height: rows.length,
    data: Uint8Array.from(rows.join(''), (c) => (c === '#' ? 1 : 0)),
  });

  it('finds islands on a grid of their own as on the whole one, at its borders, too', () => {
    const random = makeRandom(5);
    const size = { width: 40, height: 30 };
    const data = Uint8Array.from({ length: 1200 }, () => (random() < 0.04 ? 1 : 0));
    const cells = [...data.keys()].filter((i) => data[i]);
    const keep = (i: number): boolean => i % 7 !== 0;
    const wide = dilate(dilate({ ...size, data }, 3), -2).data.map((v, i) => (v && keep(i) ? 1 : 0));
    const sorted = (all: readonly Component[]) =>
      all.map((c) => ({ ...c, cells: [...c.cells].sort((a, b) => a - b) })).sort((a, b) => a.cells[0]! - b.cells[0]!);
    expect(sorted(findIslands(cells, size, { grow: 3, shrink: 2, keep }))).toEqual(
      sorted(findComponents({ ...size, data: wide })),
    );
    // Far fewer of them, away from the borders.
    const few = cells.filter((i) => i % 40 > 20 && i % 40 < 26);
    const mask = new Uint8Array(1200);
    for (const i of few) mask[i] = 1;
    expect(sorted(findIslands(few, size, { grow: 1 }))).toEqual(
      sorted(findComponents(dilate({ ...size, data: mask }, 1))),
    );
    expect(findIslands([], size)).toEqual([]);
  });

  it('joins diagonal neighbours and separates what is apart', () => {
    const found = findComponents(grid(['#..#', '.#..', '...#']));
    expect(found.map((c) => c.cells.length)).toEqual([2, 1, 1]);
    expect(found[0]!.box).toEqual({ x: 0, y: 0, width: 2, height: 2 });
  });

  it('outlines enclose exactly the cells of a filled shape', () => {
    const shape = grid(['......', '.####.', '.####.', '.##...', '......']);
    const outline = outlineOf(findComponents(shape)[0]!, 6, 0);
    const area = Math.abs(
      outline.reduce((s, [x, y], i) => {
        const [nx, ny] = outline[(i + 1) % outline.length]!;
        return s + x * ny - nx * y;
      }, 0) / 2,
    );
    expect(area).toBe(10);
  });

  it('ends on any shape', () => {
    fc.assert(
      fc.property(fc.array(fc.boolean(), { minLength: 64, maxLength: 64 }), (cells) => {
        const mask = { width: 8, height: 8, data: Uint8Array.from(cells, Number) };
        for (const c of findComponents(mask)) expect(outlineOf(c, 8).length).toBeGreaterThanOrEqual(3);
      }),
      { seed: 3 },
    );
  });

  it('closing bridges a gap and keeps the rest', () => {
    const closed = dilate(dilate(grid(['.........', '..##.##..', '.........']), 1), -1);
    expect([...closed.data.subarray(9, 18)].join('')).toBe('001111100');
  });
});

describe('what a picture says of itself', () => {
  it('noise of 1.2 % is estimated within 15 % although half the picture is textured', async () => {
    const kernels = await openTestKernels();
    const texture = blockTexture(512, 512, 7);
    const half = samplePlane(512, 512, (x, y) => (x < 256 ? 0.45 : texture.data[Math.floor(y) * 512 + Math.floor(x)]!));
    const noisy = addNoise(half, 0.012, 3).data;
    const { fine, mean } = kernels.scope(() => {
      const planes = uploadPlanes(kernels, [noisy, noisy, noisy], 512, 512);
      return {
        fine: downloadPlanes(kernels, focusBands(kernels, planes))[0]!,
        mean: downloadPlanes(kernels, meanCells(kernels, planes))[0]!,
      };
    });
    const curve = estimateNoise({ width: 128, height: 128, data: fine }, { width: 128, height: 128, data: mean });
    const deviation = Math.sqrt(noiseAt(curve, 0.45));
    expect(deviation / 0.012).toBeGreaterThan(0.85);
    expect(deviation / 0.012).toBeLessThan(1.15);
  });

  it.each([0.8, 1.5, 2.5])('the blur of a step edge, σ = %d px, is read within 16 %%', async (sigma) => {
    const kernels = await openTestKernels();
    const edge = gaussianBlur(
      samplePlane(128, 128, (x) => (x < 64 ? 0.2 : 0.8)),
      sigma,
    ).data;
    const bands = kernels.scope(() =>
      downloadPlanes(kernels, focusBands(kernels, uploadPlanes(kernels, [edge, edge, edge], 128, 128))),
    );
    const sum = (j: number): number => bands[j]!.reduce((a, b) => a + b, 0);
    expect(Math.sqrt(blurVarianceFromBands(sum(1), sum(2))) / sigma).toBeGreaterThan(0.84);
    expect(Math.sqrt(blurVarianceFromBands(sum(1), sum(2))) / sigma).toBeLessThan(1.16);
  });
});

it('noise of pictures made alike is the least of the estimates, per brightness, whatever their number of bins', () => {
  const least = leastNoise([
    [4, 4, 4],
    [1, 9],
  ]);
  expect(least).toEqual([1, 4, 4]);
  expect(leastNoise([[2, 3]])).toEqual([2, 3]);
});

it('growing and shrinking a mask equal a search of every cell, at borders and on masks smaller than the reach too', () => {
  const random = makeRandom(17);
  for (const [width, height] of [
    [23, 17],
    [3, 9],
    [1, 1],
  ] as const) {
    const data = Uint8Array.from({ length: width * height }, () => (random() < 0.2 ? 1 : 0));
    for (const r of [-3, -1, 0, 1, 2, 5]) {
      const n = Math.abs(r);
      const wanted = data.map((_, i) => {
        const [x, y] = [i % width, Math.floor(i / width)];
        let met = false;
        for (let yy = Math.max(0, y - n); yy <= Math.min(height - 1, y + n); yy++) {
          for (let xx = Math.max(0, x - n); xx <= Math.min(width - 1, x + n); xx++) {
            if (data[yy * width + xx] === (r < 0 ? 0 : 1)) met = true;
          }
        }
        return met === r >= 0 ? 1 : 0;
      });
      expect([...dilate({ width, height, data }, r).data]).toEqual([...wanted]);
    }
  }
});
