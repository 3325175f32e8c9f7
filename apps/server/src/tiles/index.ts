// Tiles after the IIIF Image API.
export { infoDocument, parseTileRequest, type TileRequest } from './parseIiif';
