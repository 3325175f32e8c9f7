// Masks that were made elsewhere: a grey picture of what shows, packed so that it travels with its operation.
import { strToU8, strFromU8, unzlibSync, zlibSync } from 'fflate';
import { badParameter } from '../checks';
import type { Region } from '../image';

// Base 64 of the platform: browsers and Node both have it, and the core takes neither's types.
declare function btoa(latin1: string): string;
declare function atob(base64: string): string;

/** A grey picture laid over a part of the merge. */
export interface MaskPicture {
  /** The part of the merge that it covers, merge px. */
  readonly box: Region;
  readonly columns: number;
  readonly rows: number;
  /** 8-bit values row by row, zlib (RFC 1950), in base 64: 0 shows nothing of the donor, 255 all. */
  readonly packed: string;
  /** Most of the donor that shows, 0..1. */
  readonly strength: number;
}

/** Finer masks are reduced before they come here. */
const MOST_SIDE = 4096;

/** Values of pictures that have been unpacked. */
const UNPACKED = new WeakMap<MaskPicture, Uint8Array>();

/**
 * Packs a mask, without the empty rows and columns around what it shows.
 * @param values width × height, 0..255, over the whole merge
 * @param merge its size, px
 * @returns null for a mask that shows nothing
 * @throws ParameterError for sizes that do not fit
 */
export function packMaskPicture(
  values: Uint8Array,
  { width, height }: Pick<Region, 'width' | 'height'>,
  merge: Pick<Region, 'width' | 'height'>,
): MaskPicture | null {
  if (values.length !== width * height || width < 1)
    throw badParameter('packMaskPicture.values.length', `${width * height} values`, values.length);
  if (Math.max(width, height) > MOST_SIDE)
    throw badParameter('packMaskPicture.width', `${MOST_SIDE} px on the longer side at most`, Math.max(width, height));
  let [left, top, right, bottom] = [width, height, -1, -1];
  values.forEach((v, i) => {
    if (v === 0) return;
    const [x, y] = [i % width, Math.floor(i / width)];
    [left, top, right, bottom] = [Math.min(left, x), Math.min(top, y), Math.max(right, x), Math.max(bottom, y)];
  });
  if (right < 0) return null;
  const [columns, rows] = [right - left + 1, bottom - top + 1];
  const part = new Uint8Array(columns * rows);
  for (let y = 0; y < rows; y++)
    part.set(values.subarray((top + y) * width + left, (top + y) * width + left + columns), y * columns);
  const [across, down] = [merge.width / width, merge.height / height];
  return {
    box: { x: left * across, y: top * down, width: columns * across, height: rows * down },
    ...{ columns, rows, strength: 1 },
    packed: btoa(strFromU8(zlibSync(part, { level: 9 }), true)),
  };
}

/**
 * Lays a picture of a mask into a mask: the mask becomes the larger of itself and the picture, even between its px.
 * @param mask region.width × region.height values 0..1, changed in place
 * @param region part of the merge the mask covers, in units of `scale` merge px
 * @param scale merge px per mask px, above 0
 * @throws ParameterError for a picture that cannot be read
 * Cost: 30 ns per px within its box.
 */
export function layMaskPicture(mask: Float32Array, region: Region, picture: MaskPicture, scale = 1): void {
  if (mask.length !== region.width * region.height)
    throw badParameter('layMaskPicture.mask.length', `${region.width * region.height} values`, mask.length);
  const values = unpack(picture);
  const { box, columns, rows, strength } = picture;
  const y0 = Math.max(0, Math.floor(box.y / scale - region.y));
  const y1 = Math.min(region.height, Math.ceil((box.y + box.height) / scale - region.y));
  const x0 = Math.max(0, Math.floor(box.x / scale - region.x));
  const x1 = Math.min(region.width, Math.ceil((box.x + box.width) / scale - region.x));
  const at = (column: number, row: number): number =>
    column < 0 || row < 0 || column >= columns || row >= rows ? 0 : values[row * columns + column]!;
  for (let y = y0; y < y1; y++) {
    const v = (((region.y + y + 0.5) * scale - box.y) / box.height) * rows - 0.5;
    const [j, fy] = [Math.floor(v), v - Math.floor(v)];
    for (let x = x0; x < x1; x++) {
      const u = (((region.x + x + 0.5) * scale - box.x) / box.width) * columns - 0.5;
      const [i, fx] = [Math.floor(u), u - Math.floor(u)];
      const value =
        (at(i, j) * (1 - fx) + at(i + 1, j) * fx) * (1 - fy) + (at(i, j + 1) * (1 - fx) + at(i + 1, j + 1) * fx) * fy;
      const k = y * region.width + x;
      mask[k] = Math.max(mask[k]!, (strength * value) / 255);
    }
  }
}

function unpack(picture: MaskPicture): Uint8Array {
  const known = UNPACKED.get(picture);
  if (known) return known;
  const { columns, rows, packed, strength, box } = picture;
  if (!(columns >= 1 && rows >= 1 && Math.max(columns, rows) <= MOST_SIDE))
    throw badParameter('mask.columns', `1 to ${MOST_SIDE}, and as many rows`, [columns, rows]);
  if (!(strength > 0 && strength <= 1)) throw badParameter('mask.strength', 'above 0, up to 1', strength);
  if (!(box.width > 0 && box.height > 0)) throw badParameter('mask.box', 'a part of the merge', box);
  let values: Uint8Array;
  try {
    // Room for just so much: what unpacks to more is cut off.
    values = unzlibSync(strToU8(atob(packed), true), { out: new Uint8Array(columns * rows) });
  } catch (error) {
    throw badParameter('mask.packed', 'zlib in base 64', String(error));
  }
  if (values.length !== columns * rows) throw badParameter('mask.packed', `${columns * rows} values`, values.length);
  UNPACKED.set(picture, values);
  return values;
}
