// Raw pixel files: interleaved RGB, row by row. How rendered frames are handed between the camera's threads in parts.
import { closeSync, openSync, readSync, writeSync } from 'node:fs';
import type { Region } from '@blendrak/core/image';
import type { FrameBlock } from '@blendrak/scene';

/** A picture on disk. */
export interface RawPicture {
  readonly path: string;
  readonly width: number;
  readonly height: number;
  readonly bits: 8 | 16;
}

function bytesOf({ bits }: RawPicture): number {
  return bits === 8 ? 3 : 6;
}

/** Creates the file (or empties it), so that parts can be written in any order. */
export function createRaw({ path }: RawPicture): void {
  closeSync(openSync(path, 'w'));
}

/** Writes a region; regions of one picture may be written by several threads at once. */
export function writeRaw(picture: RawPicture, region: Region, data: Uint8Array | Uint16Array): void {
  const size = bytesOf(picture);
  const bytes = new Uint8Array(data.buffer, data.byteOffset, data.byteLength);
  const fd = openSync(picture.path, 'r+');
  try {
    for (let y = 0; y < region.height; y++) {
      const from = y * region.width * size;
      writeSync(fd, bytes, from, region.width * size, ((region.y + y) * picture.width + region.x) * size);
    }
  } finally {
    closeSync(fd);
  }
}

/** Reads a region. */
export function readRaw(picture: RawPicture, region: Region): FrameBlock {
  const size = bytesOf(picture);
  const bytes = new Uint8Array(region.width * region.height * size);
  const fd = openSync(picture.path, 'r');
  try {
    for (let y = 0; y < region.height; y++) {
      const to = y * region.width * size;
      readSync(fd, bytes, to, region.width * size, ((region.y + y) * picture.width + region.x) * size);
    }
  } finally {
    closeSync(fd);
  }
  return { region, data: picture.bits === 8 ? bytes : new Uint16Array(bytes.buffer) };
}
