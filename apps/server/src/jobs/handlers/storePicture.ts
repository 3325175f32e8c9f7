// Task `store`: a picture file becomes a tile file.
import { estimateNoise, IDENTITY, IDENTITY_TONE, type NoiseCurve, type Plane } from '@blendrak/core/image';
import { warpFrameLuma } from '@blendrak/core/align';
import { CELL_PX, focusBands, meanCells, planeView, type Kernels } from '@blendrak/core/kernels';
import {
  buildPyramid,
  createTileFile,
  decodePicture,
  inspectPicture,
  readExif,
  TILE_PX,
  type TileFile,
} from '../../codecs';
import { threadKernels } from '../kernelHost';
import type { TaskRequest, TaskResponse } from '../protocol';
import { tileFile } from '../sources';

export async function storePicture({ path, name, out }: TaskRequest<'store'>): Promise<TaskResponse<'store'>> {
  const info = await inspectPicture(path, name);
  const exif = await readExif(path);
  const data = await decodePicture(path, info, name);
  const kernels = threadKernels();
  const file = createTileFile(out, info.width, info.height, info.bits);
  try {
    writeFullSize(file, data);
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
  }
}

function writeFullSize(file: TileFile, data: Uint8Array | Uint16Array): void {
  for (let y = 0; y < file.height; y += TILE_PX) {
    const rows = Math.min(TILE_PX, file.height - y);
    const start = y * file.width * 3;
    file.write(0, 0, y, { width: file.width, height: rows, data: data.subarray(start, start + rows * file.width * 3) });
  }
}

// Noise is the same everywhere at equal brightness: so many tiles, spread evenly, tell it.
const NOISE_TILES = 16;

/** Noise curve from tiles spread over the picture. */
export function measureNoise(kernels: Kernels, file: TileFile): NoiseCurve {
  const columns = Math.max(1, Math.floor(file.width / TILE_PX));
  const rows = Math.max(1, Math.floor(file.height / TILE_PX));
  const every = Math.max(1, Math.floor((columns * rows) / NOISE_TILES));
  const fine: number[] = [];
  const brightness: number[] = [];
  for (let k = 0; k < columns * rows; k += every) {
    const x = (k % columns) * TILE_PX;
    const y = Math.floor(k / columns) * TILE_PX;
    const width = Math.floor(Math.min(TILE_PX, file.width - x) / CELL_PX) * CELL_PX;
    const height = Math.floor(Math.min(TILE_PX, file.height - y) / CELL_PX) * CELL_PX;
    kernels.scope(() => {
      const frame = { source: file, toMerge: IDENTITY, tone: IDENTITY_TONE, noise: [0, 0] };
      const luma = warpFrameLuma(kernels, frame, { x, y, width, height });
      for (const v of planeView(kernels, focusBands(kernels, luma), 0)) fine.push(v);
      for (const v of planeView(kernels, meanCells(kernels, luma))) brightness.push(v);
    });
  }
  const plane = (values: number[]): Plane => ({
    width: tileCells(file),
    height: values.length / tileCells(file),
    data: Float32Array.from(values),
  });
  return estimateNoise(plane(fine), plane(brightness));
}

/** Cells per row of a sampled tile: tiles are stacked, so smoothing stays within rows of one tile. */
function tileCells(file: TileFile): number {
  return Math.floor(Math.min(TILE_PX, file.width) / CELL_PX);
}

export function noiseTask({ tiles }: TaskRequest<'noise'>): TaskResponse<'noise'> {
  return measureNoise(threadKernels(), tileFile(tiles));
}
