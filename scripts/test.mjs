// `npm test`: sets everything up, then lint, type check, unit tests and browser tests; the last line counts them all.
import { Buffer } from 'node:buffer';
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { buildIfStale, ensureDebianPackages, installPackages, ROOT } from './setUp.mjs';

let passed = 0;
let failed = 0;

function attempt(name, work) {
  try {
    work();
  } catch (error) {
    failed += 1;
    process.stderr.write(`${name}: ${error.message}\n`);
    return false;
  }
  return true;
}

/** Runs checks side by side; what each says comes when it has ended. */
async function check(...checks) {
  await Promise.all(
    checks.map(
      ([name, command]) =>
        new Promise((done) => {
          const said = [];
          const child = spawn(command, { cwd: ROOT, shell: true, stdio: ['ignore', 'pipe', 'pipe'] });
          for (const stream of [child.stdout, child.stderr]) stream.on('data', (text) => said.push(text));
          child.once('close', (status) => {
            process.stderr.write(`\n== ${name}\n${Buffer.concat(said)}`);
            if (status === 0) passed += 1;
            else failed += 1;
            done();
          });
        }),
    ),
  );
}

/** Runs a test program that writes its results as JSON and adds its counts; no results count as one failure. */
function suite(name, command, file, count) {
  process.stderr.write(`\n== ${name}\n`);
  const path = join(ROOT, file);
  rmSync(path, { force: true });
  mkdirSync(dirname(path), { recursive: true });
  const { status } = spawnSync(command, { cwd: ROOT, shell: true, stdio: 'inherit' });
  if (!existsSync(path)) {
    failed += 1;
    return;
  }
  const result = count(JSON.parse(readFileSync(path, 'utf8')));
  passed += result.passed;
  failed += result.failed;
  if (status !== 0 && result.failed === 0) failed += 1;
}

const ready = attempt('set-up', () => {
  installPackages();
  buildIfStale();
  ensureDebianPackages();
});
if (ready) {
  await check(['lint', 'npm run --silent lint'], ['types', 'npm run --silent typecheck']);
  suite('unit tests', 'npx jest --json --outputFile=test-results/unit.json', 'test-results/unit.json', (r) => ({
    passed: r.numPassedTests,
    failed: r.numFailedTests + r.numRuntimeErrorTestSuites,
  }));
  suite('browser tests', 'npm run --silent e2e', 'test-results/e2e.json', (r) => ({
    passed: r.stats.expected,
    failed: r.stats.unexpected + r.stats.flaky + (r.errors?.length ?? 0),
  }));
}
process.stdout.write(`${passed} passed, ${failed} failed\n`);
process.exit(failed === 0 ? 0 : 1);
