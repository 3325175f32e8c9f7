// News from the server: by a stream that all pages share, or, where browsers cannot share, by asking now and then.
import { newsPageSchema, newsSchema, type News } from '@blendrak/contract';
import { askFor } from './api';

/** What the shared worker tells its pages. */
export type FromNewsWorker = { readonly kind: 'open' } | { readonly kind: 'news'; readonly text: string };

export interface NewsListener {
  onNews(news: News): void;
  /** Anything may have changed: the server was away, or is heard for the first time. */
  onGap(): void;
}

const ASK_EVERY_MS = 2000;

/** Listens until the returned function is called. */
export function listenToNews(listener: NewsListener): () => void {
  return typeof SharedWorker === 'undefined' ? askNowAndThen(listener) : shareStream(listener);
}

function shareStream({ onNews, onGap }: NewsListener): () => void {
  const worker = new SharedWorker(new URL('../workers/newsWorker.ts', import.meta.url), {
    type: 'module',
    name: 'blendrak-news',
  });
  worker.port.onmessage = ({ data }: MessageEvent<FromNewsWorker>) => {
    if (data.kind === 'open') onGap();
    else onNews(newsSchema.parse(JSON.parse(data.text)));
  };
  const leave = (): void => {
    worker.port.postMessage('left');
    worker.port.close();
  };
  window.addEventListener('pagehide', leave, { once: true });
  return () => {
    window.removeEventListener('pagehide', leave);
    leave();
  };
}

function askNowAndThen({ onNews, onGap }: NewsListener): () => void {
  let known = 0;
  let timer: ReturnType<typeof setTimeout> | undefined;
  let stopped = false;
  const ask = async (): Promise<void> => {
    // The server may be away: the next answer tells what was missed.
    const page = await askFor(newsPageSchema, `/api/news?since=${known}`).catch(() => null);
    if (page && page.seq !== known) {
      if (page.news === null || known === 0) onGap();
      else page.news.forEach(onNews);
      known = page.seq;
    }
    if (!stopped) timer = setTimeout(() => void ask(), ASK_EVERY_MS);
  };
  void ask();
  return () => {
    stopped = true;
    clearTimeout(timer);
  };
}
