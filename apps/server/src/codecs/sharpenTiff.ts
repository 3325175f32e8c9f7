// Sharpening for output, of a picture that is done: edges only, grain is left as it is.
import sharp, { type SharpOptions } from 'sharp';

/** How an edge is raised (libvips sharpens the lightness): what differs from its surroundings by less than one step of lightness stays, edges gain twice what they stand out by. */
export const EDGES_ONLY = { m1: 0, m2: 2, x1: 1 } as const;

const OPTIONS: SharpOptions = { limitInputPixels: false };

/**
 * Writes a sharpened copy of a TIFF of 16 bits, with its profile.
 * @param sigmaPx of the blur that edges are told from, px
 */
export async function sharpenTiff(tiff: string, out: string, sigmaPx: number): Promise<void> {
  await sharp(tiff, OPTIONS)
    .sharpen({ sigma: sigmaPx, ...EDGES_ONLY })
    .toColourspace('rgb16')
    .keepIccProfile()
    .tiff({ compression: 'deflate', predictor: 'horizontal' })
    .toFile(out);
}
