// A merge's tile file as a TIFF, for tests that look at whole pictures.
import { openTileFile } from '../codecs';
import type { Pool } from '../jobs';
import { renderFlat } from '../pipeline';

export async function flatten(pool: Pool, tiles: string, out: string): Promise<string> {
  const file = openTileFile(tiles);
  const { width, height } = file.header;
  file.close();
  const scene = { merge: { tiles, noise: [1e-5, 1e-5] }, frames: [], operations: [] };
  const context = { run: pool.run, parallel: pool.threads, onProgress: () => undefined };
  await renderFlat({ scene, width, height, icc: null, out }, context);
  return out;
}
