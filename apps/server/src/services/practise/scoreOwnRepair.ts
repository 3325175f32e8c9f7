// Repair it: what a learner's own repair did, against the merge as it should be.
import { rm } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import type { Exercise } from '@blendrak/contract';
import { renderFlat } from '../../pipeline';
import { RequestError } from '../../shared/requestError';
import { MENDED, scoreRepairFiles } from '../camera/evaluate';
import type { Services } from '../context';
import { openExercise } from './exercises';
import { bothMerges, cellsOf, hiddenFaults, truthOf } from './truthOf';

/**
 * Scores the operations that are on an answered exercise's merge now.
 * @throws RequestError for an exercise that was not answered yet, or on which nothing was repaired
 */
export async function scoreOwnRepair(services: Services, id: string): Promise<Exercise> {
  const { storage, merges, pool } = services;
  openExercise(services, id);
  const solved = storage.exercises.solutionOf(id);
  if (!solved)
    throw new RequestError(409, 'This exercise is not answered yet: what is hidden would be told. Answer it first.');
  const head = storage.merges.headOf(id)!;
  const { scene, body } = merges.painted(head.id);
  if (scene.operations.length === 0)
    throw new RequestError(
      409,
      'Nothing was repaired yet. Open the exercise on the bench, repair what was hidden, then have it scored.',
    );
  const { faulty, clean } = bothMerges(services, id);
  const out = storage.folder.scratchFile('.tif');
  try {
    const { width, height } = body;
    await renderFlat(
      { scene, width, height, icc: null, out },
      { run: pool.run, parallel: pool.threads, onProgress: () => undefined },
    );
    const hidden = hiddenFaults(truthOf(services, id)).map(({ moments, ...fault }) => ({
      ...fault,
      moments: moments.map((m) => ({ ...m, file: join(dirname(clean), m.file), cells: cellsOf(m.runs) })),
    }));
    const score = await scoreRepairFiles({ faulty, clean, repaired: out }, hidden);
    const faults = hidden.flatMap(({ defect }, k) => {
      const fall = score.falls[k] ?? null;
      return fall === null ? [] : [{ defect, fall, isMended: fall >= MENDED }];
    });
    storage.exercises.amend(id, {
      ...solved.solution,
      repair: { at: new Date().toISOString(), faults, damage: score.damage },
    });
  } finally {
    await rm(out, { force: true });
  }
  services.events.publish({ topic: 'job', id });
  return openExercise(services, id);
}
