// Fills the smaller levels of a tile file from its full-size level.
import { halvePixels, type Kernels } from '@blendrak/core/kernels';
import { TILE_PX, type TileFile } from './tileFile';

/** Halves level by level, one strip of tiles at a time, so memory stays at two strips. */
export function buildPyramid(kernels: Kernels, file: TileFile): void {
  for (let l = 1; l < file.levels; l++) {
    const from = file.header.levels[l - 1]!;
    const to = file.header.levels[l]!;
    for (let y = 0; y < to.height; y += TILE_PX) {
      const rows = Math.min(TILE_PX, to.height - y);
      for (let x = 0; x < to.width; x += TILE_PX * 4) {
        const columns = Math.min(TILE_PX * 4, to.width - x);
        const block = file.read(l - 1, {
          x: 2 * x,
          y: 2 * y,
          width: Math.min(2 * columns, from.width - 2 * x),
          height: Math.min(2 * rows, from.height - 2 * y),
        });
        file.write(l, x, y, halvePixels(kernels, block));
      }
    }
  }
}
