#!/usr/bin/env node
// Entry point of the command line; the code itself is bundled into dist by `npm run build`.
import { existsSync } from 'node:fs';

const bundle = new URL('../dist/cli.js', import.meta.url);
if (!existsSync(bundle)) {
  process.stderr.write('blendrak: the application is not built yet; run `npm run build` in the repository root.\n');
  process.exit(2);
}
await import(bundle.href);
