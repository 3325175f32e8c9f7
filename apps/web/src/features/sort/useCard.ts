// Cards: server data, and editing a sorting with undo.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useSnackbar } from 'notistack';
import { useCallback, useRef } from 'react';
import { z } from 'zod';
import {
  cardSchema,
  cardSummarySchema,
  jobSummarySchema,
  type Card,
  type CardSorting,
  type CardSummary,
  type JobSummary,
} from '@blendrak/contract';
import { ask, askFor, json, wordsOf } from '../../shared/api';
import { KEYS } from '../../shared/queries';

const cardApi = {
  cards: (): Promise<CardSummary[]> => askFor(z.array(cardSummarySchema), '/api/cards'),
  card: (id: string): Promise<Card> => askFor(cardSchema, `/api/cards/${id}`),
  add: (name: string, folder: string | null): Promise<Card> =>
    askFor(cardSchema, '/api/cards', json('POST', { name, folder })),
  remove: (id: string) => ask(`/api/cards/${id}`, { method: 'DELETE' }),
  upload: (id: string, file: File) => {
    const form = new FormData();
    form.append('file', file);
    return ask(`/api/cards/${id}/files`, { method: 'POST', body: form });
  },
  sort: (id: string): Promise<Card> => askFor(cardSchema, `/api/cards/${id}/sort`, { method: 'POST' }),
  change: (id: string, sorting: CardSorting): Promise<Card> =>
    askFor(cardSchema, `/api/cards/${id}/sorting`, json('PUT', sorting)),
  makeJob: (id: string, setId: string): Promise<JobSummary> =>
    askFor(jobSummarySchema, `/api/cards/${id}/sets/${setId}/job`, { method: 'POST' }),
};

export function thumbUrl(fileId: string): string {
  return `/api/card-files/${fileId}/thumb.jpg`;
}

export function useCards() {
  return useQuery({ queryKey: KEYS.cards, queryFn: cardApi.cards });
}

export function useCard(id: string) {
  return useQuery({ queryKey: KEYS.card(id), queryFn: () => cardApi.card(id) });
}

/** Adds a card and the files dropped for it, one after the other; each is acknowledged by itself. */
export function useAddCard(onDone: (card: Card) => void) {
  const { enqueueSnackbar } = useSnackbar();
  return useMutation({
    mutationFn: async ({ name, folder, files }: { name: string; folder: string | null; files: readonly File[] }) => {
      const card = await cardApi.add(name, folder);
      for (const file of files) {
        await cardApi.upload(card.summary.id, file).catch((error: unknown) => {
          enqueueSnackbar(`${file.name}: ${wordsOf(error)}`, { variant: 'error' });
        });
      }
      return files.length > 0 ? cardApi.sort(card.summary.id) : card;
    },
    onSuccess: onDone,
    onError: (error) => enqueueSnackbar(wordsOf(error), { variant: 'error' }),
  });
}

export function useRemoveCard() {
  const client = useQueryClient();
  const { enqueueSnackbar } = useSnackbar();
  return useMutation({
    mutationFn: cardApi.remove,
    onSuccess: () => client.invalidateQueries({ queryKey: KEYS.cards }),
    onError: (error) => enqueueSnackbar(wordsOf(error), { variant: 'error' }),
  });
}

export interface SortingEditor {
  edit(change: (sorting: CardSorting) => CardSorting): void;
  undo(): void;
  sortAgain(): void;
  makeJob(setId: string): Promise<JobSummary | null>;
}

/** Edits show at once and are written in order; a refusal brings back what the server has. */
export function useSortingEditor(card: Card): SortingEditor {
  const client = useQueryClient();
  const { enqueueSnackbar } = useSnackbar();
  const past = useRef<CardSorting[]>([]);
  const line = useRef<Promise<unknown>>(Promise.resolve());
  const key = KEYS.card(card.summary.id);
  const complain = useCallback(
    (error: unknown) => enqueueSnackbar(wordsOf(error), { variant: 'error' }),
    [enqueueSnackbar],
  );

  const write = (sorting: CardSorting): void => {
    client.setQueryData<Card>(key, (now) => now && { ...now, sorting });
    line.current = line.current
      .then(() => cardApi.change(card.summary.id, sorting))
      .catch((error: unknown) => {
        complain(error);
        return client.invalidateQueries({ queryKey: key });
      });
  };
  const current = (): CardSorting | null => client.getQueryData<Card>(key)?.sorting ?? card.sorting;
  return {
    edit(change) {
      const now = current();
      if (!now) return;
      past.current.push(now);
      write(change(now));
    },
    undo() {
      const before = past.current.pop();
      if (before) write(before);
    },
    sortAgain() {
      past.current = [];
      cardApi.sort(card.summary.id).then((c) => client.setQueryData(key, c), complain);
    },
    async makeJob(setId) {
      await line.current;
      try {
        const job = await cardApi.makeJob(card.summary.id, setId);
        await client.invalidateQueries({ queryKey: key });
        return job;
      } catch (error) {
        complain(error);
        return null;
      }
    },
  };
}
