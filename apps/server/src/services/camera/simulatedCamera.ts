// The simulated camera as the server uses it: two threads that photograph, one that composes.
import { mkdirSync, renameSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import Piscina from 'piscina';
import type { ComposeRequest, ShootRequest, ShootResult } from './cameraWorker';

export interface DemoStack {
  readonly frames: readonly string[];
  readonly merge: string;
}

export interface DemoOptions {
  readonly seed: number;
  readonly width: number;
  readonly height: number;
  /** Frames delivered; one more is photographed and left out, so that the set has a gap. */
  readonly frames: number;
}

/**
 * Photographs the lamp's gear train and composes a merge with seeded faults.
 * @param folder files are written here; frame01.jpg …, merge.tif
 * @param onProgress share done and words
 */
export async function shootDemoStack(
  folder: string,
  options: DemoOptions,
  onProgress: (share: number, message: string) => void,
  signal: AbortSignal,
): Promise<DemoStack> {
  mkdirSync(folder, { recursive: true });
  const { seed, width, height } = options;
  const count = options.frames + 1;
  const missing = Math.floor(count * 0.6);
  const threads = 2;
  const pool = new Piscina({
    filename: fileURLToPath(new URL('./cameraWorker.js', import.meta.url)),
    minThreads: 1,
    maxThreads: threads,
  });
  try {
    let done = 0;
    onProgress(0.02, 'painting the scene');
    const part = async (indices: readonly number[]): Promise<ShootResult> => {
      const shots = indices.map((index) => ({
        index,
        path: join(folder, `shot${String(index).padStart(2, '0')}.jpg`),
      }));
      const request: ShootRequest = { action: 'shoot', seed, width, height, count, shots };
      const result = (await pool.run(request, { signal })) as ShootResult;
      done += indices.length;
      onProgress((0.85 * done) / count, `${done} of ${count} frames photographed`);
      return result;
    };
    const order = Array.from({ length: count }, (_, k) => k);
    const results = await Promise.all(
      Array.from({ length: threads }, (_, t) => part(order.filter((k) => k % threads === t))),
    );
    const shot = results.flatMap((r) => r.frames).sort((a, b) => a.index - b.index);
    const frames = order
      .filter((k) => k !== missing)
      .map((k, i) => {
        const path = join(folder, `frame${String(i + 1).padStart(2, '0')}.jpg`);
        renameSync(join(folder, `shot${String(k).padStart(2, '0')}.jpg`), path);
        return path;
      });
    rmSync(join(folder, `shot${String(missing).padStart(2, '0')}.jpg`));
    const merge = join(folder, 'merge made elsewhere.tif');
    onProgress(0.86, 'composing the merge');
    const compose: ComposeRequest = {
      action: 'compose',
      seed,
      width,
      height,
      count,
      depthMm: results[0]!.depthMm,
      frames: shot,
      missing,
      paths: frames,
      out: merge,
    };
    await pool.run(compose, { signal });
    return { frames, merge };
  } finally {
    await pool.destroy();
  }
}
