// Type check of every package, sources and tests, each under its own rules, two at a time.
import { spawn } from 'node:child_process';
import { ROOT } from './setUp.mjs';

/** The longest first, so that no lane waits for one in the end. */
const PROJECTS = [
  'apps/web',
  'apps/server',
  'bench',
  'e2e',
  'packages/core/tsconfig.test.json',
  'packages/evaluate/tsconfig.test.json',
  'packages/evaluate',
  'packages/scene/tsconfig.test.json',
  'packages/scene',
  'packages/core',
  'packages/contract/tsconfig.test.json',
  'packages/contract',
];

function check(project) {
  return new Promise((done, fail) => {
    const compiler = spawn('npx', ['tsc', '-p', project], { cwd: ROOT, stdio: 'inherit' });
    compiler.once('error', fail);
    compiler.once('exit', (code) => done(code === 0));
  });
}

const waiting = [...PROJECTS];
const wrong = [];
const lane = async () => {
  for (let next = waiting.shift(); next; next = waiting.shift()) if (!(await check(next))) wrong.push(next);
};
await Promise.all([lane(), lane()]);
process.stdout.write(
  wrong.length === 0 ? `${PROJECTS.length} projects type-checked\n` : `type errors in ${wrong.join(', ')}\n`,
);
process.exitCode = wrong.length === 0 ? 0 : 1;
