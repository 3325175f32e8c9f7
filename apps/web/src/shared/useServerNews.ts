// Listens to the server and refreshes what changed.
import { useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { z } from 'zod';
import { KEYS } from './queries';

const newsSchema = z.union([z.object({ jobId: z.string() }), z.object({ cardId: z.string() })]);

/** Keeps the query cache fresh for as long as the page is open; reconnects by itself after a restart of the server. */
export function useServerNews(): void {
  const client = useQueryClient();
  useEffect(() => {
    const source = new EventSource('/api/events');
    const refresh = (jobId?: string): void => {
      void client.invalidateQueries({ queryKey: KEYS.jobs });
      void client.invalidateQueries({ queryKey: jobId ? KEYS.job(jobId) : ['job'] });
      void client.invalidateQueries({ queryKey: ['merge'] });
    };
    const refreshCards = (cardId?: string): void => {
      void client.invalidateQueries({ queryKey: KEYS.cards });
      void client.invalidateQueries({ queryKey: cardId ? KEYS.card(cardId) : ['card'] });
    };
    source.onmessage = (event: MessageEvent<string>) => {
      const news = newsSchema.parse(JSON.parse(event.data));
      if ('jobId' in news) refresh(news.jobId);
      else refreshCards(news.cardId);
    };
    source.onopen = () => {
      refresh();
      refreshCards();
    };
    return () => source.close();
  }, [client]);
}
