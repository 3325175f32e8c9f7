// Threads for long work are as many as the machine has, or as its owner allows.
import { availableParallelism } from 'node:os';
import { longWorkThreads } from './longWorkThreads';

const before = process.env['BLENDRAK_THREADS'];
afterEach(() => {
  if (before === undefined) delete process.env['BLENDRAK_THREADS'];
  else process.env['BLENDRAK_THREADS'] = before;
});

it('are one per core unless it is said otherwise, and four at most', () => {
  delete process.env['BLENDRAK_THREADS'];
  expect(longWorkThreads()).toBe(Math.min(4, availableParallelism()));
});

it('are as many as is said', () => {
  process.env['BLENDRAK_THREADS'] = '7';
  expect(longWorkThreads()).toBe(7);
});

it.each(['0', '-1', '1.5', 'many', ''])('“%s” is refused by name', (wanted) => {
  process.env['BLENDRAK_THREADS'] = wanted;
  expect(longWorkThreads).toThrow(
    `BLENDRAK_THREADS: "${wanted}" is no number of threads. Accepted: a whole number, 1 or more.`,
  );
});
