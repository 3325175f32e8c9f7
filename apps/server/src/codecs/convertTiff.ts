// Other formats from our flat TIFF, profile and values kept.
import sharp from 'sharp';

/** Writes a PNG with 16 bits (name ends in .png) or a JPEG with 8 (any other name) from a TIFF. */
export async function convertTiff(tiff: string, out: string): Promise<void> {
  const picture = sharp(tiff, { limitInputPixels: false }).keepIccProfile();
  if (/\.png$/i.test(out)) await picture.toColourspace('rgb16').png({ compressionLevel: 4 }).toFile(out);
  else await picture.jpeg({ quality: 94, chromaSubsampling: '4:4:4' }).toFile(out);
}
