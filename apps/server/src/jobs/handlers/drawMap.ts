// A map of a merge's evidence as a tile: byte cells, in between where a cell is larger than a px, their mean where it is smaller.
import { closeSync, openSync, readSync } from 'node:fs';
import { CELL_PX, type PixelBlock } from '@blendrak/core/kernels';
import type { TileRequest } from '../../tiles';
import type { TileSource } from '../protocol';

/**
 * @param source plane of a file of byte planes
 * @returns grey RGB, 8 bits
 */
export function drawMap(
  { file, plane, width: across, height: down }: Extract<TileSource, { kind: 'map' }>,
  { region, width, height }: TileRequest,
): PixelBlock {
  const step = region.width / width / CELL_PX;
  const first = Math.max(0, Math.floor(region.y / CELL_PX) - 1);
  const last = Math.min(down, Math.ceil((region.y + region.height) / CELL_PX) + 1);
  const rows = readRows(file, plane * across * down + first * across, Math.max(1, last - first) * across);
  const at = (x: number, y: number): number =>
    rows[(clamp(y, first, last - 1) - first) * across + clamp(x, 0, across - 1)]!;
  const value = step > 1 ? meanOver(at, step) : between(at);
  const data = new Uint8Array(width * height * 3);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const v = value(region.x / CELL_PX + (x + 0.5) * step, region.y / CELL_PX + (y + 0.5) * step);
      data.fill(v, 3 * (y * width + x), 3 * (y * width + x) + 3);
    }
  }
  return { width, height, data };
}

type Cells = (x: number, y: number) => number;

/** Bilinear; whole numbers are the cells' corners. */
function between(at: Cells): Cells {
  return (x, y) => {
    const [cx, cy] = [Math.floor(x - 0.5), Math.floor(y - 0.5)];
    const [fx, fy] = [x - 0.5 - cx, y - 0.5 - cy];
    const upper = at(cx, cy) * (1 - fx) + at(cx + 1, cy) * fx;
    const lower = at(cx, cy + 1) * (1 - fx) + at(cx + 1, cy + 1) * fx;
    return Math.round(upper * (1 - fy) + lower * fy);
  };
}

function meanOver(at: Cells, step: number): Cells {
  const n = Math.ceil(step);
  return (x, y) => {
    let sum = 0;
    for (let j = 0; j < n; j++)
      for (let i = 0; i < n; i++)
        sum += at(Math.floor(x + ((i + 0.5) / n - 0.5) * step), Math.floor(y + ((j + 0.5) / n - 0.5) * step));
    return Math.round(sum / (n * n));
  };
}

function readRows(path: string, position: number, length: number): Uint8Array {
  const file = openSync(path, 'r');
  try {
    const rows = new Uint8Array(length);
    const read = readSync(file, rows, 0, length, position);
    if (read < length) throw new Error(`the maps in ${path} end early`);
    return rows;
  } finally {
    closeSync(file);
  }
}

function clamp(v: number, least: number, most: number): number {
  return Math.min(most, Math.max(least, v));
}
