// Pixels, paper and bytes: arithmetic that goes wrong by factors of ten when done by head.
import { badParameter } from '../checks';

const MM_PER_INCH = 25.4;

/**
 * Length on paper of a number of pixels, mm.
 * @throws ParameterError for a density that is not above 0
 */
export function printLengthMm(px: number, ppi: number): number {
  if (!(ppi > 0)) throw badParameter('printLengthMm.ppi', 'more than 0 px per inch', ppi);
  return (px / ppi) * MM_PER_INCH;
}

/**
 * Pixels that a length on paper asks for.
 * @throws ParameterError for a density that is not above 0
 */
export function pixelsForPrint(lengthMm: number, ppi: number): number {
  if (!(ppi > 0)) throw badParameter('pixelsForPrint.ppi', 'more than 0 px per inch', ppi);
  return (lengthMm / MM_PER_INCH) * ppi;
}

/**
 * Size of a picture in memory and uncompressed on disk: w·h·channels·bytes.
 * @param bitsPerChannel 8, 16 or 32
 * @param channels 3 for RGB
 */
export function pictureBytes(width: number, height: number, bitsPerChannel: 8 | 16 | 32, channels = 3): number {
  return width * height * channels * (bitsPerChannel / 8);
}
