// Flat TIFF out: uncompressed RGB strips, 8 or 16 bits, profile kept, written strip by strip so that size does not matter;
// above 4 GB as BigTIFF.
import { closeSync, openSync, writeFileSync, writeSync } from 'node:fs';
import { basename, dirname } from 'node:path';
import type { PixelBlock } from '@blendrak/core/kernels';
import { requireRoom } from './unpackLimits';

const TYPE = { ascii: 2, short: 3, long: 4, rational: 5, undefined: 7, long8: 16 } as const;

/** Camera settings for the file's Exif directory. */
export interface TiffSettings {
  readonly make: string;
  readonly model: string;
  readonly lens: string;
  /** "YYYY:MM:DD hh:mm:ss", as Exif writes it. */
  readonly takenAt: string;
  readonly exposureS: number;
  readonly fNumber: number;
  readonly focalLengthMm: number;
  /** Focal length that would see the same on 36 × 24 mm, whole mm as Exif has it. */
  readonly focalLength35Mm: number;
  readonly iso: number;
  /** Left out when at infinity. */
  readonly focusDistanceM: number | null;
}
const CLASSIC_LIMIT_BYTES = 4_200_000_000;

/** Where the rows of a TIFF that was begun belong. */
export interface TiffLayout {
  readonly dataOffset: number;
  readonly rowBytes: number;
  readonly rowsPerStrip: number;
}

/**
 * Begins a baseline TIFF 6.0 file: its directory, and room for its rows; a BigTIFF (the same with offsets of 8 bytes) where 4 GB
 * do not hold it.
 * @param wide forces BigTIFF; default: only where it is needed
 * @throws NoRoomError when the disk cannot hold the whole file; nothing is written then
 */
export function beginTiff(
  path: string,
  width: number,
  height: number,
  bits: 8 | 16,
  icc: Buffer | null,
  settings: TiffSettings | null = null,
  wide = width * height * 3 * (bits / 8) > CLASSIC_LIMIT_BYTES,
): TiffLayout {
  const rowBytes = width * 3 * (bits / 8);
  const rowsPerStrip = Math.max(1, Math.floor(4_000_000 / rowBytes));
  const strips = Math.ceil(height / rowsPerStrip);
  const { header, dataOffset } = makeHeader(width, height, bits, icc, rowsPerStrip, strips, settings, wide);
  requireRoom(dirname(path), dataOffset + rowBytes * height, basename(path));
  writeFileSync(path, header);
  return { dataOffset, rowBytes, rowsPerStrip };
}

/** Writes full-width rows from y into a TIFF that was begun; several threads may write different rows at once. */
export function writeTiffRows(path: string, layout: TiffLayout, y: number, { data }: PixelBlock): void {
  const fd = openSync(path, 'r+');
  try {
    const at = layout.dataOffset + y * layout.rowBytes;
    writeSync(fd, new Uint8Array(data.buffer, data.byteOffset, data.byteLength), 0, data.byteLength, at);
  } finally {
    closeSync(fd);
  }
}

/**
 * Writes a whole TIFF, strip by strip; see `beginTiff`.
 * @param readRows delivers `rows` full-width rows from y
 * @throws NoRoomError when the disk cannot hold it; nothing is written then
 */
export function writeTiff(
  path: string,
  width: number,
  height: number,
  bits: 8 | 16,
  icc: Buffer | null,
  readRows: (y: number, rows: number) => PixelBlock,
  settings: TiffSettings | null = null,
  wide?: boolean,
): void {
  const layout = beginTiff(path, width, height, bits, icc, settings, wide);
  for (let y = 0; y < height; y += layout.rowsPerStrip)
    writeTiffRows(path, layout, y, readRows(y, Math.min(layout.rowsPerStrip, height - y)));
}

/** A whole small picture as a TIFF in memory: how pixels with a profile are handed to libvips. */
export function tiffBuffer(block: PixelBlock, bits: 8 | 16, icc: Buffer | null): Buffer {
  const { header } = makeHeader(block.width, block.height, bits, icc, block.height, 1);
  return Buffer.concat([header, new Uint8Array(block.data.buffer, block.data.byteOffset, block.data.byteLength)]);
}

function makeHeader(
  width: number,
  height: number,
  bits: 8 | 16,
  icc: Buffer | null,
  rowsPerStrip: number,
  strips: number,
  settings: TiffSettings | null = null,
  wide = false,
): { header: Buffer; dataOffset: number } {
  // In a BigTIFF numbers of the directory that were 4 bytes long are 8, and counts of entries 8 instead of 2.
  if (wide && settings) throw new Error('camera settings are written to files below 4 GB only');
  const word = wide ? 8 : 4;
  const directoryAt = wide ? 16 : 8;
  const rowBytes = width * 3 * (bits / 8);
  const entries = 13 + (icc ? 1 : 0) + (settings ? 3 : 0);
  const bitsAt = directoryAt + (wide ? 8 + entries * 20 : 2 + entries * 12) + word;
  const resolutionAt = bitsAt + 8;
  const offsetsAt = resolutionAt + 16;
  const countsAt = offsetsAt + strips * word;
  const iccAt = countsAt + strips * word;
  const exifAt = Math.ceil((iccAt + (icc?.length ?? 0)) / 2) * 2;
  const exif = settings ? exifDirectory(settings, exifAt) : null;
  const dataOffset = Math.ceil((exifAt + (exif?.data.length ?? 0)) / 16) * 16;
  const b = Buffer.alloc(dataOffset);
  const writeWord = (value: number, to: number): void => {
    if (wide) b.writeBigUInt64LE(BigInt(value), to);
    else b.writeUInt32LE(value, to);
  };
  b.write('II', 0, 'latin1');
  b.writeUInt16LE(wide ? 43 : 42, 2);
  if (wide) b.writeUInt16LE(8, 4);
  writeWord(directoryAt, wide ? 8 : 4);
  if (wide) writeWord(entries, directoryAt);
  else b.writeUInt16LE(entries, directoryAt);
  let at = directoryAt + (wide ? 8 : 2);
  const entry = (tag: number, type: number, count: number, value: number): void => {
    b.writeUInt16LE(tag, at);
    b.writeUInt16LE(type, at + 2);
    writeWord(count, at + 4);
    if (type === TYPE.short && count === 1) b.writeUInt16LE(value, at + 4 + word);
    else if (type === TYPE.long) b.writeUInt32LE(value, at + 4 + word);
    else writeWord(value, at + 4 + word);
    at += 4 + 2 * word;
  };
  const offsetType = wide ? TYPE.long8 : TYPE.long;
  entry(256, TYPE.long, 1, width);
  entry(257, TYPE.long, 1, height);
  // Values of up to a word stand in the entry itself: in a BigTIFF the three depths and both resolutions.
  entry(258, TYPE.short, 3, wide ? bits * (1 + 2 ** 16 + 2 ** 32) : bitsAt);
  entry(259, TYPE.short, 1, 1);
  entry(262, TYPE.short, 1, 2);
  if (settings && exif) {
    entry(271, TYPE.ascii, settings.make.length + 1, exif.makeAt);
    entry(272, TYPE.ascii, settings.model.length + 1, exif.modelAt);
  }
  entry(273, offsetType, strips, strips === 1 ? dataOffset : offsetsAt);
  entry(274, TYPE.short, 1, 1);
  entry(277, TYPE.short, 1, 3);
  entry(278, TYPE.long, 1, rowsPerStrip);
  entry(279, offsetType, strips, strips === 1 ? rowBytes * height : countsAt);
  for (const [tag, valueAt] of [
    [282, resolutionAt],
    [283, resolutionAt + 8],
  ] as const)
    entry(tag, TYPE.rational, 1, wide ? 300 + 2 ** 32 : valueAt);
  entry(296, TYPE.short, 1, 2);
  if (exif) entry(34665, TYPE.long, 1, exifAt);
  if (icc) entry(34675, TYPE.undefined, icc.length, iccAt);
  for (let c = 0; c < 3; c++) b.writeUInt16LE(bits, bitsAt + 2 * c);
  for (const k of [0, 8]) {
    b.writeUInt32LE(300, resolutionAt + k);
    b.writeUInt32LE(1, resolutionAt + k + 4);
  }
  for (let s = 0; s < strips; s++) {
    writeWord(dataOffset + s * rowsPerStrip * rowBytes, offsetsAt + word * s);
    writeWord(Math.min(rowsPerStrip, height - s * rowsPerStrip) * rowBytes, countsAt + word * s);
  }
  icc?.copy(b, iccAt);
  exif?.data.copy(b, exifAt);
  return { header: b, dataOffset };
}

/** The Exif directory (TIFF 6.0 layout, tags after Exif 2.32) with its values, placed at an offset of the file. */
function exifDirectory(s: TiffSettings, at: number): { data: Buffer; makeAt: number; modelAt: number } {
  const rationals: [tag: number, value: number, denominator: number][] = [
    [33434, s.exposureS, 1_000_000],
    [33437, s.fNumber, 10],
  ];
  if (s.focusDistanceM !== null) rationals.push([37382, s.focusDistanceM, 10_000]);
  rationals.push([37386, s.focalLengthMm, 10]);
  const texts: [tag: number, text: string][] = [
    [36867, s.takenAt],
    [42036, s.lens],
  ];
  const entries = rationals.length + texts.length + 2;
  const valuesAt = 2 + entries * 12 + 4;
  const textBytes = [s.make, s.model, ...texts.map(([, t]) => t)].reduce((n, t) => n + Math.max(5, t.length + 1), 0);
  const data = Buffer.alloc(valuesAt + rationals.length * 8 + textBytes);
  let room = valuesAt;
  const putText = (text: string): number => {
    // Texts of up to four bytes would belong into the entry itself: they are padded beyond that instead.
    const from = room;
    data.write(text, from, 'latin1');
    room += Math.max(5, text.length + 1);
    return at + from;
  };
  const rows: [tag: number, type: number, count: number, value: number][] = rationals.map(
    ([tag, value, denominator]) => {
      const from = room;
      data.writeUInt32LE(Math.round(value * denominator), from);
      data.writeUInt32LE(denominator, from + 4);
      room += 8;
      return [tag, TYPE.rational, 1, at + from];
    },
  );
  rows.push([34855, TYPE.short, 1, s.iso], [41989, TYPE.short, 1, s.focalLength35Mm]);
  for (const [tag, text] of texts) rows.push([tag, TYPE.ascii, text.length + 1, putText(text)]);
  rows.sort((a, b) => a[0] - b[0]);
  data.writeUInt16LE(rows.length, 0);
  rows.forEach(([tag, type, count, value], i) => {
    const to = 2 + i * 12;
    data.writeUInt16LE(tag, to);
    data.writeUInt16LE(type, to + 2);
    data.writeUInt32LE(count, to + 4);
    if (type === TYPE.short) data.writeUInt16LE(value, to + 8);
    else data.writeUInt32LE(value, to + 8);
  });
  return { data, makeAt: putText(s.make), modelAt: putText(s.model) };
}
