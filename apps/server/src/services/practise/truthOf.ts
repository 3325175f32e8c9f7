// What the camera knows of an exercise: where its files lie, and what was hidden in it.
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { truthSchema, type Truth } from '@blendrak/contract';
import { RequestError } from '../../shared/requestError';
import type { Services } from '../context';

export type HiddenFault = Truth['faults'][number] & { readonly cells: readonly number[] };

/** The truth about an exercise's merge. */
export function truthOf({ storage }: Services, id: string): Truth {
  return truthSchema.parse(JSON.parse(readFileSync(join(storage.folder.delivered(id), 'truth.json'), 'utf8')));
}

/** Faults that a learner can be asked for: none that every merge of the set has. */
export function hiddenFaults({ faults }: Truth): HiddenFault[] {
  return faults.filter((f) => !f.natural).map((f) => ({ ...f, cells: cellsOf(f.runs) }));
}

export function cellsOf(runs: Truth['unavoidable']): number[] {
  return runs.flatMap(([start, n]) => Array.from({ length: n }, (_, k) => start + k));
}

/**
 * The merge as it was handed in, and as it should be.
 * @throws RequestError while the exercise is being made
 */
export function bothMerges({ storage }: Services, id: string): { readonly faulty: string; readonly clean: string } {
  const merge = storage.pictures.listByJob(id).find((p) => p.role === 'merge');
  if (!merge) throw new RequestError(409, 'This exercise is still being made.');
  return { faulty: merge.source_path, clean: join(storage.folder.delivered(id), 'clean.tif') };
}
