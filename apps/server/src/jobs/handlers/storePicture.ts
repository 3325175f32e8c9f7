// Task `store`: a picture file becomes a tile file.
import { closeSync, openSync, readSync, rmSync } from 'node:fs';
import { warpFrameLuma, SAME_PLACE } from '@blendrak/core/frame';
import { dirname } from 'node:path';
import { estimateNoise, IDENTITY_TONE, type NoiseCurve, type Plane } from '@blendrak/core/image';
import { CELL_PX, focusBands, meanCells, planeView, type Kernels } from '@blendrak/core/kernels';
import {
  buildPyramid,
  createTileFile,
  decodePicture,
  decodeToFile,
  inspectPicture,
  readExif,
  requireRoom,
  TILE_PX,
  tileFileBytes,
  type PictureInfo,
  type TileFile,
} from '../../codecs';
import { threadKernels } from '../kernelHost';
import type { TaskRequest, TaskResponse } from '../protocol';
import { tileFile } from '../sources';

export async function storePicture({ path, name, out }: TaskRequest<'store'>): Promise<TaskResponse<'store'>> {
  const info = await inspectPicture(path, name);
  const exif = await readExif(path);
  requireRoom(dirname(out), roomFor(info), `reading ${name}`);
  const rows = await openRows(path, info, `${out}.v`, name);
  const kernels = threadKernels();
  const file = createTileFile(out, info.width, info.height, info.bits);
  try {
    writeFullSize(file, rows.read);
    buildPyramid(kernels, file);
    const noise = measureNoise(kernels, file);
    return {
      width: info.width,
      height: info.height,
      bits: info.bits,
      profileName: info.profileName,
      icc: info.icc ? new Uint8Array(info.icc) : null,
      exif,
      noise,
    };
  } finally {
    file.close();
    rows.close();
  }
}

/** Larger pictures go through a file of rows, so that memory stays at a strip. */
const HELD_WHOLE_PX = 100e6;

function isHeldWhole({ width, height }: PictureInfo): boolean {
  return width * height <= Number(process.env['BLENDRAK_HELD_WHOLE_PX'] ?? HELD_WHOLE_PX);
}

/** Bytes on disk while a picture is being read, before a byte of it is unpacked. */
function roomFor(info: PictureInfo): number {
  const { width, height, bits } = info;
  return tileFileBytes(width, height, bits) + (isHeldWhole(info) ? 0 : width * height * 3 * (bits / 8));
}

interface Rows {
  read(y: number, rows: number): Uint8Array | Uint16Array;
  close(): void;
}

async function openRows(path: string, info: PictureInfo, scratch: string, name: string): Promise<Rows> {
  const { width, bits } = info;
  if (isHeldWhole(info)) {
    const data = await decodePicture(path, info, name);
    return {
      read: (y, rows) => data.subarray(y * width * 3, (y + rows) * width * 3),
      close: () => undefined,
    };
  }
  const remove = (): void => rmSync(scratch, { force: true });
  try {
    const start = await decodeToFile(path, info, scratch, name);
    const fd = openSync(scratch, 'r');
    return {
      read: (y, rows) => {
        const values = rows * width * 3;
        const data = bits === 16 ? new Uint16Array(values) : new Uint8Array(values);
        readSync(fd, new Uint8Array(data.buffer), 0, data.byteLength, start + y * width * 3 * (bits / 8));
        return data;
      },
      close: () => {
        closeSync(fd);
        remove();
      },
    };
  } catch (error) {
    remove();
    throw error;
  }
}

function writeFullSize(file: TileFile, read: Rows['read']): void {
  for (let y = 0; y < file.height; y += TILE_PX) {
    const rows = Math.min(TILE_PX, file.height - y);
    file.write(0, 0, y, { width: file.width, height: rows, data: read(y, rows) });
  }
}

// Noise is the same everywhere at equal brightness: so many tiles, spread evenly, tell it.
const NOISE_TILES = 16;

/**
 * Noise curve from tiles spread over the picture.
 * @param unitPx in px of so many px a side; default 1
 */
export function measureNoise(kernels: Kernels, file: TileFile, unitPx = 1): NoiseCurve {
  const columns = Math.max(1, Math.floor(file.width / TILE_PX));
  const rows = Math.max(1, Math.floor(file.height / TILE_PX));
  const every = Math.max(1, Math.floor((columns * rows) / NOISE_TILES));
  const fine: number[] = [];
  const brightness: number[] = [];
  for (let k = 0; k < columns * rows; k += every) {
    const x = (k % columns) * TILE_PX;
    const y = Math.floor(k / columns) * TILE_PX;
    const side = CELL_PX * unitPx;
    const width = Math.floor(Math.min(TILE_PX, file.width - x) / side) * CELL_PX;
    const height = Math.floor(Math.min(TILE_PX, file.height - y) / side) * CELL_PX;
    kernels.scope(() => {
      const frame = { source: file, geometry: SAME_PLACE, tone: IDENTITY_TONE, noise: [0, 0] };
      const luma = warpFrameLuma(kernels, frame, { x: x / unitPx, y: y / unitPx, width, height }, unitPx);
      for (const v of planeView(kernels, focusBands(kernels, luma), 0)) fine.push(v);
      for (const v of planeView(kernels, meanCells(kernels, luma))) brightness.push(v);
    });
  }
  const plane = (values: number[]): Plane => ({
    width: tileCells(file, unitPx),
    height: values.length / tileCells(file, unitPx),
    data: Float32Array.from(values),
  });
  return estimateNoise(plane(fine), plane(brightness));
}

/** Cells per row of a sampled tile: tiles are stacked, so smoothing stays within rows of one tile. */
function tileCells(file: TileFile, unitPx: number): number {
  return Math.floor(Math.min(TILE_PX, file.width) / (CELL_PX * unitPx));
}

export function noiseTask({ tiles }: TaskRequest<'noise'>): TaskResponse<'noise'> {
  return measureNoise(threadKernels(), tileFile(tiles));
}
