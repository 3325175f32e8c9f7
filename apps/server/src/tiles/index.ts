// Tiles after the IIIF Image API.
export { infoDocument, parseTileRequest, type TileRequest } from './parseIiif';
export { encodeTile, renderFrameTile, renderPictureTile, renderRepairedTile, type TilePicture } from './renderTile';
