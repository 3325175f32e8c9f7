// The log as the server keeps it.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { z } from 'zod';
import {
  calibrationSchema,
  journalEntrySchema,
  kitSchema,
  logSchema,
  timeLogSchema,
  type CalibrationName,
  type JournalKind,
  type LogGrouping,
} from '@blendrak/contract';
import { askFor, json } from '../../shared/api';
import { KEYS } from '../../shared/queries';

export function useLog(by: LogGrouping) {
  return useQuery({ queryKey: ['log', by], queryFn: () => askFor(logSchema, `/api/log?by=${by}`) });
}

export function useCalibrations() {
  return useQuery({
    queryKey: ['calibrations'],
    queryFn: () => askFor(z.array(calibrationSchema), '/api/log/calibrations'),
  });
}

/** Where people's time goes. */
export function useTimeLog() {
  return useQuery({ queryKey: ['log', 'time'], queryFn: () => askFor(timeLogSchema, '/api/log/time') });
}

/** Takes over into the kit what the jobs tell. */
export function useTakeCalibration() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (name: CalibrationName) => askFor(kitSchema, '/api/log/calibrations/taken', json('POST', name)),
    onSuccess: (kit) => {
      client.setQueryData(KEYS.kit, kit);
      return client.invalidateQueries({ queryKey: ['calibrations'] });
    },
  });
}

/** What is looked for in the journal. */
export interface JournalSearch {
  readonly text: string;
  readonly kind: JournalKind | 'all';
}

/** The search as an address. */
export function journalQuery({ text, kind }: JournalSearch): string {
  const query = new URLSearchParams();
  if (text.trim() !== '') query.set('text', text.trim());
  if (kind !== 'all') query.set('kind', kind);
  return query.toString();
}

export function useJournal(search: JournalSearch) {
  const query = journalQuery(search);
  return useQuery({
    queryKey: ['journal', query],
    queryFn: () => askFor(z.array(journalEntrySchema), `/api/journal?${query}`),
    placeholderData: (before) => before,
  });
}
