// `npm test`: sets everything up, then lint, type check, unit tests and browser tests; the last line counts them all.
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { buildIfStale, ensureChromium, installPackages, ROOT } from './setUp.mjs';

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

function check(name, command) {
  process.stderr.write(`\n== ${name}\n`);
  const { status } = spawnSync(command, { cwd: ROOT, shell: true, stdio: 'inherit' });
  if (status === 0) passed += 1;
  else failed += 1;
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
  ensureChromium();
});
if (ready) {
  check('lint', 'npm run --silent lint');
  check('types', 'npm run --silent typecheck');
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
