// News for open pages: which job or card changed.
import { EventEmitter } from 'node:events';

export type News = { readonly jobId: string } | { readonly cardId: string };

export interface Events {
  publish(news: News): void;
  subscribe(listener: (news: News) => void): () => void;
}

export function makeEvents(): Events {
  const emitter = new EventEmitter();
  emitter.setMaxListeners(0);
  return {
    publish: (news) => emitter.emit('news', news),
    subscribe(listener) {
      emitter.on('news', listener);
      return () => emitter.off('news', listener);
    },
  };
}
