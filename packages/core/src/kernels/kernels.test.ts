// The WebAssembly kernels against plain float64 twins, identities and bad parameters.
import { ParameterError } from '../checks';
import { addNoise, greyPixels, makeRandom, samplePlane, waveTexture } from '../testing/pictures';
import { openTestKernels } from '../testing/openTestKernels';
import { IDENTITY_TONE, tentSmooth, toneLut } from '../image';
import {
  allocPlanes,
  BAND_NOISE_GAIN,
  blendMasked,
  collapsePyramid,
  differenceCells,
  downloadPlanes,
  focusBands,
  halvePixels,
  laplacianPyramid,
  lumaOf,
  meanCells,
  packPixels,
  planeView,
  scalarProducts,
  smoothTent,
  smoothTwice,
  uploadPlanes,
  warpLuma,
  warpPixels,
  type Affine,
  type Kernels,
  type PixelBlock,
} from './index';

let kernels: Kernels;
beforeAll(async () => {
  kernels = await openTestKernels();
});

const LUT16 = toneLut(IDENTITY_TONE, 16);
const LUT8 = toneLut(IDENTITY_TONE, 8);

function cubic(t: number): number {
  const a = Math.abs(t);
  if (a < 1) return 1.5 * a ** 3 - 2.5 * a ** 2 + 1;
  return a < 2 ? -0.5 * a ** 3 + 2.5 * a ** 2 - 4 * a + 2 : 0;
}

function sinc(t: number): number {
  return t === 0 ? 1 : Math.sin(Math.PI * t) / (Math.PI * t);
}

function lanczos(t: number): number {
  return Math.abs(t) < 3 ? sinc(t) * sinc(t / 3) : 0;
}

/** Interpolation by a kernel in float64, edges repeated, the taps brought to a sum of 1. */
function plainWarp(
  kernel: (t: number) => number,
  block: PixelBlock,
  [a, b, c, d, e, f]: Affine,
  x: number,
  y: number,
  channel: number,
): number {
  const sx = a * (x + 0.5) + b * (y + 0.5) + c - 0.5;
  const sy = d * (x + 0.5) + e * (y + 0.5) + f - 0.5;
  let [sum, total] = [0, 0];
  for (let j = Math.floor(sy) - 2; j <= Math.floor(sy) + 3; j++) {
    for (let i = Math.floor(sx) - 2; i <= Math.floor(sx) + 3; i++) {
      const xx = Math.min(block.width - 1, Math.max(0, i));
      const yy = Math.min(block.height - 1, Math.max(0, j));
      const w = kernel(sx - i) * kernel(sy - j);
      total += w;
      sum += w * (block.data[(yy * block.width + xx) * 3 + channel]! / 65535);
    }
  }
  return sum / total;
}

describe('warpPixels', () => {
  const block = greyPixels(samplePlane(61, 47, waveTexture(3)));

  it('agrees with the kernel of Lanczos in float64 within 3e-4 under rotation, scale and shift, borders included', () => {
    const map: Affine = [1.02, -0.05, 1.7, 0.05, 1.02, -2.3];
    const out = kernels.scope(() => downloadPlanes(kernels, warpPixels(kernels, block, LUT16, map, 60, 50)));
    let worst = 0;
    for (let y = 0; y < 50; y++) {
      for (let x = 0; x < 60; x++)
        worst = Math.max(worst, Math.abs(out[1]![y * 60 + x]! - plainWarp(lanczos, block, map, x, y, 1)));
    }
    expect(worst).toBeLessThan(3e-4);
  });

  it('keeps a wave of 0.35 cycles per px at half a px within 15 % of its height, more than the cubic of luma does', () => {
    const wave = greyPixels(samplePlane(96, 8, (x) => 0.5 + 0.3 * Math.cos(2 * Math.PI * 0.35 * x)));
    const heightOf = (line: Float32Array): number => {
      // The wave's amplitude over whole periods, by its two quadratures.
      let [re, im] = [0, 0];
      for (let x = 8; x < 88; x++) {
        re += (line[x]! - 0.5) * Math.cos(2 * Math.PI * 0.35 * x);
        im += (line[x]! - 0.5) * Math.sin(2 * Math.PI * 0.35 * x);
      }
      return (2 * Math.hypot(re, im)) / 80;
    };
    const half: Affine = [1, 0, 0.5, 0, 1, 0];
    const [fine, plain] = kernels.scope(() => [
      planeView(kernels, warpPixels(kernels, wave, LUT16, half, 96, 8), 0).slice(4 * 96, 5 * 96),
      planeView(kernels, warpLuma(kernels, wave, LUT16, half, 96, 8), 0).slice(4 * 96, 5 * 96),
    ]) as [Float32Array, Float32Array];
    expect(heightOf(fine) / 0.3).toBeGreaterThan(0.85);
    expect(heightOf(fine) / 0.3).toBeLessThan(0.87);
    expect(heightOf(plain) / 0.3).toBeCloseTo(0.634, 2);
  });

  it('is the identity for the identity map, for 8 and 16 bits', () => {
    for (const [bits, lut] of [
      [8, LUT8],
      [16, LUT16],
    ] as const) {
      const pixels = greyPixels(samplePlane(33, 21, waveTexture(4)), bits);
      const packed = kernels.scope(() =>
        packPixels(kernels, warpPixels(kernels, pixels, lut, [1, 0, 0, 0, 1, 0], 33, 21), bits),
      );
      expect(packed.data).toEqual(pixels.data);
    }
  });

  it('marks what lies outside the source as not valid', () => {
    const valid = kernels.scope(
      () => downloadPlanes(kernels, warpPixels(kernels, block, LUT16, [1, 0, -10, 0, 1, 0], 61, 47))[3]!,
    );
    expect(valid[9]).toBe(0);
    expect(valid[10]).toBe(1);
  });

  it('works on a single pixel', () => {
    const one = { width: 1, height: 1, data: Uint16Array.of(65535, 32768, 0) };
    const out = kernels.scope(() => downloadPlanes(kernels, warpPixels(kernels, one, LUT16, [1, 0, 0, 0, 1, 0], 1, 1)));
    expect(out.map((p) => Number(p[0]!.toFixed(3)))).toEqual([1, 0.5, 0, 1]);
  });

  it('names a table of the wrong length', () => {
    expect(() => kernels.scope(() => warpPixels(kernels, block, LUT8, [1, 0, 0, 0, 1, 0], 4, 4))).toThrow(
      'warpPixels.lut.length: expected 196608 values for 16 bits, received 768',
    );
  });
});

describe('warpLuma', () => {
  const plane = samplePlane(61, 47, waveTexture(3));
  const block = greyPixels(plane);
  // Colours of their own, so that the weights matter.
  const tinted = { ...block, data: block.data.map((v, i) => (i % 3 === 0 ? v >> 1 : i % 3 === 1 ? v : v >> 2)) };

  it.each([
    ['rotation, scale and shift', [1.02, -0.05, 1.7, 0.05, 1.02, -2.3]],
    ['a mirror', [-1, 0, 61.4, 0, 1, 0.3]],
    ['a shift far off the picture', [1, 0, -300, 0, 1, 200]],
  ] as [string, Affine][])('agrees with a float64 reference within 3e-5 under %s, borders included', (_, map) => {
    const out = kernels.scope(() => downloadPlanes(kernels, warpLuma(kernels, tinted, LUT16, map, 59, 50)))[0]!;
    let worst = 0;
    for (let y = 0; y < 50; y++) {
      for (let x = 0; x < 59; x++) {
        const [r, g, b] = [0, 1, 2].map((c) => plainWarp(cubic, tinted, map, x, y, c)) as [number, number, number];
        worst = Math.max(worst, Math.abs(out[y * 59 + x]! - (0.2126 * r + 0.7152 * g + 0.0722 * b)));
      }
    }
    expect(worst).toBeLessThan(3e-5);
  });

  it('gives what the colour warp and its luma give where nothing is between px, for 8 bits too', () => {
    const eight = greyPixels(plane, 8);
    const map: Affine = [1, 0, 2, 0, 1, -1];
    const worst = kernels.scope(() => {
      const direct = planeView(kernels, warpLuma(kernels, eight, LUT8, map, 60, 44)).slice();
      const colour = planeView(kernels, lumaOf(kernels, warpPixels(kernels, eight, LUT8, map, 60, 44)));
      return direct.reduce((m, v, i) => Math.max(m, Math.abs(v - colour[i]!)), 0);
    });
    expect(worst).toBeLessThan(3e-5);
  });

  it('names a table of the wrong length', () => {
    expect(() => kernels.scope(() => warpLuma(kernels, block, LUT8, [1, 0, 0, 0, 1, 0], 4, 4))).toThrow(
      'warpLuma.lut.length: expected 196608 values for 16 bits, received 768',
    );
  });
});

describe('focusBands', () => {
  it('gives white noise the closed-form energies within 5 %', () => {
    const noise = addNoise(
      samplePlane(512, 512, () => 0.5),
      0.02,
      11,
    );
    const bands = kernels.scope(() =>
      downloadPlanes(kernels, focusBands(kernels, uploadPlanes(kernels, [noise.data], 512, 512))),
    );
    bands.forEach((band, j) => {
      const mean = band.reduce((a, b) => a + b, 0) / band.length;
      expect(mean / (0.02 ** 2 * BAND_NOISE_GAIN[j]!)).toBeGreaterThan(0.95);
      expect(mean / (0.02 ** 2 * BAND_NOISE_GAIN[j]!)).toBeLessThan(1.05);
    });
  });

  it('sees nothing in a flat picture', () => {
    const flat = new Float32Array(64 * 64).fill(0.3);
    const bands = kernels.scope(() =>
      downloadPlanes(kernels, focusBands(kernels, uploadPlanes(kernels, [flat], 64, 64))),
    );
    for (const band of bands) expect(Math.max(...band)).toBeLessThan(1e-12);
  });

  it('refuses a width off the cell grid and leaves no memory reserved', () => {
    const before = kernels.scope(() => kernels.alloc(16));
    expect(() => kernels.scope(() => focusBands(kernels, allocPlanes(kernels, 30, 32)))).toThrow(ParameterError);
    expect(kernels.scope(() => kernels.alloc(16))).toBe(before);
  });
});

describe('pyramids', () => {
  it.each([
    [64, 64],
    [61, 47],
    [5, 3],
    [1, 1],
  ])('a Laplacian pyramid of %d × %d px collapses to its input within 1e-6', (width, height) => {
    const plane = samplePlane(width, height, waveTexture(5));
    kernels.scope(() => {
      const planes = uploadPlanes(kernels, [plane.data], width, height);
      const out = planeView(kernels, collapsePyramid(kernels, laplacianPyramid(kernels, planes, 3)));
      for (let i = 0; i < out.length; i++) expect(Math.abs(out[i]! - plane.data[i]!)).toBeLessThan(1e-6);
    });
  });
});

describe('cells and pixels', () => {
  const random = makeRandom(9);
  const a = Float32Array.from({ length: 24 * 8 }, random);
  const b = Float32Array.from({ length: 24 * 8 }, random);

  it('averages and differences 4 × 4 cells like a plain loop', () => {
    const { mean, residual } = kernels.scope(() => {
      const p = uploadPlanes(kernels, [a], 24, 8);
      const q = uploadPlanes(kernels, [b], 24, 8);
      return {
        mean: downloadPlanes(kernels, meanCells(kernels, p))[0]!,
        residual: downloadPlanes(kernels, differenceCells(kernels, p, q))[0]!,
      };
    });
    for (let cell = 0; cell < 12; cell++) {
      const cx = cell % 6;
      const cy = Math.floor(cell / 6);
      let [sum, square] = [0, 0];
      for (let k = 0; k < 16; k++) {
        const i = (cy * 4 + (k >> 2)) * 24 + cx * 4 + (k & 3);
        sum += a[i]! / 16;
        square += (a[i]! - b[i]!) ** 2 / 16;
      }
      expect(mean[cell]).toBeCloseTo(sum, 5);
      expect(residual[cell]).toBeCloseTo(square, 5);
    }
  });

  it.each([
    [24, 8],
    [7, 5],
    [2, 3],
    [1, 1],
  ])('smooths %d × %d samples like a plain tent with repeated edges', (width, height) => {
    const plane = Float32Array.from({ length: width * height }, random);
    const out = kernels.scope(
      () => downloadPlanes(kernels, smoothTent(kernels, uploadPlanes(kernels, [plane], width, height)))[0]!,
    );
    const at = (x: number, y: number): number =>
      plane[Math.min(height - 1, Math.max(0, y)) * width + Math.min(width - 1, Math.max(0, x))]!;
    for (let i = 0; i < plane.length; i++) {
      let sum = 0;
      for (let dy = -2; dy <= 2; dy++) {
        for (let dx = -2; dx <= 2; dx++) {
          sum += ((3 - Math.abs(dx)) * (3 - Math.abs(dy)) * at((i % width) + dx, Math.floor(i / width) + dy)) / 81;
        }
      }
      expect(out[i]).toBeCloseTo(sum, 5);
    }
  });

  it('blends by the mask, tails included', () => {
    const n = 7 * 3;
    const make = (v: number): Float32Array => new Float32Array(n).fill(v);
    const mask = Float32Array.from({ length: n }, (_, i) => i / (n - 1));
    const out = kernels.scope(() => {
      const base = uploadPlanes(kernels, [make(0.2)], 7, 3);
      blendMasked(kernels, base, uploadPlanes(kernels, [make(1)], 7, 3), uploadPlanes(kernels, [mask], 7, 3));
      return downloadPlanes(kernels, base)[0]!;
    });
    out.forEach((v, i) => expect(v).toBeCloseTo(0.2 + 0.8 * mask[i]!, 6));
  });

  it('halves with rounding and repeats an odd edge', () => {
    const block = { width: 3, height: 1, data: Uint8Array.of(10, 0, 0, 13, 0, 0, 200, 0, 0) };
    expect([...halvePixels(kernels, block).data]).toEqual([12, 0, 0, 200, 0, 0]);
  });

  it('clamps and rounds when packing', () => {
    const packed = kernels.scope(() => {
      const plane = Float32Array.of(-0.5, 0.5, 1.5, 0.25);
      return packPixels(kernels, uploadPlanes(kernels, [plane, plane, plane], 4, 1), 8).data;
    });
    expect([...packed].filter((_, i) => i % 3 === 0)).toEqual([0, 128, 255, 64]);
  });

  it('says which planes do not fit together', () => {
    expect(() =>
      kernels.scope(() => differenceCells(kernels, allocPlanes(kernels, 8, 8), allocPlanes(kernels, 8, 12))),
    ).toThrow('differenceCells.b: expected planes of 8 × 8 px, received "8 × 12"');
  });
});

describe('smoothTwice', () => {
  it.each([
    [64, 48, 4],
    [37, 23, 8],
    [9, 30, 6],
    [5, 3, 2],
    [1, 7, 3],
  ])('of %d × %d px with radius %d is what the plain twin gives, within 1e-6', (width, height, radius) => {
    const plane = samplePlane(width, height, waveTexture(5, 9));
    const wanted = tentSmooth(plane, radius).data;
    const found = kernels.scope(() => {
      const source = uploadPlanes(kernels, [plane.data], width, height);
      smoothTwice(kernels, source, source, radius);
      return planeView(kernels, source).slice();
    });
    found.forEach((v, i) => expect(Math.abs(v - wanted[i]!)).toBeLessThan(1e-6));
  });

  it('leaves what is even as it is, also at the border, and gives its scratch back', () => {
    const before = kernels.scope(() => kernels.alloc(16));
    const out = kernels.scope(() => {
      const source = uploadPlanes(kernels, [new Float32Array(40 * 30).fill(0.37)], 40, 30);
      const into = allocPlanes(kernels, 40, 30);
      smoothTwice(kernels, source, into, 7);
      return planeView(kernels, into).slice();
    });
    out.forEach((v) => expect(v).toBeCloseTo(0.37, 6));
    expect(kernels.scope(() => kernels.alloc(16))).toBe(before);
  });

  it('names a radius it does not take, and planes of two sizes', () => {
    kernels.scope(() => {
      const small = allocPlanes(kernels, 8, 8);
      for (const radius of [0, 65, 1.5, NaN])
        expect(() => smoothTwice(kernels, small, small, radius)).toThrow('a whole number of samples, 1 to 64');
      expect(() => smoothTwice(kernels, small, allocPlanes(kernels, 8, 9), 2)).toThrow('smoothTwice.into');
    });
  });
});

describe('scalarProducts', () => {
  const lists = (count: number, length: number, seed: number): Float32Array => {
    const random = makeRandom(seed);
    return Float32Array.from({ length: count * length }, () => random() - 0.5);
  };

  it.each([
    [7, 5, 64],
    [1, 9, 4],
    [3, 0, 8],
  ])('of %d by %d lists of %d are their sums of products, row by row', (count, others, length) => {
    const [a, b] = [lists(count, length, 3), lists(others, length, 4)];
    const seen: number[] = [];
    scalarProducts(kernels, a, b, length, (i, products) => {
      seen.push(i);
      expect(products).toHaveLength(others);
      products.forEach((found, j) => {
        const wanted = a.subarray(i * length, (i + 1) * length).reduce((sum, v, k) => sum + v * b[j * length + k]!, 0);
        expect(found).toBeCloseTo(wanted, 6);
      });
    });
    expect(seen).toEqual(Array.from({ length: count }, (_, i) => i));
  });

  it('names a length it does not take, and values that are left over', () => {
    const none = (): void => undefined;
    expect(() => scalarProducts(kernels, lists(1, 6, 1), lists(1, 6, 2), 6, none)).toThrow('scalarProducts.length');
    expect(() => scalarProducts(kernels, lists(1, 8, 1), lists(1, 10, 2), 8, none)).toThrow('scalarProducts.b.length');
  });
});
