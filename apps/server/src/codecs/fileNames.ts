// Files by their names: what may be a picture, and what is a camera's raw file.
const PICTURE = /\.(jpe?g|png|tiff?|webp|avif|ora)$/i;
const RAW = /\.(3fr|arw|cr[23w]|dng|iiq|nef|nrw|orf|pef|raf|raw|rw2|srw|x3f)$/i;

export function isPictureName(name: string): boolean {
  return PICTURE.test(name);
}

export function isRawName(name: string): boolean {
  return RAW.test(name);
}

/** What to do about a raw file. */
export const RAW_ADVICE =
  'pictures: develop all frames of a set with equal settings, lens corrections on, to 16-bit TIFF first';
