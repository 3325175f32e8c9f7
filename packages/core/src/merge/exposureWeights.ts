// How much a pixel of a bracket's frame has to say: contrast, colour, and how well it is exposed.
import { badParameter } from '../checks';
import { allocPlanes, planeView, type KernelPlanes, type Kernels } from '../kernels';

/** Well-exposedness of an encoded value, as a table of 0..1; σ = 0.2 about the middle. */
const TABLE_SIZE = 1024;
const EXPOSED = Float32Array.from({ length: TABLE_SIZE + 1 }, (_, i) =>
  Math.exp(-((i / TABLE_SIZE - 0.5) ** 2) / (2 * 0.2 ** 2)),
);
/** What contrast and colour count at least: plain and grey places go by exposure alone instead of by noise. */
const LEAST_CONTRAST = 0.004;
const LEAST_SPREAD = 0.01;
/** What no measure brings below: a place that is poor in all frames still gets a mean. */
const LEAST = 1e-9;

/**
 * How well each pixel of a frame is exposed.
 * @param rgbv R, G, B (encoded, may overshoot) and valid
 * @param share extra share by pixel (a motion mask); null for 1 everywhere
 * @returns one plane in kernel memory, 0 where the frame has no picture
 * @throws ParameterError when there are not four planes
 * Cost: about 15 ns per px.
 * Source: T. Mertens, J. Kautz and F. Van Reeth, Pacific Graphics 2007 (all exponents 1),
 * with floors under contrast and colour.
 */
export function exposureWeights(kernels: Kernels, rgbv: KernelPlanes, share: Float32Array | null): KernelPlanes {
  if (rgbv.count !== 4) throw badParameter('exposureWeights.rgbv.count', '4 planes', rgbv.count);
  const { width, height } = rgbv;
  const out = allocPlanes(kernels, width, height);
  const n = width * height;
  const r = planeView(kernels, rgbv, 0);
  const g = planeView(kernels, rgbv, 1);
  const b = planeView(kernels, rgbv, 2);
  const valid = planeView(kernels, rgbv, 3);
  const w = planeView(kernels, out);
  // Luma first, in the place of the result; contrast overwrites it from behind by one row.
  const luma = new Float32Array(n);
  for (let i = 0; i < n; i++) luma[i] = 0.2126 * r[i]! + 0.7152 * g[i]! + 0.0722 * b[i]!;
  for (let y = 0; y < height; y++) {
    const up = y > 0 ? -width : 0;
    const down = y < height - 1 ? width : 0;
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (valid[i]! < 0.5) {
        w[i] = 0;
        continue;
      }
      const left = x > 0 ? -1 : 0;
      const right = x < width - 1 ? 1 : 0;
      let contrast = luma[i + up]! + luma[i + down]! + luma[i + left]! + luma[i + right]! - 4 * luma[i]!;
      if (contrast < 0) contrast = -contrast;
      const p = r[i]! < 0 ? 0 : r[i]! > 1 ? 1 : r[i]!;
      const q = g[i]! < 0 ? 0 : g[i]! > 1 ? 1 : g[i]!;
      const s = b[i]! < 0 ? 0 : b[i]! > 1 ? 1 : b[i]!;
      const mean = (p + q + s) / 3;
      const spread = Math.sqrt(((p - mean) * (p - mean) + (q - mean) * (q - mean) + (s - mean) * (s - mean)) / 3);
      const exposed =
        EXPOSED[(p * TABLE_SIZE + 0.5) | 0]! *
        EXPOSED[(q * TABLE_SIZE + 0.5) | 0]! *
        EXPOSED[(s * TABLE_SIZE + 0.5) | 0]!;
      w[i] = ((contrast + LEAST_CONTRAST) * (spread + LEAST_SPREAD) * exposed + LEAST) * (share ? share[i]! : 1);
    }
  }
  return out;
}
