// The longest stack there may be: more frames than a thread keeps open, merged and inspected.
import { join } from 'node:path';
import { blurredSeries } from '../../../../packages/core/src/testing/stack';
import { openPool, type RunTask } from '../jobs';
import { temporaryFolder } from '../testing/inProcess';
import { storePlaced, writePlane } from '../testing/placedPictures';
import { inParallel, inspectMerge, mergeStack, STACK_DEFAULTS } from './index';
import type { StepContext } from './types';

const FRAMES = 255;
const W = 192;
const H = 160;
const { path, clean } = temporaryFolder();
const pool = openPool();
afterAll(async () => {
  await pool.close();
  clean();
});
const steps: StepContext = { run: pool.run as RunTask, parallel: pool.threads, onProgress: () => undefined };

it(`${FRAMES} frames become one merge and are all looked at again`, async () => {
  // Four pictures of rising blur, again and again: what matters here is their number.
  const planes = blurredSeries(W, H, 5, 1, [0, 1, 2, 3]);
  const sources = await Promise.all(planes.map((plane, k) => writePlane(path, `source${k}`, plane)));
  const numbers = Array.from({ length: FRAMES }, (_, k) => k);
  // They lie on each other as they are: aligning them is not what this is about.
  const frames = await inParallel(numbers, 2, (k) =>
    storePlaced(steps.run, path, `frame${k}`, sources[k % sources.length]!),
  );
  const set = { frames, reference: 0, model: 'similarity', bendPx: null } as const;
  const tiles = join(path, 'merge.tiles');
  await mergeStack(set, set.frames[set.reference]!, STACK_DEFAULTS, tiles, steps);
  const noise = await pool.run('noise', { tiles });
  const merge = { tiles, noise };
  const { shares } = await inspectMerge({ kind: 'focus-stack', merge, width: W, height: H, frames }, steps);
  expect(shares).toHaveLength(FRAMES);
  expect(shares.reduce((sum, share) => sum + share, 0)).toBeCloseTo(1, 3);
});
