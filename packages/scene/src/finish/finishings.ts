// What is commonly done to a merge before it is checked: changes of tone, sharpness, size and shape that are nobody's defect.
import { boxSmooth, tentSmooth, type Plane, type Raster } from '@blendrak/core/image';
import { makeRandom, normalPair } from '../world/random';

/** A way to finish a picture. */
export interface Finishing {
  readonly name: string;
  /** The finished picture, encoded; its size may differ. The picture itself is left as it is. */
  apply(picture: Raster, seed: number): Raster;
  /** JPEG quality it is kept at; without it, it is kept as it is. */
  readonly jpegQuality?: number;
}

const withPlanes = (picture: Raster, change: (plane: Plane, channel: number) => Float32Array): Raster => ({
  ...picture,
  planes: picture.planes.map((data, c) => change({ width: picture.width, height: picture.height, data }, c)),
});
const GRAIN = 6 / 255;
/** Two boxes of this radius are a Gaussian of σ 25 px. */
const LOCAL_RADIUS = 30;
const clip = (v: number): number => Math.min(1, Math.max(0, v));

/** Unsharp mask: the picture, plus a share of what a blur of it lacks. */
function unsharp(picture: Raster, radius: number, share: number): Raster {
  return withPlanes(picture, (plane) => {
    const soft = tentSmooth(plane, radius).data;
    return plane.data.map((v, i) => clip(v + share * (v - soft[i]!)));
  });
}

/** A picture seen through a map from its finished px to its own (cubic convolution, R. Keys, IEEE ASSP 29(6), 1981). */
function resampled(
  picture: Raster,
  width: number,
  height: number,
  back: (x: number, y: number) => readonly [number, number],
): Raster {
  const planes = picture.planes.map(() => new Float32Array(width * height));
  const column = (u: number): number => Math.min(picture.width - 1, Math.max(0, u));
  const row = (v: number): number => Math.min(picture.height - 1, Math.max(0, v)) * picture.width;
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const [u, v] = back(x + 0.5, y + 0.5);
      const [left, top] = [Math.floor(u - 0.5), Math.floor(v - 0.5)];
      const [across, down] = [cubicWeights(u - 0.5 - left), cubicWeights(v - 0.5 - top)];
      picture.planes.forEach((data, c) => {
        let sum = 0;
        for (let j = 0; j < 4; j++) {
          const o = row(top - 1 + j);
          for (let i = 0; i < 4; i++) sum += down[j]! * across[i]! * data[o + column(left - 1 + i)]!;
        }
        planes[c]![y * width + x] = clip(sum);
      });
    }
  }
  return { ...picture, width, height, planes };
}

function cubicWeights(t: number): readonly number[] {
  const near = (d: number): number => 1.5 * d ** 3 - 2.5 * d ** 2 + 1;
  const far = (d: number): number => -0.5 * d ** 3 + 2.5 * d ** 2 - 4 * d + 2;
  return [far(1 + t), near(t), near(1 - t), far(2 - t)];
}

/** Grain of 6 levels of 255, a little coarser than a pixel, alike in all channels. */
function grained(picture: Raster, seed: number): Raster {
  const random = makeRandom(seed);
  const { width, height } = picture;
  const white = new Float32Array(width * height);
  for (let i = 0; i < white.length; i += 2) {
    const [a, b] = normalPair(random);
    white[i] = a;
    if (i + 1 < white.length) white[i + 1] = b;
  }
  const clumped = boxSmooth({ width, height, data: white }, 1).data;
  // Equal parts of single pixels and of clumps, whose mean has a third of the spread.
  const grain = white.map((v, i) => v + 3 * clumped[i]!);
  const spread = Math.sqrt(grain.reduce((s, v) => s + v * v, 0) / grain.length);
  return withPlanes(picture, ({ data }) => data.map((v, i) => clip(v + (GRAIN / spread) * grain[i]!)));
}

/** Noise taken away as simple cleaners do: small differences from the neighbourhood go, large ones stay. */
function cleaned(picture: Raster): Raster {
  const least = 0.02;
  return withPlanes(picture, (plane) => {
    const soft = tentSmooth(plane, 1).data;
    return plane.data.map((v, i) => {
      const d = v - soft[i]!;
      return soft[i]! + (d * d * d) / (d * d + least * least);
    });
  });
}

function framed(picture: Raster, marginPx: number): Raster {
  const [width, height] = [picture.width + 2 * marginPx, picture.height + 2 * marginPx];
  return {
    ...withPlanes(picture, ({ data }) => {
      const out = new Float32Array(width * height).fill(1);
      for (let y = 0; y < picture.height; y++)
        out.set(data.subarray(y * picture.width, (y + 1) * picture.width), (y + marginPx) * width + marginPx);
      return out;
    }),
    width,
    height,
  };
}

/** Uprights made parallel: from bottom to top the picture is spread by 4 %; what would have no picture is cut off. */
function keystoned(picture: Raster): Raster {
  const { width, height } = picture;
  const [cx, cy] = [width / 2, height / 2];
  const spread = 0.04;
  const fits = 1 - spread / 2;
  return resampled(picture, width, height, (x, y) => {
    const share = fits / (1 - (spread * (y - cy)) / height);
    return [cx + (x - cx) * share, cy + (y - cy) * share];
  });
}

function cropped(picture: Raster): Raster {
  const [left, top] = [Math.round(0.06 * picture.width), Math.round(0.04 * picture.height)];
  const [width, height] = [picture.width - left - Math.round(0.03 * picture.width), picture.height - 2 * top];
  return {
    ...withPlanes(picture, ({ data }) => {
      const out = new Float32Array(width * height);
      for (let y = 0; y < height; y++) {
        const from = (y + top) * picture.width + left;
        out.set(data.subarray(from, from + width), y * width);
      }
      return out;
    }),
    width,
    height,
  };
}

/** Reduced to 60 %, each pixel filtered over what it stands for. */
function reduced(picture: Raster): Raster {
  const [width, height] = [Math.round(0.6 * picture.width), Math.round(0.6 * picture.height)];
  const [sx, sy] = [picture.width / width, picture.height / height];
  const soft = withPlanes(picture, (plane) => boxSmooth(plane, 1).data);
  const half = withPlanes(picture, (plane, c) => plane.data.map((v, i) => 0.5 * (v + soft.planes[c]![i]!)));
  return resampled(half, width, height, (x, y) => [x * sx, y * sy]);
}

/** All of them, each by itself. */
export const FINISHINGS: readonly Finishing[] = [
  { name: 'sharpened', apply: (picture) => unsharp(picture, 1, 0.8) },
  {
    name: 'curve',
    apply: (picture) => withPlanes(picture, ({ data }) => data.map((v) => clip(v + 0.8 * v * (1 - v) * (2 * v - 1)))),
  },
  { name: 'local-contrast', apply: (picture) => unsharp(picture, LOCAL_RADIUS, 0.6) },
  { name: 'grain', apply: grained },
  {
    name: 'black-and-white',
    apply: (picture) => {
      const [r, g, b] = picture.planes;
      return withPlanes(picture, () => r!.map((v, i) => 0.4 * v + 0.4 * g![i]! + 0.2 * b![i]!));
    },
  },
  { name: 'white-border', apply: (picture) => framed(picture, 60) },
  { name: 'keystone', apply: keystoned },
  { name: 'reduced', apply: reduced },
  { name: 'cropped', apply: cropped },
  { name: 'noise-reduced', apply: cleaned },
  { name: 'jpeg', apply: (picture) => picture, jpegQuality: 60 },
];
