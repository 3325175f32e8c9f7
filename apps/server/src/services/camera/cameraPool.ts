// The threads of the simulated camera.
import { fileURLToPath } from 'node:url';
import Piscina from 'piscina';
import { longWorkThreads } from '../../jobs';
import { workerArguments } from '../../shared/workerArguments';
import type { CameraTasks } from './cameraWorker';

export interface CameraPool {
  readonly threads: number;
  run<K extends keyof CameraTasks>(
    name: K,
    request: Parameters<CameraTasks[K]>[0],
    signal?: AbortSignal,
  ): Promise<Awaited<ReturnType<CameraTasks[K]>>>;
  close(): Promise<void>;
}

/** Two threads at most by default: the camera must leave room for the rest on a small machine. */
export function openCamera(threads = Math.min(2, longWorkThreads())): CameraPool {
  const pool = new Piscina({
    // Tests run from the sources: they name the built worker by BLENDRAK_CAMERA.
    filename: process.env['BLENDRAK_CAMERA'] ?? fileURLToPath(new URL('./cameraWorker.js', import.meta.url)),
    execArgv: workerArguments(),
    minThreads: 1,
    maxThreads: threads,
  });
  return {
    threads,
    run: <K extends keyof CameraTasks>(name: K, request: Parameters<CameraTasks[K]>[0], signal?: AbortSignal) =>
      pool.run({ name, request }, signal ? { signal } : {}) as Promise<Awaited<ReturnType<CameraTasks[K]>>>,
    close: () => pool.destroy(),
  };
}
