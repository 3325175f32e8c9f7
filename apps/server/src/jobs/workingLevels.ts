// Working copies of pictures for registration, kept while a thread compares one with many.
import { LRUCache } from 'lru-cache';
import { alignLevels, tellingChannel, type AlignLevel, type TellingChannel } from '@blendrak/core/align';
import { LUMA_WEIGHTS, median, noiseAt, type ChannelWeights, type Plane } from '@blendrak/core/image';
import type { PixelBlock } from '@blendrak/core/kernels';
import type { TileFile } from '../codecs';
import { threadKernels } from './kernelHost';
import type { StoredPicture } from './protocol';
import { tileFile } from './sources';

// Registration works on about 1.5 MP: a fortieth of a pixel there is a tenth of one at 24 MP.
export const WORK_LONG_SIDE = 1700;

/** Levels of a picture for registration; `level` is that of its tile file on which they begin. */
export interface Working {
  readonly level: number;
  readonly levels: readonly AlignLevel[];
}

const CACHE = new LRUCache<string, Working>({ max: 6 });

/** The finest level of a tile file that is no longer than that. */
export function levelFor(file: TileFile, longSide: number): number {
  const level = file.header.levels.findIndex((l) => Math.max(l.width, l.height) <= longSide);
  return level < 0 ? file.levels - 1 : level;
}

/** A picture's working copy on a level. */
export function working(picture: StoredPicture, level: number): Working {
  const file = tileFile(picture.tiles);
  const key = `${file.path} ${file.key} ${level}`;
  const known = CACHE.get(key);
  if (known) return known;
  const use = Math.min(level, file.levels - 1);
  const { plane, noise } = tellingPlane(picture, file, use);
  const made: Working = { level: use, levels: alignLevels(threadKernels(), plane, noise) };
  CACHE.set(key, made);
  return made;
}

/** Noise variance of luma on a level. */
export function levelNoise(picture: StoredPicture, level: number): number {
  return median(picture.noise.map((_, i) => noiseAt(picture.noise, i / picture.noise.length))) / 4 ** level;
}

/** Channels are chosen by a view of about this size: thin things are still there. */
const CHOICE_LONG_SIDE = 900;
const CHOSEN = new LRUCache<string, TellingChannel>({ max: 512 });

/** A picture's grey view for registration, encoded 0..1, with its noise variance: luma, or the channel that shows more. */
export function tellingPlane(picture: StoredPicture, file: TileFile, level: number): { plane: Plane; noise: number } {
  const key = `${file.path} ${file.key}`;
  let chosen = CHOSEN.get(key);
  if (!chosen) {
    chosen = tellingChannel(colourPlanes(file, levelFor(file, CHOICE_LONG_SIDE)).planes);
    CHOSEN.set(key, chosen);
  }
  return { plane: greyPlane(file, level, chosen.weights), noise: chosen.noise * levelNoise(picture, level) };
}

function readLevel(file: TileFile, level: number): PixelBlock {
  const { width, height } = file.header.levels[level]!;
  return file.read(level, { x: 0, y: 0, width, height });
}

/** Luma of a level, encoded 0..1. */
export function lumaPlane(file: TileFile, level: number): Plane {
  return greyPlane(file, level, LUMA_WEIGHTS);
}

function greyPlane(file: TileFile, level: number, [r, g, b]: ChannelWeights): Plane {
  const { width, height, data } = readLevel(file, level);
  const top = file.bits === 16 ? 65535 : 255;
  const out = new Float32Array(width * height);
  for (let i = 0; i < out.length; i++) {
    out[i] = (r * data[3 * i]! + g * data[3 * i + 1]! + b * data[3 * i + 2]!) / top;
  }
  return { width, height, data: out };
}

/** R, G, B of a level, encoded 0..1; unit = full-size px per px. */
export function colourPlanes(file: TileFile, level: number): { unit: number; planes: readonly [Plane, Plane, Plane] } {
  const { width, height, data } = readLevel(file, level);
  const top = file.bits === 16 ? 65535 : 255;
  const plane = (c: number): Plane => {
    const out = new Float32Array(width * height);
    for (let i = 0; i < out.length; i++) out[i] = data[3 * i + c]! / top;
    return { width, height, data: out };
  };
  return { unit: 2 ** level, planes: [plane(0), plane(1), plane(2)] };
}
