#!/usr/bin/env node
// Entry point of the command line; the code itself is bundled into dist by `npm run build`.
import { spawn } from 'node:child_process';
import { existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

/**
 * How the C library keeps memory, which it only asks for when a process starts: large blocks go back to the system as soon as they are free, instead of
 * staying between small ones that are not. The peak is a sixth lower, for some 6 % more time (docs/performance.md).
 */
const THRIFTY = { MALLOC_ARENA_MAX: '2', MALLOC_MMAP_THRESHOLD_: '131072', MALLOC_TRIM_THRESHOLD_: '131072' };

const bundle = new URL('../dist/cli.js', import.meta.url);
if (!existsSync(bundle)) {
  process.stderr.write('blendrak: the application is not built yet; run `npm run build` in the repository root.\n');
  process.exit(2);
}
const words = process.argv.slice(2);
// Servers are watched and killed by the process that started them: they stay one. Whoever has settled memory otherwise is left alone.
const isServer = ['serve', 'demo'].includes(words[0] ?? '');
const isSettled = process.platform !== 'linux' || Object.keys(THRIFTY).some((name) => process.env[name] !== undefined);
if (isServer || isSettled || words.length === 0) await import(bundle.href);
else runThriftily();

/** Runs the command in a process of its own: it has its input, output and signals, and ends with it. */
function runThriftily() {
  const child = spawn(process.execPath, [...process.execArgv, fileURLToPath(bundle), ...words], {
    stdio: 'inherit',
    env: { ...process.env, ...THRIFTY, BLENDRAK_STARTED_BY: String(process.pid) },
  });
  // A terminal tells both of an interrupt by itself: to hear of it twice does no harm.
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => child.kill(signal));
  child.on('error', (error) => {
    process.stderr.write(`blendrak: could not be started: ${error.message}\n`);
    process.exit(2);
  });
  child.on('exit', (code, signal) => {
    if (signal === null) process.exit(code ?? 0);
    process.removeAllListeners(signal);
    process.kill(process.pid, signal);
  });
}
