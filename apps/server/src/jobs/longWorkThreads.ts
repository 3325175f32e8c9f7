// How many threads long work is given.
import { availableParallelism } from 'node:os';
import { InputError } from '../codecs';

/** Memory grows with each. */
const MOST_BY_ITSELF = 4;

/**
 * What BLENDRAK_THREADS says, on a machine that others need too; else one per core, 4 at most.
 * @throws InputError when that is no whole number from 1
 */
export function longWorkThreads(): number {
  const wanted = process.env['BLENDRAK_THREADS'];
  if (wanted === undefined) return Math.min(MOST_BY_ITSELF, availableParallelism());
  const threads = Number(wanted);
  if (!Number.isInteger(threads) || threads < 1)
    throw new InputError('BLENDRAK_THREADS', `"${wanted}" is no number of threads`, 'a whole number, 1 or more');
  return threads;
}
