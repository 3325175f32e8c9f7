// A picture seen without its colour: how a frame looks beside a merge that was made black and white.
import { badParameter } from '../checks';
import type { ChannelWeights } from '../image';
import type { PixelSource } from './pixelSource';

/**
 * The same picture with all three channels replaced by a mix of them.
 * @param weights shares of R, G and B that sum to 1
 * @throws ParameterError for shares that do not
 */
export function greySource(source: PixelSource, weights: ChannelWeights): PixelSource {
  const [r, g, b] = weights;
  if (!(Math.abs(r + g + b - 1) < 1e-6)) throw badParameter('greySource.weights', 'shares that sum to 1', weights);
  return {
    width: source.width,
    height: source.height,
    bits: source.bits,
    levels: source.levels,
    read(level, region) {
      const block = source.read(level, region);
      const data = block.data.slice();
      for (let i = 0; i < data.length; i += 3) {
        const grey = r * data[i]! + g * data[i + 1]! + b * data[i + 2]! + 0.5;
        data[i] = grey;
        data[i + 1] = grey;
        data[i + 2] = grey;
      }
      return { width: block.width, height: block.height, data };
    },
  };
}
