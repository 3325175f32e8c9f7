// Flat TIFF out: uncompressed RGB strips, 8 or 16 bits, profile kept, written strip by strip so that size does not matter.
import { closeSync, openSync, writeSync } from 'node:fs';
import type { PixelBlock } from '@blendrak/core/kernels';

const TYPE = { short: 3, long: 4, rational: 5, undefined: 7 } as const;
const CLASSIC_LIMIT_BYTES = 4_200_000_000;

/**
 * Writes a baseline TIFF 6.0 file.
 * @param readRows delivers `rows` full-width rows from y
 * @throws Error when the picture would not fit a classic TIFF (4 GB)
 */
export function writeTiff(
  path: string,
  width: number,
  height: number,
  bits: 8 | 16,
  icc: Buffer | null,
  readRows: (y: number, rows: number) => PixelBlock,
): void {
  const rowBytes = width * 3 * (bits / 8);
  if (rowBytes * height > CLASSIC_LIMIT_BYTES) {
    throw new Error(`${width} × ${height} px with ${bits} bits needs more than the 4 GB a TIFF can hold`);
  }
  const rowsPerStrip = Math.max(1, Math.floor(4_000_000 / rowBytes));
  const strips = Math.ceil(height / rowsPerStrip);
  const { header, dataOffset } = makeHeader(width, height, bits, icc, rowsPerStrip, strips, rowBytes);
  const fd = openSync(path, 'w');
  try {
    writeSync(fd, header);
    let at = dataOffset;
    for (let y = 0; y < height; y += rowsPerStrip) {
      const block = readRows(y, Math.min(rowsPerStrip, height - y));
      const data = block.data;
      writeSync(fd, new Uint8Array(data.buffer, data.byteOffset, data.byteLength), 0, data.byteLength, at);
      at += data.byteLength;
    }
  } finally {
    closeSync(fd);
  }
}

/** A whole small picture as a TIFF in memory: how pixels with a profile are handed to libvips. */
export function tiffBuffer(block: PixelBlock, bits: 8 | 16, icc: Buffer | null): Buffer {
  const rowBytes = block.width * 3 * (bits / 8);
  const { header } = makeHeader(block.width, block.height, bits, icc, block.height, 1, rowBytes);
  return Buffer.concat([header, new Uint8Array(block.data.buffer, block.data.byteOffset, block.data.byteLength)]);
}

function makeHeader(
  width: number,
  height: number,
  bits: 8 | 16,
  icc: Buffer | null,
  rowsPerStrip: number,
  strips: number,
  rowBytes: number,
): { header: Buffer; dataOffset: number } {
  const entries = icc ? 14 : 13;
  const extra = 8 + 2 + entries * 12 + 4;
  const bitsAt = extra;
  const resolutionAt = bitsAt + 8;
  const offsetsAt = resolutionAt + 16;
  const countsAt = offsetsAt + strips * 4;
  const iccAt = countsAt + strips * 4;
  const dataOffset = Math.ceil((iccAt + (icc?.length ?? 0)) / 16) * 16;
  const b = Buffer.alloc(dataOffset);
  b.write('II', 0, 'latin1');
  b.writeUInt16LE(42, 2);
  b.writeUInt32LE(8, 4);
  b.writeUInt16LE(entries, 8);
  let at = 10;
  const entry = (tag: number, type: number, count: number, value: number): void => {
    b.writeUInt16LE(tag, at);
    b.writeUInt16LE(type, at + 2);
    b.writeUInt32LE(count, at + 4);
    if (type === TYPE.short && count === 1) b.writeUInt16LE(value, at + 8);
    else b.writeUInt32LE(value, at + 8);
    at += 12;
  };
  entry(256, TYPE.long, 1, width);
  entry(257, TYPE.long, 1, height);
  entry(258, TYPE.short, 3, bitsAt);
  entry(259, TYPE.short, 1, 1);
  entry(262, TYPE.short, 1, 2);
  entry(273, TYPE.long, strips, strips === 1 ? dataOffset : offsetsAt);
  entry(274, TYPE.short, 1, 1);
  entry(277, TYPE.short, 1, 3);
  entry(278, TYPE.long, 1, rowsPerStrip);
  entry(279, TYPE.long, strips, strips === 1 ? rowBytes * height : countsAt);
  entry(282, TYPE.rational, 1, resolutionAt);
  entry(283, TYPE.rational, 1, resolutionAt + 8);
  entry(296, TYPE.short, 1, 2);
  if (icc) entry(34675, TYPE.undefined, icc.length, iccAt);
  for (let c = 0; c < 3; c++) b.writeUInt16LE(bits, bitsAt + 2 * c);
  for (const k of [0, 8]) {
    b.writeUInt32LE(300, resolutionAt + k);
    b.writeUInt32LE(1, resolutionAt + k + 4);
  }
  for (let s = 0; s < strips; s++) {
    b.writeUInt32LE(dataOffset + s * rowsPerStrip * rowBytes, offsetsAt + 4 * s);
    b.writeUInt32LE(Math.min(rowsPerStrip, height - s * rowsPerStrip) * rowBytes, countsAt + 4 * s);
  }
  icc?.copy(b, iccAt);
  return { header: b, dataOffset };
}
