// Type check of every package, sources and tests, each under its own rules.
import { run } from './setUp.mjs';

const PROJECTS = [
  'packages/contract',
  'packages/core',
  'packages/core/tsconfig.test.json',
  'packages/scene',
  'packages/scene/tsconfig.test.json',
  'packages/evaluate',
  'packages/evaluate/tsconfig.test.json',
  'apps/server',
  'apps/web',
  'bench',
  'e2e',
];
for (const project of PROJECTS) run(`npx tsc -p ${project}`);
process.stdout.write(`${PROJECTS.length} projects type-checked\n`);
