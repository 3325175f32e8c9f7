// What both commands of the README need: packages installed and the application built, each only when missing or stale.
import { execSync, spawnSync } from 'node:child_process';
import { existsSync, readdirSync, statSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const ROOT = join(dirname(fileURLToPath(import.meta.url)), '..');

/** Runs a command and stops on failure, with its output shown only then (unless `loud`). */
export function run(command, { loud = false } = {}) {
  const result = spawnSync(command, {
    cwd: ROOT,
    shell: true,
    stdio: loud ? 'inherit' : 'pipe',
    encoding: 'utf8',
    maxBuffer: 1e9,
  });
  if (result.status !== 0) {
    if (!loud) process.stderr.write(`${result.stdout}\n${result.stderr}\n`);
    throw new Error(`${command} failed with code ${result.status}`);
  }
  return result.stdout;
}

export function installPackages() {
  const stamp = join(ROOT, 'node_modules/.package-lock.json');
  if (existsSync(stamp) && statSync(stamp).mtimeMs >= statSync(join(ROOT, 'package-lock.json')).mtimeMs) return;
  process.stderr.write('Installing packages (a few minutes the first time) …\n');
  run('npm ci --no-audit --no-fund');
}

function newest(folder) {
  let latest = 0;
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    if (['node_modules', 'dist', 'build'].includes(entry.name)) continue;
    const path = join(folder, entry.name);
    latest = Math.max(latest, entry.isDirectory() ? newest(path) : statSync(path).mtimeMs);
  }
  return latest;
}

export function buildIfStale() {
  const outputs = ['packages/core/build/kernels.wasm', 'apps/server/dist/cli.js', 'apps/web/dist/index.html'].map((p) =>
    join(ROOT, p),
  );
  const sources = Math.max(newest(join(ROOT, 'packages')), newest(join(ROOT, 'apps')));
  if (outputs.every((p) => existsSync(p)) && Math.min(...outputs.map((p) => statSync(p).mtimeMs)) >= sources) return;
  process.stderr.write('Building …\n');
  run('npm run build');
}

/** Debian's Chromium for the browser tests, and GNU parallel for those of many sets at once. */
export function ensureDebianPackages() {
  if (['chromium', 'parallel'].every((name) => existsSync(`/usr/bin/${name}`))) return;
  process.stderr.write('Installing Chromium and GNU parallel …\n');
  const sudo = process.getuid?.() === 0 ? '' : 'sudo ';
  execSync(`${sudo}apt-get update -qq && ${sudo}apt-get install -y -qq chromium parallel`, {
    stdio: 'pipe',
    env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
  });
}
