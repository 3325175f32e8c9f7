// Bundles the server, its workers and the command line, our own workspaces with them. Packages that every thread loads are bundled in as well:
// each start reads a file instead of hundreds.
import { copyFileSync, existsSync, mkdirSync, rmSync } from 'node:fs';
import { build } from 'esbuild';

// Chunks carry hashes in their names: old ones would stay for ever.
rmSync('dist', { recursive: true, force: true });
mkdirSync('dist', { recursive: true });
const entries = {
  cli: 'src/cli/main.ts',
  worker: 'src/jobs/worker.ts',
  conductor: 'src/services/conductor/conductorThread.ts',
  cameraWorker: 'src/services/camera/cameraWorker.ts',
};
await build({
  entryPoints: Object.fromEntries(Object.entries(entries).filter(([, path]) => existsSync(path))),
  outdir: 'dist',
  bundle: true,
  splitting: true,
  platform: 'node',
  target: 'node20',
  format: 'esm',
  sourcemap: true,
  logLevel: 'warning',
  loader: { '.sql': 'text' },
  external: [
    // With parts of their own beside them: binaries, fonts, workers.
    ...['better-sqlite3', 'pdfkit', 'pino', 'piscina', 'sharp'],
    // Not modules: they ask for parts of Node in a way that a bundle of modules does not know.
    ...['commander', 'exifr', 'express', 'helmet', 'multer', 'pino-http', 'yauzl'],
  ],
});
copyFileSync('../../packages/core/build/kernels.wasm', 'dist/kernels.wasm');
