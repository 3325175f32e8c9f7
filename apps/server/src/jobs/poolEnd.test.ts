// A pool that is ended while its threads are still starting takes nothing else with it.
import { spawnSync } from 'node:child_process';
import { workerArguments } from '../shared/workerArguments';

/** Ends pools after ever longer times, in a process of its own: what is tested for ends the process. */
const SCRIPT = `
import Piscina from 'piscina';
for (let i = 0; i < Number(process.env.POOLS ?? 24); i++) {
  const pool = new Piscina({
    filename: process.env.BLENDRAK_WORKER, minThreads: 2, maxThreads: 2, execArgv: JSON.parse(process.env.WORKER_ARGUMENTS),
  });
  await new Promise((resolve) => setTimeout(resolve, 40 + (i * 37) % 300));
  await pool.destroy();
}
process.stdout.write('alive');
`;

it('at any time', () => {
  const { stdout, status } = spawnSync(process.execPath, ['--input-type=module', '-e', SCRIPT], {
    env: { ...process.env, WORKER_ARGUMENTS: JSON.stringify(workerArguments()) },
    encoding: 'utf8',
  });
  expect([stdout, status]).toEqual(['alive', 0]);
}, 60_000);

it('threads load no module without giving way', () => {
  expect(workerArguments().includes('--no-experimental-require-module')).toBe(
    process.allowedNodeEnvironmentFlags.has('--experimental-require-module'),
  );
});

it('a process with flags of the engine has threads', () => {
  const { stdout } = spawnSync(process.execPath, ['--max-old-space-size=2000', '--input-type=module', '-e', SCRIPT], {
    env: { ...process.env, WORKER_ARGUMENTS: JSON.stringify(workerArguments()), POOLS: '1' },
    encoding: 'utf8',
  });
  expect(stdout).toBe('alive');
}, 60_000);
