// Files in and out, and the tile files between.
export { expandFile, type PartFile } from './expandFile';
export { InputError } from './inputError';
export { isPictureName, isRawName, RAW_ADVICE } from './fileNames';
export {
  ACCEPTED_FILES,
  decodePicture,
  decodeGrey,
  decodeSmall,
  decodeToFile,
  fileLimitBytes,
  inspectPicture,
  requireFile,
  type PictureInfo,
} from './readPicture';
export { readExif } from './readExif';
export { writeThumbnail } from './writeThumbnail';
export { closeDescriptors } from './descriptors';
export { BROKEN_PROFILE } from './profile';
export { requireRoom } from './unpackLimits';
export {
  createTileFile,
  openTileFile,
  TILE_PX,
  tileFileBytes,
  tileLayout,
  type TileFile,
  type TileHeader,
} from './tileFile';
export { buildPyramid } from './buildPyramid';
export { beginTiff, tiffBuffer, writeTiff, writeTiffRows, type TiffLayout, type TiffSettings } from './writeTiff';
export { convertTiff } from './convertTiff';
export { screenJpeg } from './screenJpeg';
export { sharpenTiff } from './sharpenTiff';
export { writeOpenRaster, type RasterLayer } from './openRaster';
