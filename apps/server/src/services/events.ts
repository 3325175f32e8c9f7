// News for open pages: what changed, by topic, numbered so that a page which asks now and then misses none.
import { EventEmitter } from 'node:events';
import type { News, NewsPage } from '@blendrak/contract';

export interface Events {
  publish(news: Omit<News, 'seq'>): void;
  subscribe(listener: (news: News) => void): () => void;
  /** What came after a number; no list when that is too long ago, or of an earlier run. */
  since(seq: number): NewsPage;
}

/** News kept for pages that ask: minutes of the busiest work. */
const KEPT = 2000;

export function makeEvents(): Events {
  const emitter = new EventEmitter();
  emitter.setMaxListeners(0);
  const kept: News[] = [];
  let seq = 0;
  return {
    publish(news) {
      const numbered = { ...news, seq: ++seq };
      kept.push(numbered);
      if (kept.length > KEPT) kept.shift();
      emitter.emit('news', numbered);
    },
    subscribe(listener) {
      emitter.on('news', listener);
      return () => emitter.off('news', listener);
    },
    since(known) {
      const oldest = kept[0]?.seq ?? seq + 1;
      const complete = known <= seq && known >= oldest - 1;
      return { seq, news: complete ? kept.filter((n) => n.seq > known) : null };
    },
  };
}
