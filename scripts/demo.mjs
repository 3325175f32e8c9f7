// `npm run demo`: sets everything up, then starts the application with demo data.
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { buildIfStale, installPackages, ROOT } from './setUp.mjs';

installPackages();
buildIfStale();
const server = spawn(process.execPath, [join(ROOT, 'apps/server/bin/blendrak.js'), 'demo', ...process.argv.slice(2)], {
  cwd: ROOT,
  stdio: 'inherit',
});
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal));
server.on('exit', (code) => process.exit(code ?? 0));
