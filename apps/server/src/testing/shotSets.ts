// Small sets photographed with the simulated camera and stored, for tests of the pipeline.
import { rmSync } from 'node:fs';
import { basename, join } from 'node:path';
import { defaultSettings, frameSize, type Subject } from '@blendrak/scene';
import { openPool, type Pool } from '../jobs';
import type { SetPicture, StepContext } from '../pipeline';
import { openCamera, photograph, type CameraPool, type Photographed } from '../services/camera';
import { temporaryFolder } from './inProcess';

export interface ShotSets {
  /** @param longSidePx of the frames; default 560 */
  shoot(
    subject: Subject,
    frames: number,
    over?: Partial<ReturnType<typeof defaultSettings>>,
    longSidePx?: number,
  ): Promise<Photographed>;
  /** Reads a file into tiles. */
  store(path: string): Promise<SetPicture>;
  /** Workers keep files open by their path: each merge has one of its own. */
  freshTiles(): string;
}

export interface ShootingRange extends ShotSets {
  /** A temporary folder that holds everything. */
  readonly root: string;
  readonly camera: CameraPool;
  readonly pool: Pool;
  /** What a step of the pipeline works with. */
  steps(): StepContext;
}

/** A camera, a pool of workers and a folder for the tests of one file; all are closed and removed after them. */
export function shootingRange(): ShootingRange {
  const { path: root, clean } = temporaryFolder();
  const camera = openCamera();
  const pool = openPool();
  afterAll(async () => {
    await Promise.all([camera.close(), pool.close()]);
    clean();
  });
  const steps = (): StepContext => ({ run: pool.run, parallel: pool.threads, onProgress: () => undefined });
  return { ...shotSets(root, camera, pool), root, camera, pool, steps };
}

/** @param root folder that holds everything */
function shotSets(root: string, camera: CameraPool, pool: Pool): ShotSets {
  let made = 0;
  return {
    async shoot(subject, frames, over = {}, longSidePx = 560) {
      const folder = join(root, `${subject}${++made}`);
      const rawFolder = join(root, `raw${made}`);
      const settings = { ...defaultSettings(subject), ...over };
      const assignment = { subject, seed: 5, frames, ...frameSize(subject, longSidePx), settings };
      const how = { format: 'jpeg' as const, bits: 8 as const, rawFolder, onProgress: () => undefined };
      const set = await photograph(camera, assignment, folder, how);
      rmSync(rawFolder, { recursive: true });
      return set;
    },
    async store(path) {
      const name = basename(path);
      const tiles = join(root, `${name}-${++made}.tiles`);
      const info = await pool.run('store', { path, name, out: tiles });
      const { width, height, bits, noise, exif } = info;
      return { name, tiles, width, height, bits, noise, exif };
    },
    freshTiles: () => join(root, `merge${++made}.tiles`),
  };
}
