// The tiled pyramid on disk: a JSON header of 4096 bytes, then raw 512 px tiles, level by level, row by row.
import { ftruncateSync, readSync, writeSync } from 'node:fs';
import { basename, dirname } from 'node:path';
import { badParameter } from '@blendrak/core/checks';
import type { PixelSource } from '@blendrak/core/frame';
import type { Region } from '@blendrak/core/image';
import type { PixelBlock } from '@blendrak/core/kernels';
import { closeDescriptor, descriptorOf, openFile, type FileIdentity } from './descriptors';
import { requireRoom } from './unpackLimits';

export const TILE_PX = 512;
const HEADER_BYTES = 4096;

export interface TileLevel {
  readonly width: number;
  readonly height: number;
  readonly columns: number;
  readonly rows: number;
  readonly offsetBytes: number;
}

export interface TileHeader {
  readonly format: 'blendrak-tiles';
  readonly version: 1;
  readonly width: number;
  readonly height: number;
  readonly bits: 8 | 16;
  readonly levels: readonly TileLevel[];
}

/** Layout of a picture's tile file: levels halve until one fits a tile. */
export function tileLayout(width: number, height: number, bits: 8 | 16): TileHeader {
  const levels: TileLevel[] = [];
  let offsetBytes = HEADER_BYTES;
  for (let w = width, h = height; ; w = (w + 1) >> 1, h = (h + 1) >> 1) {
    const columns = Math.ceil(w / TILE_PX);
    const rows = Math.ceil(h / TILE_PX);
    levels.push({ width: w, height: h, columns, rows, offsetBytes });
    offsetBytes += columns * rows * tileBytes(bits);
    if (w <= TILE_PX && h <= TILE_PX) break;
  }
  return { format: 'blendrak-tiles', version: 1, width, height, bits, levels };
}

function tileBytes(bits: 8 | 16): number {
  return TILE_PX * TILE_PX * 3 * (bits / 8);
}

/** A tile file for reading and writing. It holds no descriptor of its own: any number may be in use at once. */
export interface TileFile extends PixelSource {
  readonly header: TileHeader;
  readonly path: string;
  /** Names the file itself, whatever lies at its path later. */
  readonly key: string;
  /**
   * Writes pixels that start on tile borders and end on them or on the level's edge.
   * @throws ParameterError for any other part
   */
  write(level: number, x: number, y: number, block: PixelBlock): void;
  close(): void;
}

/** Size of a picture's tile file. */
export function tileFileBytes(width: number, height: number, bits: 8 | 16): number {
  return endOf(tileLayout(width, height, bits));
}

function endOf({ levels, bits }: TileHeader): number {
  const last = levels[levels.length - 1]!;
  return last.offsetBytes + last.columns * last.rows * tileBytes(bits);
}

/**
 * Creates an empty tile file; rename it into place when it is complete.
 * @throws NoRoomError when the disk cannot hold it; nothing is created then
 */
export function createTileFile(path: string, width: number, height: number, bits: 8 | 16): TileFile {
  const header = tileLayout(width, height, bits);
  requireRoom(dirname(path), endOf(header), `the tiles of ${basename(path)}`);
  const file = openFile(path, 'w+');
  const fd = descriptorOf(file);
  const text = Buffer.alloc(HEADER_BYTES, ' ');
  text.write(JSON.stringify(header));
  writeSync(fd, text, 0, HEADER_BYTES, 0);
  ftruncateSync(fd, endOf(header));
  return wrap(file, header);
}

/** Opens an existing tile file. */
export function openTileFile(path: string): TileFile {
  const file = openFile(path, 'r+');
  const text = Buffer.alloc(HEADER_BYTES);
  readSync(descriptorOf(file), text, 0, HEADER_BYTES, 0);
  const header = JSON.parse(text.toString('utf8')) as TileHeader;
  if (header.format !== 'blendrak-tiles' || header.version !== 1) {
    closeDescriptor(file);
    throw new Error(`${path} is not a tile file of version 1`);
  }
  return wrap(file, header);
}

function wrap(file: FileIdentity, header: TileHeader): TileFile {
  const bytes = header.bits / 8;
  const rowBytes = TILE_PX * 3 * bytes;
  const size = tileBytes(header.bits);
  const make = (values: number): Uint8Array | Uint16Array =>
    header.bits === 16 ? new Uint16Array(values) : new Uint8Array(values);
  const tileAt = (level: TileLevel, column: number, row: number): number =>
    level.offsetBytes + (row * level.columns + column) * size;

  return {
    path: file.path,
    key: file.key,
    header,
    width: header.width,
    height: header.height,
    bits: header.bits,
    levels: header.levels.length,
    read(levelIndex: number, region: Region): PixelBlock {
      const fd = descriptorOf(file);
      const level = header.levels[levelIndex]!;
      const data = make(region.width * region.height * 3);
      const out = new Uint8Array(data.buffer);
      const x1 = region.x + region.width;
      const y1 = region.y + region.height;
      for (let row = Math.floor(region.y / TILE_PX); row * TILE_PX < y1; row++) {
        for (let column = Math.floor(region.x / TILE_PX); column * TILE_PX < x1; column++) {
          const tx = Math.max(region.x, column * TILE_PX);
          const ty = Math.max(region.y, row * TILE_PX);
          const tw = Math.min(x1, (column + 1) * TILE_PX) - tx;
          const th = Math.min(y1, (row + 1) * TILE_PX) - ty;
          // Whole rows of the tile in one read: contiguous, and fewer calls matter more than a few spare bytes.
          const first = ty - row * TILE_PX;
          const chunk = Buffer.allocUnsafe(th * rowBytes);
          readSync(fd, chunk, 0, chunk.length, tileAt(level, column, row) + first * rowBytes);
          const from = (tx - column * TILE_PX) * 3 * bytes;
          for (let y = 0; y < th; y++) {
            const start = y * rowBytes + from;
            out.set(
              chunk.subarray(start, start + tw * 3 * bytes),
              ((ty - region.y + y) * region.width + tx - region.x) * 3 * bytes,
            );
          }
        }
      }
      return { width: region.width, height: region.height, data };
    },
    write(levelIndex: number, x: number, y: number, block: PixelBlock): void {
      const level = header.levels[levelIndex]!;
      const fits = (from: number, length: number, whole: number): boolean =>
        from >= 0 &&
        from % TILE_PX === 0 &&
        (from + length === whole || (from + length < whole && length % TILE_PX === 0));
      if (!fits(x, block.width, level.width) || !fits(y, block.height, level.height))
        throw badParameter(
          'tileFile.write',
          `parts of ${level.width} × ${level.height} px from tile to tile of ${TILE_PX} px`,
          [x, y, block.width, block.height],
        );
      const src = new Uint8Array(block.data.buffer, block.data.byteOffset, block.data.byteLength);
      const fd = descriptorOf(file);
      const tile = Buffer.alloc(size);
      for (let ty = 0; ty < block.height; ty += TILE_PX) {
        for (let tx = 0; tx < block.width; tx += TILE_PX) {
          const w = Math.min(TILE_PX, block.width - tx);
          const h = Math.min(TILE_PX, block.height - ty);
          for (let row = 0; row < h; row++) {
            const at = ((ty + row) * block.width + tx) * 3 * bytes;
            tile.set(src.subarray(at, at + w * 3 * bytes), row * rowBytes);
          }
          writeSync(fd, tile, 0, size, tileAt(level, (x + tx) / TILE_PX, (y + ty) / TILE_PX));
        }
      }
    },
    close: () => closeDescriptor(file),
  };
}
