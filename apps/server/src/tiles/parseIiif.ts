// Requests of the IIIF Image API 3 (level 2 except rotation and percentages of regions).
import { RequestError } from '../shared/requestError';

export interface TileRequest {
  /** Part of the full picture in px. */
  readonly region: { x: number; y: number; width: number; height: number };
  readonly width: number;
  readonly height: number;
  readonly format: 'jpg' | 'png';
}

const LARGEST_RESULT_PX = 4096;

/**
 * Parses region, size, rotation and quality.format against a picture's size.
 * @throws RequestError 400 saying which part is wrong and what is accepted
 */
export function parseTileRequest(
  parts: { region: string; size: string; rotation: string; file: string },
  width: number,
  height: number,
): TileRequest {
  const region = parseRegion(parts.region, width, height);
  const size = parseSize(parts.size, region.width, region.height);
  if (parts.rotation !== '0') throw new RequestError(400, `rotation: only 0 is served, received ${parts.rotation}.`);
  const match = /^(default|color)\.(jpg|png)$/.exec(parts.file);
  if (!match)
    throw new RequestError(
      400,
      `quality.format: default.jpg, default.png, color.jpg or color.png, received ${parts.file}.`,
    );
  return { region, ...size, format: match[2] as 'jpg' | 'png' };
}

function parseRegion(text: string, width: number, height: number): TileRequest['region'] {
  if (text === 'full') return { x: 0, y: 0, width, height };
  if (text === 'square') {
    const side = Math.min(width, height);
    return { x: Math.floor((width - side) / 2), y: Math.floor((height - side) / 2), width: side, height: side };
  }
  const numbers = text.split(',').map(Number);
  const [x, y, w, h] = numbers;
  if (
    numbers.length !== 4 ||
    numbers.some((n) => !Number.isInteger(n) || n < 0) ||
    !w ||
    !h ||
    x! >= width ||
    y! >= height
  ) {
    throw new RequestError(400, `region: full, square or x,y,w,h inside ${width} × ${height} px, received ${text}.`);
  }
  return { x: x!, y: y!, width: Math.min(w, width - x!), height: Math.min(h, height - y!) };
}

function parseSize(text: string, width: number, height: number): { width: number; height: number } {
  const bad = (): RequestError =>
    new RequestError(
      400,
      `size: max, w, ,h w,h or !w,h up to ${LARGEST_RESULT_PX} px and not above the region, received ${text}.`,
    );
  let w: number;
  let h: number;
  if (text === 'max') [w, h] = [width, height];
  else {
    const match = /^(!?)(\d*),(\d*)$/.exec(text);
    if (!match || (match[2] === '' && match[3] === '')) throw bad();
    const a = Number(match[2]);
    const b = Number(match[3]);
    if (match[1] === '!') {
      // Confined, a picture is as large as it can be, never larger than it is (IIIF Image API 3.0, 4.2): asking for more is no fault.
      const s = Math.min(1, a / width, b / height, LARGEST_RESULT_PX / Math.max(width, height));
      [w, h] = [Math.round(width * s), Math.round(height * s)];
    } else if (match[2] === '') [w, h] = [Math.round((width * b) / height), b];
    else if (match[3] === '') [w, h] = [a, Math.round((height * a) / width)];
    else [w, h] = [a, b];
  }
  if (w < 1 || h < 1) [w, h] = [Math.max(1, w), Math.max(1, h)];
  if (w > LARGEST_RESULT_PX || h > LARGEST_RESULT_PX || w > width || h > height) throw bad();
  return { width: w, height: h };
}

/** The info document of a picture. */
export function infoDocument(id: string, width: number, height: number): unknown {
  const scaleFactors = [];
  for (let f = 1; Math.max(width, height) / f > 256; f *= 2) scaleFactors.push(f);
  return {
    '@context': 'http://iiif.io/api/image/3/context.json',
    id,
    type: 'ImageService3',
    protocol: 'http://iiif.io/api/image',
    profile: 'level1',
    width,
    height,
    maxWidth: LARGEST_RESULT_PX,
    maxHeight: LARGEST_RESULT_PX,
    tiles: [{ width: 512, height: 512, scaleFactors }],
    extraFormats: ['png'],
    extraFeatures: ['regionSquare', 'sizeByWh', 'sizeByConfinedWh'],
  };
}
