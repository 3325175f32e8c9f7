// Uploads of a job: one file at a time, each acknowledged by itself; a bad one is kept in the list with the reason.
import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useRef, useState } from 'react';
import { api, wordsOf } from '../../shared/api';
import { KEYS } from '../../shared/queries';
import { newId } from '../../shared/newId';

export interface Upload {
  readonly key: string;
  readonly name: string;
  readonly state: 'waiting' | 'sending' | 'failed';
  readonly error: string;
}

export interface Uploads {
  readonly list: readonly Upload[];
  add(files: readonly File[], role: 'frame' | 'merge'): void;
  dismiss(key: string): void;
}

export function useUploads(jobId: string): Uploads {
  const client = useQueryClient();
  const [list, setList] = useState<readonly Upload[]>([]);
  const chain = useRef(Promise.resolve());

  const change = useCallback((key: string, next: Partial<Upload> | null) => {
    setList((old) =>
      next ? old.map((u) => (u.key === key ? { ...u, ...next } : u)) : old.filter((u) => u.key !== key),
    );
  }, []);

  const add = useCallback(
    (files: readonly File[], role: 'frame' | 'merge') => {
      const items = files.map((file) => ({ file, key: newId() }));
      setList((old) => [
        ...old,
        ...items.map(({ file, key }) => ({ key, name: file.name, state: 'waiting' as const, error: '' })),
      ]);
      for (const { file, key } of items) {
        chain.current = chain.current.then(async () => {
          change(key, { state: 'sending' });
          try {
            await api.uploadFile(jobId, file, role);
            change(key, null);
            await client.invalidateQueries({ queryKey: KEYS.job(jobId) });
          } catch (error) {
            change(key, { state: 'failed', error: wordsOf(error) });
          }
        });
      }
    },
    [change, client, jobId],
  );

  return { list, add, dismiss: (key) => change(key, null) };
}
