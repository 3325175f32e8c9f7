// Bundles the server, its workers and the command line; packages stay external, our own workspaces are bundled in.
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
    'better-sqlite3',
    'commander',
    'exifr',
    'express',
    'fast-xml-parser',
    'helmet',
    'ml-matrix',
    'multer',
    'p-map',
    'pdfkit',
    'pino',
    'pino-http',
    'piscina',
    'sharp',
    'yauzl',
    'zod',
  ],
});
copyFileSync('../../packages/core/build/kernels.wasm', 'dist/kernels.wasm');
