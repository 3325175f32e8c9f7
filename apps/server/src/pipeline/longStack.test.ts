// The longest stack there may be: more frames than a thread keeps open, merged and inspected.
import { join } from 'node:path';
import { SAME_PLACE } from '@blendrak/core/frame';
import sharp from 'sharp';
import { blurredSeries } from '../../../../packages/core/src/testing/stack';
import { greyPixels } from '../../../../packages/core/src/testing/pictures';
import { IDENTITY_TONE } from '@blendrak/core/image';
import { openPool, type RunTask } from '../jobs';
import { temporaryFolder } from '../testing/inProcess';
import { inParallel, inspectMerge, mergeStack, STACK_DEFAULTS } from './index';
import type { PlacedFrame, StepContext } from './types';

const FRAMES = 255;
const W = 192;
const H = 160;
const { path, clean } = temporaryFolder();
const pool = openPool({ threads: 2 });
afterAll(async () => {
  await pool.close();
  clean();
});
const steps: StepContext = { run: pool.run as RunTask, parallel: 2, onProgress: () => undefined };

it(`${FRAMES} frames become one merge and are all looked at again`, async () => {
  // Four pictures of rising blur, again and again: what matters here is their number.
  const planes = blurredSeries(W, H, 5, 1, [0, 1, 2, 3]);
  const sources = await Promise.all(
    planes.map(async (plane, k) => {
      const file = join(path, `source${k}.png`);
      const raw = { width: W, height: H, channels: 3 as const };
      await sharp(greyPixels(plane, 8).data as Uint8Array, { raw })
        .png()
        .toFile(file);
      return file;
    }),
  );
  const numbers = Array.from({ length: FRAMES }, (_, k) => k);
  const frames = await inParallel(numbers, 2, async (k): Promise<PlacedFrame> => {
    const tiles = join(path, `${k}.tiles`);
    const name = `frame${k}.png`;
    const info = await pool.run('store', { path: sources[k % sources.length]!, name, out: tiles });
    const { width, height, bits, noise } = info;
    // They lie on each other as they are: aligning them is not what this is about.
    const place = { geometry: SAME_PLACE, tone: IDENTITY_TONE, residualPx: 0, correlation: 1 };
    return { name, tiles, width, height, bits, noise, exif: null, ...place };
  });
  const set = { frames, reference: 0, model: 'similarity', bendPx: null } as const;
  const tiles = join(path, 'merge.tiles');
  await mergeStack(set, STACK_DEFAULTS, tiles, steps);
  const noise = await pool.run('noise', { tiles });
  const { shares } = await inspectMerge('focus-stack', { tiles, noise }, W, H, set.frames, steps);
  expect(shares).toHaveLength(FRAMES);
  expect(shares.reduce((sum, share) => sum + share, 0)).toBeCloseTo(1, 3);
});
