// Frames and the merge they lie in at the same places: what tone, grey mix and local contrast are told from.
import type { ColourSamples, ShadePairs } from '@blendrak/core/align';
import { encodedLift, frameToMerge, mergeToFrame, shadeOf, withoutContrast } from '@blendrak/core/frame';
import { evaluateTone, sampleBilinear, type ColourPairs, type Plane, type Region } from '@blendrak/core/image';
import type { PlacedPicture, StoredPicture } from '../protocol';
import { tileFile } from '../sources';
import { colourPlanes, levelFor } from '../workingLevels';

const TONE_LONG_SIDE = 420;
const LEAST_TONE_PAIRS = 200;

/** A picture's colours on a level of it that is small enough to compare tones. */
export interface SmallPicture {
  readonly planes: readonly [Plane, Plane, Plane];
  /** Full-size px per px. */
  readonly unit: number;
}

type Colour = readonly [number, number, number];

export function smallPicture({ tiles }: StoredPicture): SmallPicture {
  return colourPlanes(tileFile(tiles), levelFor(tileFile(tiles), TONE_LONG_SIDE));
}

/** A grid of places over a merge: so many of its small px apart. */
export interface SampleGrid {
  readonly across: number;
  readonly down: number;
  readonly pitch: number;
  /** Merge px per small px. */
  readonly unit: number;
}

export function gridOver({ planes, unit }: SmallPicture, pitch: number): SampleGrid {
  const { width, height } = planes[0];
  return { across: Math.floor(width / pitch), down: Math.floor(height / pitch), pitch, unit };
}

/**
 * A merge's colours at the places of a grid.
 * @param inside what of it is picture, merge px; null for all of it. NaN outside.
 */
export function mergeSamples({ planes }: SmallPicture, grid: SampleGrid, inside: Region | null = null): ColourSamples {
  const isIn = (x: number, y: number): boolean =>
    !inside || (x >= inside.x && y >= inside.y && x <= inside.x + inside.width && y <= inside.y + inside.height);
  return samples(grid, (x, y) => (isIn(x * grid.unit, y * grid.unit) ? colourAt(planes, x, y) : null));
}

/** The same as they were before local contrast was raised. */
export function plainSamples(small: SmallPicture, grid: SampleGrid, { contrast }: PlacedPicture): ColourSamples {
  if (!contrast) return mergeSamples(small, grid);
  const { unit } = grid;
  return samples(grid, (x, y) => withoutContrast(contrast, x * unit, y * unit, colourAt(small.planes, x, y)));
}

/**
 * A frame's colours at the places of a grid, toned to the merge; NaN where it does not reach.
 * @param range of the file's own values outside of which nothing is told; default all
 */
export function frameSamples(
  frame: PlacedPicture,
  grid: SampleGrid,
  range: readonly [number, number] = [0, 1],
): ColourSamples {
  const { geometry, tone, grey, mix } = frame;
  const shade = shadeOf(geometry);
  const { unit, planes } = smallPicture(frame);
  return samples(grid, (x, y) => {
    const at = mergeToFrame(geometry, x * grid.unit, y * grid.unit);
    if (!at) return null;
    const [u, v] = [at[0] / unit, at[1] / unit];
    if (u < 1 || v < 1 || u > planes[0].width - 1 || v > planes[0].height - 1) return null;
    const own = colourAt(planes, u, v);
    if (Math.min(...own) < range[0] || Math.max(...own) > range[1]) return null;
    const [r, g, b] = own;
    const mixed = grey ? grey[0] * r + grey[1] * g + grey[2] * b : null;
    const lift = encodedLift(shade, at[0], at[1]);
    const toned: Colour = [
      lift * evaluateTone(tone[0], mixed ?? r),
      lift * evaluateTone(tone[1], mixed ?? g),
      lift * evaluateTone(tone[2], mixed ?? b),
    ];
    if (!mix) return toned;
    const one = mix[0] * toned[0] + mix[1] * toned[1] + mix[2] * toned[2];
    return [one, one, one];
  });
}

function colourAt(planes: SmallPicture['planes'], x: number, y: number): Colour {
  return [sampleBilinear(planes[0], x, y), sampleBilinear(planes[1], x, y), sampleBilinear(planes[2], x, y)];
}

/** Colours at all places of a grid; NaN where there is none. */
function samples({ across, down, pitch }: SampleGrid, of: (x: number, y: number) => Colour | null): ColourSamples {
  const n = across * down;
  const out = [0, 1, 2].map(() => new Float32Array(n).fill(NaN)) as [Float32Array, Float32Array, Float32Array];
  for (let i = 0; i < n; i++) {
    const colour = of(((i % across) + 0.5) * pitch, (Math.floor(i / across) + 0.5) * pitch);
    if (colour) out.forEach((plane, c) => (plane[i] = colour[c]!));
  }
  return out;
}

/**
 * Colours of a frame and of a merge at the same places, the merge's without what it was freed of by the lens's vignetting as far as that is
 * known; null where there are too few to say anything.
 */
export function colourPairs(frame: PlacedPicture, merge: StoredPicture): ShadePairs | null {
  const [from, to] = [smallPicture(frame), smallPicture(merge)];
  const { contrast } = frame;
  const shade = shadeOf(frame.geometry);
  const middle = { x: (from.planes[0].width * from.unit) / 2, y: (from.planes[0].height * from.unit) / 2 };
  const lens = shade ?? {
    centre: [middle.x, middle.y] as const,
    halfDiagonalPx: Math.hypot(middle.x, middle.y),
  };
  const { width, height } = from.planes[0];
  const empty = (): [Float32Array, Float32Array, Float32Array] => [
    new Float32Array(width * height),
    new Float32Array(width * height),
    new Float32Array(width * height),
  ];
  const [source, target] = [empty(), empty()];
  const radius = new Float32Array(width * height);
  let count = 0;
  for (let y = 1; y < height - 1; y++) {
    for (let x = 1; x < width - 1; x++) {
      const [u, v] = [(x + 0.5) * from.unit, (y + 0.5) * from.unit];
      const at = frameToMerge(frame.geometry, u, v);
      if (!at) continue;
      const px = at[0] / to.unit;
      const py = at[1] / to.unit;
      if (px < 1 || py < 1 || px > to.planes[0].width - 1 || py > to.planes[0].height - 1) continue;
      const shown = colourAt(to.planes, px, py);
      const plain = contrast ? withoutContrast(contrast, at[0], at[1], shown) : shown;
      const lift = encodedLift(shade, u, v);
      for (let c = 0; c < 3; c++) {
        source[c]![count] = from.planes[c]!.data[y * width + x]!;
        target[c]![count] = plain[c]! / lift;
      }
      radius[count] = Math.hypot(u - lens.centre[0], v - lens.centre[1]) / lens.halfDiagonalPx;
      count++;
    }
  }
  if (count < LEAST_TONE_PAIRS) return null;
  const upTo = ([r, g, b]: ColourPairs['source']): ColourPairs['source'] => [
    r.subarray(0, count),
    g.subarray(0, count),
    b.subarray(0, count),
  ];
  return { source: upTo(source), target: upTo(target), radius: radius.subarray(0, count) };
}
