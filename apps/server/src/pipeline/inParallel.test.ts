// Bounded parallel work: in order, never more than allowed at once, and no more begun after a failure.
import { inParallel } from './types';

const pause = (ms: number): Promise<void> => new Promise((done) => setTimeout(done, ms));

it('gives results in the order of the items, with no more in flight than allowed', async () => {
  let [now, most] = [0, 0];
  const results = await inParallel([30, 5, 20, 1, 10], 2, async (ms, k) => {
    most = Math.max(most, ++now);
    await pause(ms);
    now -= 1;
    return `${k}:${ms}`;
  });
  expect([results, most]).toEqual([['0:30', '1:5', '2:20', '3:1', '4:10'], 2]);
});

it('begins no more after the first failure, and fails with it', async () => {
  const begun: number[] = [];
  const work = inParallel([0, 1, 2, 3, 4, 5], 2, async (k) => {
    begun.push(k);
    await pause(k === 1 ? 5 : 20);
    if (k === 1) throw new Error('the second is bad');
  });
  await expect(work).rejects.toThrow('the second is bad');
  await pause(60);
  expect(begun).toEqual([0, 1]);
});

it('of nothing makes nothing', async () => {
  expect(await inParallel([], 4, () => Promise.reject(new Error('never')))).toEqual([]);
});
