// News where browsers cannot share a stream: asked for now and then, nothing missed, nothing made up.
import type { News } from '@blendrak/contract';
import { listenToNews } from './newsStream';

const job = (seq: number): News => ({ seq, topic: 'job', id: `j${seq}` });

it('asks for what came since, and says when it may have missed something', async () => {
  jest.useFakeTimers();
  const pages = [
    { seq: 5, news: [job(5)] },
    { seq: 7, news: [job(6), job(7)] },
    { seq: 7, news: [] },
    null,
    { seq: 2, news: null },
  ];
  const asked: string[] = [];
  const heard: (string | number)[] = [];
  globalThis.fetch = jest.fn((path: string) => {
    asked.push(path);
    const page = pages.shift();
    return page ? Promise.resolve(new Response(JSON.stringify(page))) : Promise.reject(new Error('away'));
  }) as unknown as typeof fetch;
  const stop = listenToNews({ onNews: (news) => heard.push(news.seq), onGap: () => heard.push('gap') });
  for (let k = 0; k < 5; k++) await jest.advanceTimersByTimeAsync(2000);
  stop();
  await jest.advanceTimersByTimeAsync(10_000);
  expect(heard).toEqual(['gap', 6, 7, 'gap']);
  expect(asked.map((path) => path.split('=')[1])).toEqual(['0', '5', '7', '7', '7', '2']);
  jest.useRealTimers();
});
